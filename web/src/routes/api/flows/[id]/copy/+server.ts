import { json } from '@sveltejs/kit';
import { createFlow, readFlow } from '$lib/server/flows.ts';
import { problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

/** An independent copy, without the history. */
export const POST: RequestHandler = async ({ params }) => {
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  const id = await createFlow({ ...flow.document, name: `${flow.document.name.slice(0, 73)} (copy)` });
  return json({ id }, { status: 201, headers: { location: `/api/flows/${id}` } });
};
