import { watchJob, type Job } from '$lib/server/jobs.ts';
import { problem } from '$lib/server/requests.ts';
import { eventStream } from '$lib/server/stream.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: how a check goes on, until it has ended. */
export const GET: RequestHandler = ({ params }) => {
  let watch: { stop: () => void } | undefined;
  const stream = eventStream(
    (send, close) => {
      const tell = (job: Job) => {
        send('job', job);
        if (job.state === 'waiting' || job.state === 'running') return;
        // the first telling comes before there is anything to stop
        queueMicrotask(() => watch?.stop());
        close();
      };
      watch = watchJob(params.job, tell);
      return watch !== undefined;
    },
    () => watch?.stop()
  );
  return stream ?? problem(404, 'There is no such check; it may have ended long ago.');
};
