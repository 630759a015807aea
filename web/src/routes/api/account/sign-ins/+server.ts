import { json } from '@sveltejs/kit';
import { endOtherSignIns, signInsOf } from '$lib/server/accounts/sign-ins.ts';
import { noted } from '$lib/server/accounts/door.ts';
import { answering } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

/** Where one is signed in. */
export const GET: RequestHandler = answering(async ({ locals: { who } }) =>
  json({ signIns: who.is === 'person' ? await signInsOf(who.id, who.signIn) : [] })
);

/** Signs out everywhere else. */
export const DELETE: RequestHandler = answering(async (event) => {
  const { who } = event.locals;
  if (who.is === 'person') {
    await endOtherSignIns(who.id, who.signIn);
    await noted(event, 'signed out', { detail: 'everywhere else' });
  }
  return new Response(null, { status: 204 });
});
