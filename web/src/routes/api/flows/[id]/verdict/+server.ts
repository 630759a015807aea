import { noted } from '$lib/server/accounts/door.ts';
import { answering, body } from '$lib/server/answer.ts';
import { keepVerdict } from '$lib/server/flows.ts';
import { summarySchema } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

/** What the browser's checks said of a revision, for the shelf. */
export const PUT: RequestHandler = answering(async (event) => {
  const { params, request } = event;
  const { revision, summary } = await body(request, summarySchema, 10_000);
  if (await keepVerdict(params.id, revision, summary))
    await noted(event, 'verdict put', { flow: params.id, detail: `${summary.failing} failing, revision ${revision}` });
  return new Response(null, { status: 204 });
});
