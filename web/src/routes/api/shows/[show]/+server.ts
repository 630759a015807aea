import { json } from '@sveltejs/kit';
import { noted } from '$lib/server/accounts/door.ts';
import { answering, problem } from '$lib/server/answer.ts';
import { readShow, withdraw } from '$lib/server/shows.ts';
import type { RequestHandler } from './$types';

/** A flow on show, and the other revisions of it that were. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const found = await readShow(params.show);
  return found ? json(found) : problem(404, 'This is not on show; it may have been withdrawn.');
});

/** Takes it off the shared shelf. */
export const DELETE: RequestHandler = answering(async (event) => {
  const { flow, revision } = await withdraw(event.params.show);
  await noted(event, 'withdrawn', { flow, detail: `revision ${revision}` });
  return new Response(null, { status: 204 });
});
