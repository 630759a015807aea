import { actorOf, keepSignIn, takeLeaving, wayBack } from '$lib/server/accounts/door.ts';
import { elsewhere } from '$lib/server/accounts/mode.ts';
import { comeBack } from '$lib/server/accounts/oidc.ts';
import { beginSignIn } from '$lib/server/accounts/sign-ins.ts';
import { log } from '$lib/server/log.ts';
import type { RequestHandler } from './$types';

/** Comes back from where people sign in elsewhere. */
export const GET: RequestHandler = async (event) => {
  const place = elsewhere();
  const leaving = takeLeaving(event);
  const to = (location: string) => new Response(null, { status: 303, headers: { location } });
  if (!place || !leaving) return to('/sign-in?failed=late');
  try {
    const at = new URL(wayBack(event) + event.url.search);
    const person = await comeBack(place, at, leaving, actorOf(event).address);
    keepSignIn(event, await beginSignIn(person.id, event.request.headers.get('user-agent') ?? ''));
    return to(leaving.to);
  } catch (error) {
    log.warn({ err: error }, 'coming back from signing in elsewhere');
    return to('/sign-in?failed=refused');
  }
};
