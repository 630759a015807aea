import { answering, body, problem, valid } from '$lib/server/answer.ts';
import { idSchema, presentSchema } from '$lib/server/formats.ts';
import { revisionOf } from '$lib/server/flows.ts';
import { announcePresence } from '$lib/server/live.ts';
import { endPresence, notePresence } from '$lib/server/presence.ts';
import type { RequestHandler } from './$types';

/** A page has the flow open; it says so again every few seconds. */
export const PUT: RequestHandler = answering(async ({ params, request, locals }) => {
  const present = await body(request, presentSchema, 1000);
  if ((await revisionOf(params.id)) === undefined) return problem(404, 'There is no such flow.');
  const { who } = locals;
  const name = who.is === 'everybody' ? present.name : 'name' in who ? who.name : 'A guest';
  await notePresence(params.id, { ...present, name });
  await announcePresence([params.id]);
  return new Response(null, { status: 204 });
});

/** The page is closed. */
export const DELETE: RequestHandler = answering(async ({ params, url }) => {
  await endPresence(params.id, valid(url.searchParams.get('client'), idSchema.required()));
  await announcePresence([params.id]);
  return new Response(null, { status: 204 });
});
