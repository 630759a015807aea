import { answering, problem } from '$lib/server/answer.ts';
import { setDeleted } from '$lib/server/flows.ts';
import type { RequestHandler } from './$types';

/** Takes a deletion back. */
export const POST: RequestHandler = answering(async ({ params }) =>
  (await setDeleted(params.id, false)) ? new Response(null, { status: 204 }) : problem(404, 'There is no such flow.')
);
