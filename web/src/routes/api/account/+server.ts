import { json } from '@sveltejs/kit';
import { meOf } from '$lib/server/accounts/door.ts';
import { answering } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

/** Who is signed in, if anybody is, and whether there are accounts. */
export const GET: RequestHandler = answering(({ locals }) => json(meOf(locals.who)));
