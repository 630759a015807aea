import { json } from '@sveltejs/kit';
import { trouble } from '$lib/trouble.ts';
import { answering, problem } from '$lib/server/answer.ts';
import { databaseAnswers } from '$lib/server/database.ts';

/** Whether the server can do its work. */
export const GET = answering(async () => {
  if (await databaseAnswers()) return json({ ok: true });
  return problem(503, trouble.database, {}, { 'retry-after': '2' });
});
