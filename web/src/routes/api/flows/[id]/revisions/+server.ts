import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { answering, jsonText, numberIn, valid } from '$lib/server/answer.ts';
import { idSchema, revisionJson } from '$lib/server/formats.ts';
import { lastRevisions, revisionsAfter, revisionsOfEdits } from '$lib/server/history.ts';
import type { RequestHandler } from './$types';

/** So many revisions at once, without what they changed and with it. */
const most = { words: 1000, patches: 100 };
const editsSchema = Joi.array().items(idSchema).max(200).label('edit');

/**
 * The history in words: the last `limit` revisions before `before`, newest first, or those that keep an `edit`. With
 * `after` those behind it with their patches, oldest first.
 */
export const GET: RequestHandler = answering(async ({ params, url }) => {
  const after = numberIn(url, 'after');
  const limit = numberIn(url, 'limit') ?? 200;
  const edits = valid(url.searchParams.getAll('edit'), editsSchema) as string[];
  if (edits.length > 0) return json({ revisions: await revisionsOfEdits(params.id, edits) });
  if (after === undefined)
    return json({ revisions: await lastRevisions(params.id, Math.min(limit, most.words), numberIn(url, 'before')) });
  const revisions = await revisionsAfter(params.id, after, Math.min(limit, most.patches));
  return jsonText(`{"revisions":[${revisions.map(revisionJson).join()}]}`);
});
