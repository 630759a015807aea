/** How a report is written in each of its forms (report-list.ts). */
import { junit } from './junit.ts';
import { reportHtml } from './report-html.ts';
import type { ReportFormat } from './report-list.ts';
import { vectorsJsonl } from './vectors.ts';
import { sarif, type CheckedFile } from './sarif.ts';

/** What is told of the report itself: when it was made, by which version of the program, of which revision of a flow. */
interface Made {
  date: Date;
  version: string;
  revision?: number;
  /** Several files were asked for, however many of them could be read. */
  several?: boolean;
}

/** One or several files, checked, as text. */
export const writeReport: Record<ReportFormat, (files: CheckedFile[], made: Made) => string> = {
  html: ([file], { date, revision }) =>
    reportHtml(file!.document, file!.report, {
      date,
      ...(revision ? { revision } : {}),
      ...(file!.causes && { causes: file!.causes })
    }),
  sarif: (files, { version }) => JSON.stringify(sarif(files, version), null, 2),
  junit: (files) => junit(files).trimEnd(),
  vectors: (files) => files.map(({ document, report }) => vectorsJsonl(document, report)).join('\n'),
  json: (files, { several }) => {
    const reports = files.map(({ report }) => report);
    return JSON.stringify(several ? reports : (reports[0] ?? null), null, 2);
  }
};
