import { json } from '@sveltejs/kit';
import { cut } from '@crow-lane/core/document/cut';
import { ownerFor } from '$lib/server/accounts/may.ts';
import { answering, problem } from '$lib/server/answer.ts';
import { createFlow, readFlow } from '$lib/server/flows.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** An independent copy, without the history. */
export const POST: RequestHandler = answering(async ({ params, locals }) => {
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  const patch = JSON.stringify([{ op: 'replace', path: '/name', value: `${cut(flow.name, 73)} (copy)` }]);
  const { document, described } = await work({
    task: 'fit',
    document: flow.document,
    revision: 1,
    edits: [{ patch, label: 'Copy' }]
  });
  const id = await createFlow(document, described, { owner: ownerFor(locals.who) });
  return json({ id }, { status: 201, headers: { location: `/api/flows/${id}` } });
});
