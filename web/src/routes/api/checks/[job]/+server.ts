import { json } from '@sveltejs/kit';
import { answering, problem } from '$lib/server/answer.ts';
import { cancelJob, findJob } from '$lib/server/jobs.ts';
import type { RequestHandler } from './$types';

const gone = () => problem(404, 'There is no such check; it may have ended long ago.');

/** How far a check is. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const job = await findJob(params.job);
  return job ? json(job) : gone();
});

/** Stops a check. */
export const DELETE: RequestHandler = answering(async ({ params }) => {
  if (await cancelJob(params.job)) return new Response(null, { status: 204 });
  return (await findJob(params.job)) ? problem(409, 'This check has ended already.') : gone();
});
