import { answering, problem } from '$lib/server/answer.ts';
import { readFlow } from '$lib/server/flows.ts';
import { playHere } from '$lib/server/page.ts';
import type { RequestHandler } from './$types';

/** The page to play of a flow, to be played here. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  return await playHere(flow.document, params.id);
});
