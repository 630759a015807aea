import { json } from '@sveltejs/kit';
import { listPeople } from '$lib/server/accounts/people.ts';
import { answering } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

/** Everybody who has, or had, an account. */
export const GET: RequestHandler = answering(async () => json({ people: await listPeople() }));
