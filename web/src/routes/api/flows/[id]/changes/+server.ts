import { answering, jsonText, numberIn, problem } from '$lib/server/answer.ts';
import { revisionJson } from '$lib/server/formats.ts';
import { revisionOf } from '$lib/server/flows.ts';
import { revisionsAfter } from '$lib/server/history.ts';
import { presentIn } from '$lib/server/presence.ts';
import type { RequestHandler } from './$types';

/** What a stream would tell, for those who ask now and then instead: the next revisions behind `after`, and who is there. */
export const GET: RequestHandler = answering(async ({ params, url }) => {
  const newest = await revisionOf(params.id);
  if (newest === undefined) return problem(404, 'There is no such flow.');
  const revisions = await revisionsAfter(params.id, numberIn(url, 'after') ?? newest, 50);
  const present = (await presentIn([params.id])).get(params.id) ?? [];
  return jsonText(
    `{"revision":${newest},"revisions":[${revisions.map(revisionJson).join()}],"present":${JSON.stringify(present)}}`
  );
});
