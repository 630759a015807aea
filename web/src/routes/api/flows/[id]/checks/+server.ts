import { json } from '@sveltejs/kit';
import { usualLimit } from '@crow-lane/core/check/explored';
import { answering, body, jsonZipped, numberIn, problem } from '$lib/server/answer.ts';
import { flowAt } from '$lib/server/history.ts';
import { checkSchema, etag } from '$lib/server/formats.ts';
import { revisionOf } from '$lib/server/flows.ts';
import { beginCheck } from '$lib/server/jobs.ts';
import { findReport } from '$lib/server/reports.ts';
import type { RequestHandler } from './$types';

const gone = () => problem(404, 'There is no such flow, or no such revision of it.');

/** The report on a revision (else on the present one), if one is kept; else nothing. */
export const GET: RequestHandler = answering(async ({ params, url, request }) => {
  const present = await revisionOf(params.id);
  const revision = numberIn(url, 'revision') ?? present;
  if (present === undefined || revision! < 1 || revision! > present) return gone();
  const report = await findReport(params.id, revision!);
  return report ? jsonZipped(request, report, { etag: etag(revision!) }) : new Response(null, { status: 204 });
});

/** Begins a check of a revision. What it finds is kept, and told by the job that is answered. */
export const POST: RequestHandler = answering(async ({ params, request }) => {
  const { revision, limit = usualLimit } = await body(request, checkSchema, 1000);
  const flow = await flowAt(params.id, revision);
  if (!flow) return gone();
  const job = await beginCheck(params.id, flow.revision, flow.places, limit);
  if (!job) return problem(503, 'Too many checks are waiting. Try again in a moment.');
  return json(job, { status: 202, headers: { location: `/api/checks/${job.id}` } });
});
