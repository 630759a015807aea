import { readFlow } from '$lib/server/flows.ts';
import { liveStream } from '$lib/server/live.ts';
import { problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: every revision behind `after`, or behind the last one that the browser has seen. */
export const GET: RequestHandler = async ({ params, url, request }) => {
  const after = Number(request.headers.get('last-event-id') ?? url.searchParams.get('after') ?? 0);
  if (!Number.isInteger(after) || after < 0) return problem(400, '"after" is the number of a revision.');
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  // a flow begins at revision 1, which is no edit
  return new Response(liveStream(params.id, Math.max(1, after)), {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' }
  });
};
