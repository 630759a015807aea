import { redirect } from '@sveltejs/kit';
import { pathOf } from '$lib/server/guard.ts';
import { elsewhere } from '$lib/server/accounts/mode.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ url, locals }) => {
  const to = pathOf(url.searchParams.get('to'));
  // signed in already, or nobody has to
  if (locals.who.is !== 'guest') redirect(303, to);
  return { to, elsewhere: elsewhere()?.name, failed: url.searchParams.get('failed') };
};
