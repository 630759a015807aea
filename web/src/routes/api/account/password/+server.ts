import Joi from 'joi';
import { actorOf, noted } from '$lib/server/accounts/door.ts';
import { goodPassword, setPassword } from '$lib/server/accounts/people.ts';
import { hasPassword } from '$lib/server/accounts/sign-ins.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ old: string; password: string }>({
  old: Joi.string().min(1).max(200).required(),
  password: Joi.string().min(1).max(1000).required()
});

/** Changes one's own password; whatever else is signed in with the old one has to sign in again. */
export const PUT: RequestHandler = answering(async (event) => {
  const { who } = event.locals;
  if (who.is !== 'person') return problem(409, 'There are no accounts here.');
  const { old, password } = await body(event.request, schema, 4000);
  if (!(await hasPassword(who, old, actorOf(event).address))) return problem(422, 'The present password is another.');
  await setPassword(who.id, await goodPassword(password, who.name), who.signIn);
  await noted(event, 'password changed');
  return new Response(null, { status: 204 });
});
