import { stillMay } from '$lib/server/accounts/door.ts';
import { answering, problem } from '$lib/server/answer.ts';
import { Refusal } from '$lib/server/refusal.ts';
import { revisionOf } from '$lib/server/flows.ts';
import { liveStream } from '$lib/server/live.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: every revision behind `after`, or behind the last one that the browser has seen. */
export const GET: RequestHandler = answering(async (event) => {
  const { params, url, request } = event;
  const after = Number(request.headers.get('last-event-id') ?? url.searchParams.get('after') ?? 0);
  if (!Number.isInteger(after) || after < 0) throw new Refusal(400, '"after" is the number of a revision.');
  if ((await revisionOf(params.id)) === undefined) return problem(404, 'There is no such flow.');
  return liveStream([{ flow: params.id, after: Math.max(1, after) }], stillMay(event, [params.id]));
});
