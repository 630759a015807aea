import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { keepLink } from '$lib/server/accounts/door.ts';
import { lookAtLink } from '$lib/server/accounts/links.ts';
import { hasAccounts } from '$lib/server/accounts/mode.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import { secretSchema } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ secret: string }>({ secret: secretSchema });

/** What a link leads to. One to a flow opens it for this browser. */
export const POST: RequestHandler = answering(async (event) => {
  if (!hasAccounts()) return problem(409, 'There are no accounts here: nothing needs a link.');
  const { secret } = await body(event.request, schema, 500);
  const link = await lookAtLink(secret);
  if ('flow' in link) keepLink(event, secret);
  return json(link);
});
