/** The page to play, to be played here. Its own policy stands in it. */
import { flowFormats } from '@crow-lane/core/formats/flow-list';
import { work } from './work.ts';

/** The page of a flow; under `id` the browser keeps what was done in it. */
export async function playHere(document: string, id: string): Promise<Response> {
  const page = await work({ task: 'write', document, format: 'html', shows: [], id });
  return new Response(page, { headers: { 'content-type': flowFormats.html.type } });
}
