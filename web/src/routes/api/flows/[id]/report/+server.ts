import { usualLimit } from '@crow-lane/core/check/explored';
import { answering, numberIn, problem } from '$lib/server/answer.ts';
import { flowAt } from '$lib/server/history.ts';
import { beginCheck, followJob } from '$lib/server/jobs.ts';
import { reportFormatNames, reportFormats, type ReportFormat } from '@crow-lane/core/formats/report-list';
import { reportPolicy } from '$lib/server/formats.ts';
import { findReport } from '$lib/server/reports.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** The findings on a revision for others: a page to print, SARIF, JUnit or the report itself. It is checked where it was not. */
export const GET: RequestHandler = answering(async ({ params, url, request }) => {
  const format = (url.searchParams.get('format') ?? 'html') as ReportFormat;
  if (!Object.hasOwn(reportFormats, format)) return problem(400, `"format" is one of ${reportFormatNames.join(', ')}.`);
  const flow = await flowAt(params.id, numberIn(url, 'revision'));
  if (!flow) return problem(404, 'There is no such flow, or no such revision of it.');
  let report = await findReport(params.id, flow.revision);
  if (report === undefined) {
    const job = await beginCheck(params.id, flow.revision, flow.places, usualLimit);
    if (!job) return problem(503, 'Too many checks are waiting. Try again in a moment.');
    const ended = await followJob(job.id, request.signal);
    report = await findReport(params.id, flow.revision);
    if (report === undefined) return problem(500, `The flow could not be checked. ${ended?.problem ?? ''}`.trim());
  }
  const told = await work({ task: 'report', document: flow.document, report, revision: flow.revision, format });
  return new Response(told, { headers: { 'content-type': reportFormats[format].type, ...reportPolicy } });
});
