import { json } from '@sveltejs/kit';
import Joi from 'joi';
import type { LinkRight } from '$lib/rights.ts';
import { noted } from '$lib/server/accounts/door.ts';
import { linksOf, makeLink } from '$lib/server/accounts/links.ts';
import { ownerFor } from '$lib/server/accounts/may.ts';
import { hasAccounts } from '$lib/server/accounts/mode.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import { linkDays } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ may: LinkRight; note: string; days: number }>({
  may: Joi.valid('read', 'play').required(),
  note: Joi.string().allow('').max(80).default(''),
  days: linkDays.default(30)
});

/** Links to the flow that are valid. */
export const GET: RequestHandler = answering(async ({ params }) => json({ links: await linksOf(params.id) }));

/** A link that opens the flow without an account: to read it, or only its page to play. */
export const POST: RequestHandler = answering(async (event) => {
  if (!hasAccounts()) return problem(409, 'There are no accounts here: whoever reaches the server can open every flow.');
  const flow = event.params.id;
  const { may, note, days } = await body(event.request, schema, 1000);
  const { id, secret } = await makeLink({ kind: may, flow, note, days }, ownerFor(event.locals.who));
  await noted(event, 'link made', { flow, detail: note ? `${may}: ${note}` : may });
  return json({ id, path: `/open#${secret}` }, { status: 201 });
});
