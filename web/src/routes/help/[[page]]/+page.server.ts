import { error } from '@sveltejs/kit';
import { resolve } from '$app/paths';
import { pageHtml } from '$lib/server/manual.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ params }) => {
  const name = params.page ?? 'start';
  const html = pageHtml(name, resolve('/help/[[page]]', {}));
  if (html === undefined) error(404, 'There is no such page in the manual.');
  return { name, html };
};
