import Joi from 'joi';
import { actorOf, dropSignIn, keepSignIn, noted } from '$lib/server/accounts/door.ts';
import { hasAccounts } from '$lib/server/accounts/mode.ts';
import { endSignIn, signIn } from '$lib/server/accounts/sign-ins.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ name: string; password: string }>({
  name: Joi.string().min(1).max(80).required(),
  password: Joi.string().min(1).max(200).required()
});

/** Signs in by name and password. */
export const POST: RequestHandler = answering(async (event) => {
  if (!hasAccounts()) return problem(409, 'There are no accounts here: signing in is not needed.');
  const { name, password } = await body(event.request, schema, 2000);
  const agent = event.request.headers.get('user-agent') ?? '';
  keepSignIn(event, await signIn({ name, password, agent, address: actorOf(event).address }));
  return new Response(null, { status: 204 });
});

/** Signs out. */
export const DELETE: RequestHandler = answering(async (event) => {
  const { who } = event.locals;
  if (who.is === 'person') {
    await endSignIn(who.signIn);
    await noted(event, 'signed out');
  }
  dropSignIn(event);
  return new Response(null, { status: 204 });
});
