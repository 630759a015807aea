import { json } from '@sveltejs/kit';
import { trouble } from '$lib/trouble.ts';
import { answering, problem } from '$lib/server/answer.ts';
import { databaseTrouble } from '$lib/server/database.ts';

/** Whether the server can do its work. */
export const GET = answering(async () => {
  const wrong = await databaseTrouble();
  return wrong ? problem(503, trouble.database, {}, { 'retry-after': '2' }) : json({ ok: true });
});
