import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { roles, type Role } from '$lib/rights.ts';
import { noted } from '$lib/server/accounts/door.ts';
import { invitations, makeLink } from '$lib/server/accounts/links.ts';
import { ownerFor } from '$lib/server/accounts/may.ts';
import { answering, body } from '$lib/server/answer.ts';
import { linkDays } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ role: Role; note: string; days: number }>({
  role: Joi.valid(...roles).required(),
  note: Joi.string().allow('').max(80).default(''),
  days: linkDays.default(7)
});

/** Invitations that are still open. */
export const GET: RequestHandler = answering(async () => json({ invitations: await invitations() }));

/** A link by which somebody makes an account, once. */
export const POST: RequestHandler = answering(async (event) => {
  const { role, note, days } = await body(event.request, schema, 1000);
  const { id, secret } = await makeLink({ kind: 'invitation', role, note, days }, ownerFor(event.locals.who));
  await noted(event, 'invited', { detail: note ? `${role}: ${note}` : role });
  return json({ id, path: `/open#${secret}` }, { status: 201 });
});
