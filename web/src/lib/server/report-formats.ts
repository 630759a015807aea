/** The findings on a revision in forms for others. */
import type { Report } from '@crow-lane/core/check/report';
import { positions } from '@crow-lane/core/document/read';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { write } from '@crow-lane/core/document/write';
import { junit } from '@crow-lane/core/formats/junit';
import { reportHtml } from '@crow-lane/core/formats/report-html';
import { sarif } from '@crow-lane/core/formats/sarif';
import { version } from '../../../package.json';

export type ReportFormat = 'html' | 'junit' | 'sarif' | 'json';

export const reportFormats: Record<
  ReportFormat,
  { type: string; make: (document: FlowDocument, report: Report, revision: number) => string }
> = {
  html: {
    type: 'text/html; charset=utf-8',
    make: (document, report, revision) => reportHtml(document, report, { revision, date: new Date() })
  },
  junit: {
    type: 'application/xml; charset=utf-8',
    make: (document, report) => junit([{ report, file: document.name }])
  },
  sarif: {
    type: 'application/sarif+json; charset=utf-8',
    make(document, report) {
      const file = { file: `${document.name}.crow.json`, document, report, place: positions(write(document)) };
      return JSON.stringify(sarif([file], version), null, 2);
    }
  },
  json: { type: 'application/json; charset=utf-8', make: (_document, report) => JSON.stringify(report, null, 2) }
};
