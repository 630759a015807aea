import { actorOf } from '$lib/server/accounts/door.ts';
import { takeBackLink } from '$lib/server/accounts/links.ts';
import { answering } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

/** Takes a link back: who has opened it is shut out at once. */
export const DELETE: RequestHandler = answering(async (event) => {
  await takeBackLink(event.params.link, { flow: event.params.id }, actorOf(event));
  return new Response(null, { status: 204 });
});
