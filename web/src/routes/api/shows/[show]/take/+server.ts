import { json } from '@sveltejs/kit';
import { ownerFor } from '$lib/server/accounts/may.ts';
import { answering, problem } from '$lib/server/answer.ts';
import { createFlow } from '$lib/server/flows.ts';
import { showFile } from '$lib/server/shows.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** An own copy of what is on show; where it comes from is kept. */
export const POST: RequestHandler = answering(async ({ params, locals }) => {
  const found = await showFile(params.show);
  if (!found) return problem(404, 'This is not on show; it may have been withdrawn.');
  const read = await work({ task: 'read', text: found.document });
  if ('errors' in read) return problem(422, 'This is not a flow document. Nothing was kept.', { errors: read.errors });
  const source = { show: params.show, name: found.name, by: found.by ?? '', revision: found.revision };
  const id = await createFlow(read.document, read.described, { owner: ownerFor(locals.who), source });
  return json({ id }, { status: 201, headers: { location: `/api/flows/${id}` } });
});
