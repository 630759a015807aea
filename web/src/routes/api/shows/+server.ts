import { json } from '@sveltejs/kit';
import { answering } from '$lib/server/answer.ts';
import { browse, showQuery, usedTags } from '$lib/server/shows.ts';
import type { RequestHandler } from './$types';

/** The shared shelf, a page of it: searched, of a tag, in an order. */
export const GET: RequestHandler = answering(async ({ url }) =>
  json({ ...(await browse(showQuery(url))), tags: await usedTags() })
);
