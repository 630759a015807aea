import { json } from '@sveltejs/kit';
import { noted } from '$lib/server/accounts/door.ts';
import { makeLink } from '$lib/server/accounts/links.ts';
import { ownerFor } from '$lib/server/accounts/may.ts';
import { findPerson } from '$lib/server/accounts/people.ts';
import { answering, problem } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

/** A link by which a person sets a new password. It is valid for a day, once. */
export const POST: RequestHandler = answering(async (event) => {
  const person = await findPerson(event.params.person);
  if (!person) return problem(404, 'There is no such person.');
  const { secret } = await makeLink({ kind: 'reset', person: person.id, days: 1 }, ownerFor(event.locals.who));
  await noted(event, 'link made', { detail: `a new password for ${person.name}` });
  return json({ path: `/open#${secret}` }, { status: 201 });
});
