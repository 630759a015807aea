import { answering, body } from '$lib/server/answer.ts';
import { keepVerdict } from '$lib/server/flows.ts';
import { summarySchema } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

/** What the browser's checks said of a revision, for the shelf. */
export const PUT: RequestHandler = answering(async ({ params, request }) => {
  const { revision, summary } = await body(request, summarySchema, 10_000);
  await keepVerdict(params.id, revision, summary);
  return new Response(null, { status: 204 });
});
