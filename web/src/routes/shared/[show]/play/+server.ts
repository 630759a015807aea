import { answering, problem } from '$lib/server/answer.ts';
import { countPlay, showFile } from '$lib/server/shows.ts';
import { playHere } from '$lib/server/page.ts';
import type { RequestHandler } from './$types';

/** The page to play of what is on show, to be played here; each time is counted. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const found = await showFile(params.show);
  if (!found) return problem(404, 'This is not on show; it may have been withdrawn.');
  await countPlay(params.show);
  return await playHere(found.document, params.show);
});
