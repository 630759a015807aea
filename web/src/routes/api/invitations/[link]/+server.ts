import { actorOf } from '$lib/server/accounts/door.ts';
import { takeBackLink } from '$lib/server/accounts/links.ts';
import { answering } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

/** Takes an invitation back. */
export const DELETE: RequestHandler = answering(async (event) => {
  await takeBackLink(event.params.link, {}, actorOf(event));
  return new Response(null, { status: 204 });
});
