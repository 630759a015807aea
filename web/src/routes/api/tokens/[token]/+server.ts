import { noted } from '$lib/server/accounts/door.ts';
import { takeBackToken } from '$lib/server/accounts/tokens.ts';
import { answering, problem } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

/** Takes a token back. */
export const DELETE: RequestHandler = answering(async (event) => {
  const { who } = event.locals;
  if (who.is !== 'person') return problem(404, 'There is no such token.');
  const name = await takeBackToken(who.id, event.params.token);
  await noted(event, 'token taken back', { detail: name });
  return new Response(null, { status: 204 });
});
