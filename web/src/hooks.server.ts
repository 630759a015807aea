import { text, type Handle, type HandleServerError, type ServerInit } from '@sveltejs/kit';
import { closeDatabase, openDatabase } from '$lib/server/database.ts';
import { loadDemo } from '$lib/server/demo.ts';
import { isOurHost, isOurOrigin } from '$lib/server/guard.ts';
import { stopJobs } from '$lib/server/jobs.ts';
import { closeStreams } from '$lib/server/live.ts';
import { log } from '$lib/server/log.ts';
import { closeEventStreams } from '$lib/server/stream.ts';

export const init: ServerInit = async () => {
  await openDatabase();
  await loadDemo(process.env.CROW_LANE_DEMO);
  // open streams would hold the server up until it is killed
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.once(signal, () => {
      closeStreams();
      closeEventStreams();
      stopJobs();
    });
  process.once('sveltekit:shutdown', () => void closeDatabase());
};

export const handle: Handle = async ({ event, resolve }) => {
  const { request } = event;
  if (!isOurHost(request.headers.get('host'))) return text('This address is not served here.', { status: 421 });
  if (!isOurOrigin(request)) return text('Requests from other origins are refused.', { status: 403 });
  const began = performance.now();
  const response = await resolve(event);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'no-referrer');
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  response.headers.set('cross-origin-resource-policy', 'same-origin');
  if (event.route.id?.startsWith('/api/flows')) {
    log.debug(
      { method: request.method, path: event.url.pathname, status: response.status, ms: Math.round(performance.now() - began) },
      'request'
    );
  }
  return response;
};

export const handleError: HandleServerError = ({ error, status, message, event }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  // the message of a database error would hold the query's values, so only its code is logged
  const code = (error as { cause?: { code?: string } }).cause?.code;
  log.error({ path: event.url.pathname, status, code, ...(code ? {} : { err: error }) }, 'request failed');
  return { message: status === 500 ? 'Something went wrong on the server. Nothing was changed.' : message };
};
