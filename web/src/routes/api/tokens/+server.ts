import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { includes } from '$lib/rights.ts';
import { noted } from '$lib/server/accounts/door.ts';
import { rightTo } from '$lib/server/accounts/may.ts';
import { makeToken, tokensOf, type TokenOf } from '$lib/server/accounts/tokens.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import { idSchema, linkDays } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<TokenOf>({
  name: Joi.string().min(1).max(80).required(),
  may: Joi.valid('read', 'edit').required(),
  flow: idSchema,
  days: linkDays.default(90)
});
const none = () => problem(409, 'There are no accounts here: programs need no token.');

/** One's own tokens. */
export const GET: RequestHandler = answering(async ({ locals: { who } }) =>
  who.is === 'person' ? json({ tokens: await tokensOf(who.id) }) : none()
);

/** A token for a program. It is told once. */
export const POST: RequestHandler = answering(async (event) => {
  const { who } = event.locals;
  if (who.is !== 'person') return none();
  const asked = await body(event.request, schema, 1000);
  if (asked.flow !== undefined && !includes(await rightTo(who, asked.flow), 'read'))
    return problem(404, 'There is no such flow.');
  const made = await makeToken(who.id, asked);
  await noted(event, 'token made', { flow: asked.flow, detail: `${asked.name}: ${asked.may}` });
  return json(made, { status: 201 });
});
