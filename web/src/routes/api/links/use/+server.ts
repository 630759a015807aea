import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { actorOf, keepSignIn } from '$lib/server/accounts/door.ts';
import { useLink } from '$lib/server/accounts/links.ts';
import { hasAccounts } from '$lib/server/accounts/mode.ts';
import { beginSignIn } from '$lib/server/accounts/sign-ins.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import { secretSchema } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ secret: string; name: string; password: string }>({
  secret: secretSchema,
  name: Joi.string().allow('').max(80).default(''),
  password: Joi.string().min(1).max(1000).required()
});

/** Makes an account, or sets a new password, by a link, and signs in. */
export const POST: RequestHandler = answering(async (event) => {
  if (!hasAccounts()) return problem(409, 'There are no accounts here.');
  const { secret, ...given } = await body(event.request, schema, 4000);
  const person = await useLink(secret, given, actorOf(event).address);
  keepSignIn(event, await beginSignIn(person.id, event.request.headers.get('user-agent') ?? ''));
  return json({ name: person.name }, { status: 201 });
});
