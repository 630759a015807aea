import { json } from '@sveltejs/kit';
import { usualLimit } from '@crow-lane/core/check/check';
import { flowAt } from '$lib/server/flows.ts';
import { checkSchema } from '$lib/server/formats.ts';
import { beginCheck } from '$lib/server/jobs.ts';
import { findReport } from '$lib/server/reports.ts';
import { body, problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

const gone = () => problem(404, 'There is no such flow, or no such revision of it.');

/** The report on a revision (else on the present one), if one is kept; else nothing. */
export const GET: RequestHandler = async ({ params, url }) => {
  const asked = url.searchParams.get('revision');
  const revision = asked === null ? undefined : Number(asked);
  if (revision !== undefined && !Number.isInteger(revision)) return problem(400, '"revision" is the number of a revision.');
  const flow = await flowAt(params.id, revision);
  if (!flow) return gone();
  const report = await findReport(params.id, flow.revision, 0);
  return report ? json({ revision: flow.revision, report }) : new Response(null, { status: 204 });
};

/** Begins a check of a revision. What it finds is kept, and told by the job that is answered. */
export const POST: RequestHandler = async ({ params, request }) => {
  const { revision, limit = usualLimit } = await body(request, checkSchema, 1000);
  const flow = await flowAt(params.id, revision);
  if (!flow) return gone();
  const job = beginCheck(params.id, flow.revision, flow.document, limit);
  if (!job) return problem(503, 'Too many checks are waiting. Try again in a moment.');
  return json(job, { status: 202, headers: { location: `/api/checks/${job.id}` } });
};
