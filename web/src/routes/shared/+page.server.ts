import { meOf } from '$lib/server/accounts/door.ts';
import { browse, showQuery, usedTags } from '$lib/server/shows.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
  const query = showQuery(url);
  const [found, tags] = await Promise.all([browse(query), usedTags()]);
  return { me: meOf(locals.who), query, ...found, tags };
};
