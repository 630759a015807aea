import { usualLimit } from '@crow-lane/core/check/check';
import type { Report } from '@crow-lane/core/check/report';
import { positions } from '@crow-lane/core/document/read';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { write } from '@crow-lane/core/document/write';
import { junit } from '@crow-lane/core/formats/junit';
import { reportHtml } from '@crow-lane/core/formats/report-html';
import { sarif } from '@crow-lane/core/formats/sarif';
import { version } from '../../../../../../package.json';
import { flowAt } from '$lib/server/flows.ts';
import { beginCheck, reportOfJob } from '$lib/server/jobs.ts';
import { findReport } from '$lib/server/reports.ts';
import { problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

type Made = { body: string; type: string };
const formats: Record<string, (document: FlowDocument, report: Report, revision: number) => Made> = {
  html: (document, report, revision) => ({
    body: reportHtml(document, report, { revision, date: new Date() }),
    type: 'text/html; charset=utf-8'
  }),
  junit: (document, report) => ({ body: junit([{ report, file: document.name }]), type: 'application/xml; charset=utf-8' }),
  sarif: (document, report) => {
    const file = { file: `${document.name}.crow.json`, document, report, place: positions(write(document)) };
    return { body: JSON.stringify(sarif([file], version), null, 2), type: 'application/sarif+json; charset=utf-8' };
  },
  json: (_document, report) => ({ body: JSON.stringify(report, null, 2), type: 'application/json; charset=utf-8' })
};

/** The findings on a revision for others: a page to print, SARIF, JUnit or the report itself. It is checked where it was not. */
export const GET: RequestHandler = async ({ params, url }) => {
  const format = url.searchParams.get('format') ?? 'html';
  if (!Object.hasOwn(formats, format)) return problem(400, `"format" is one of ${Object.keys(formats).join(', ')}.`);
  const asked = url.searchParams.get('revision');
  const revision = asked === null ? undefined : Number(asked);
  if (revision !== undefined && !Number.isInteger(revision)) return problem(400, '"revision" is the number of a revision.');
  const flow = await flowAt(params.id, revision);
  if (!flow) return problem(404, 'There is no such flow, or no such revision of it.');
  let report = await findReport(params.id, flow.revision, 0);
  if (!report) {
    const job = beginCheck(params.id, flow.revision, flow.document, usualLimit);
    if (!job) return problem(503, 'Too many checks are waiting. Try again in a moment.');
    report = await reportOfJob(job.id);
    if (!report) return problem(500, 'The flow could not be checked.');
  }
  const { body, type } = formats[format]!(flow.document, report, flow.revision);
  return new Response(body, {
    headers: {
      'content-type': type,
      // the page has its own style and nothing else
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'"
    }
  });
};
