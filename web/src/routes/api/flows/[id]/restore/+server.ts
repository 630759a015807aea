import { noted } from '$lib/server/accounts/door.ts';
import { answering, problem } from '$lib/server/answer.ts';
import { setDeleted } from '$lib/server/flows.ts';
import type { RequestHandler } from './$types';

/** Takes a deletion back. */
export const POST: RequestHandler = answering(async (event) => {
  if (!(await setDeleted(event.params.id, false))) return problem(404, 'There is no such flow.');
  await noted(event, 'flow brought back', { flow: event.params.id });
  return new Response(null, { status: 204 });
});
