import { json } from '@sveltejs/kit';
import { ownerFor } from '$lib/server/accounts/may.ts';
import { answering, bodyText, mostBytes, problem } from '$lib/server/answer.ts';
import { createFlow, listFlows } from '$lib/server/flows.ts';
import { log } from '$lib/server/log.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** The shelf, or what was deleted from it and can be brought back. */
export const GET: RequestHandler = answering(async ({ locals, url }) => {
  const { flows, deleted } = await listFlows(locals.who);
  return json({ flows: url.searchParams.has('deleted') ? deleted : flows });
});

/** A new flow from a document, as it stands in a file. What is wrong with it is listed and nothing is kept. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
  const found = await work({ task: 'read', text: await bodyText(request, mostBytes) });
  if ('errors' in found) return problem(422, 'This is not a flow document. Nothing was kept.', { errors: found.errors });
  const id = await createFlow(found.document, found.described, { owner: ownerFor(locals.who) });
  log.info({ flow: id, places: found.described.places }, 'flow created');
  return json({ id }, { status: 201, headers: { location: `/api/flows/${id}` } });
});
