import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { roles, type Role } from '$lib/rights.ts';
import { noted } from '$lib/server/accounts/door.ts';
import { changePerson } from '$lib/server/accounts/people.ts';
import { answering, body } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ role?: Role; ended?: boolean }>({ role: Joi.valid(...roles), ended: Joi.boolean() }).min(1);

/** Changes a role, ends somebody's access with all that goes with it, or gives it back. */
export const PATCH: RequestHandler = answering(async (event) => {
  const to = await body(event.request, schema, 200);
  const { name, role } = await changePerson(event.params.person, to);
  if (to.role) await noted(event, 'role changed', { detail: `${name}: ${role}` });
  if (to.ended !== undefined) await noted(event, to.ended ? 'access ended' : 'access given back', { detail: name });
  return json({ name, role });
});
