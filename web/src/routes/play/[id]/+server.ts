import { answering, problem } from '$lib/server/answer.ts';
import { readFlow } from '$lib/server/flows.ts';
import { flowFormats } from '@crow-lane/core/formats/flow-list';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** The page to play of a flow, to be played here. Its own policy stands in it. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  const page = await work({ task: 'write', document: flow.document, format: 'html', shows: [], id: params.id });
  return new Response(page, { headers: { 'content-type': flowFormats.html.type } });
});
