import { json } from '@sveltejs/kit';
import { cancelJob, findJob } from '$lib/server/jobs.ts';
import { problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

const gone = () => problem(404, 'There is no such check; it may have ended long ago.');

/** How far a check is. */
export const GET: RequestHandler = ({ params }) => {
  const job = findJob(params.job);
  return job ? json(job) : gone();
};

/** Stops a check. */
export const DELETE: RequestHandler = ({ params }) => {
  if (!findJob(params.job)) return gone();
  if (!cancelJob(params.job)) return problem(409, 'This check has ended already.');
  return new Response(null, { status: 204 });
};
