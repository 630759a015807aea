import { answering, jsonText, problem } from '$lib/server/answer.ts';
import { revisionJson } from '$lib/server/formats.ts';
import { readRevision } from '$lib/server/history.ts';
import type { RequestHandler } from './$types';

/** One revision with its patch and with the inverse, which takes it back. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const revision = /^\d{1,9}$/.test(params.number) ? await readRevision(params.id, Number(params.number)) : undefined;
  return revision ? jsonText(revisionJson(revision)) : problem(404, 'There is no such revision.');
});
