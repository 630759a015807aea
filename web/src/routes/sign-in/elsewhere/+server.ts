import { keepLeaving, wayBack } from '$lib/server/accounts/door.ts';
import { elsewhere } from '$lib/server/accounts/mode.ts';
import { leaveFor } from '$lib/server/accounts/oidc.ts';
import { pathOf } from '$lib/server/guard.ts';
import { log } from '$lib/server/log.ts';
import type { RequestHandler } from './$types';

/** Leaves for where people sign in elsewhere. */
export const GET: RequestHandler = async (event) => {
  const place = elsewhere();
  const failed = new Response(null, { status: 303, headers: { location: '/sign-in?failed=away' } });
  if (!place) return failed;
  try {
    const { url, leaving } = await leaveFor(place, wayBack(event), pathOf(event.url.searchParams.get('to')));
    keepLeaving(event, leaving);
    return new Response(null, { status: 303, headers: { location: url.href } });
  } catch (error) {
    log.warn({ err: error }, 'signing in elsewhere');
    return failed;
  }
};
