import { answering, problem } from '$lib/server/answer.ts';
import { flowFormats } from '@crow-lane/core/formats/flow-list';
import { countPlay, showFile } from '$lib/server/shows.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** The page to play of what is on show, to be played here; each time is counted. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const found = await showFile(params.show);
  if (!found) return problem(404, 'This is not on show; it may have been withdrawn.');
  const page = await work({ task: 'write', document: found.document, format: 'html', shows: [], id: params.show });
  await countPlay(params.show);
  return new Response(page, { headers: { 'content-type': flowFormats.html.type } });
});
