import { json } from '@sveltejs/kit';
import { read } from '@crow-lane/core/document/read';
import { createFlow, listFlows } from '$lib/server/flows.ts';
import { log } from '$lib/server/log.ts';
import { bodyText, problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

/** The shelf. */
export const GET: RequestHandler = async () => json({ flows: await listFlows() });

/** A new flow from a document, as it stands in a file. What is wrong with it is listed and nothing is kept. */
export const POST: RequestHandler = async ({ request }) => {
  const { document, errors } = read(await bodyText(request, 16_000_000));
  if (errors) return problem(422, 'This is no flow document that can be read.', { errors });
  const id = await createFlow(document);
  log.info({ flow: id, places: Object.keys(document.places).length }, 'flow created');
  return json({ id }, { status: 201, headers: { location: `/api/flows/${id}` } });
};
