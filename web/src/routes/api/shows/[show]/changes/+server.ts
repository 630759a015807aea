import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { answering, problem, valid } from '$lib/server/answer.ts';
import { idSchema } from '$lib/server/formats.ts';
import { showFile } from '$lib/server/shows.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** What is different in it from another revision on show, `since`. */
export const GET: RequestHandler = answering(async ({ params, url }) => {
  const since = valid(url.searchParams.get('since'), idSchema.required().label('since') as Joi.StringSchema);
  const [before, after] = await Promise.all([showFile(since!), showFile(params.show)]);
  if (!before || !after || before.flow !== after.flow) return problem(404, 'These are not two revisions of one flow on show.');
  const differences = await work({ task: 'differences', before: before.document, after: after.document });
  return json({ differences });
});
