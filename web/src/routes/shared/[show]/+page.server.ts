import { error } from '@sveltejs/kit';
import { rightTo } from '$lib/server/accounts/may.ts';
import { meOf } from '$lib/server/accounts/door.ts';
import { readShow } from '$lib/server/shows.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params }) => {
  const found = await readShow(params.show);
  if (!found) error(404, 'This is not on show; it may have been withdrawn.');
  return { me: meOf(locals.who), may: await rightTo(locals.who, found.show.flow), ...found };
};
