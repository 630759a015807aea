import { json } from '@sveltejs/kit';
import { lastRevisions, revisionsAfter } from '$lib/server/flows.ts';
import { problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

/** The history: the last `limit` revisions, newest first; with `after` those behind it, oldest first. */
export const GET: RequestHandler = async ({ params, url }) => {
  const numbers = ['after', 'before', 'limit'].map((name) => {
    const text = url.searchParams.get(name);
    return text === null ? undefined : Number(text);
  });
  if (numbers.some((number) => number !== undefined && (!Number.isInteger(number) || number < 0))) {
    return problem(400, '"after", "before" and "limit" are whole numbers.');
  }
  const [after, before, limit = 200] = numbers;
  const most = Math.min(limit, 1000);
  const revisions =
    after === undefined ? await lastRevisions(params.id, most, before) : await revisionsAfter(params.id, after, most);
  return json({ revisions });
};
