import { answering, problem } from '$lib/server/answer.ts';
import { findJob, followJob } from '$lib/server/jobs.ts';
import { log } from '$lib/server/log.ts';
import { eventStream } from '$lib/server/stream.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: how a check goes on, until it has ended. */
export const GET: RequestHandler = answering(async ({ params }) => {
  if (!(await findJob(params.job))) return problem(404, 'There is no such check; it may have ended long ago.');
  const gone = new AbortController();
  const { stream, response } = eventStream({ ended: () => gone.abort() });
  followJob(params.job, gone.signal, (job) => stream.send('job', JSON.stringify(job)))
    // a browser whose stream ends without a word comes back and asks again
    .catch((error: unknown) => log.warn({ err: error }, 'following a check'))
    .finally(() => stream.close());
  return response;
});
