import { answering, problem } from '$lib/server/answer.ts';
import { readFlow } from '$lib/server/flows.ts';
import { etag } from '$lib/server/formats.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** The flow as a `.crow.json` file to be saved. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  const name = flow.name.replaceAll(/[\\/:*?"<>|\p{Cc}]+/gu, ' ').trim() || 'flow';
  const plain = name.replaceAll(/[^\x20-\x7e]/g, '_');
  return new Response(await work({ task: 'write', document: flow.document }), {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="${plain}.crow.json"; filename*=UTF-8''${encodeURIComponent(name)}.crow.json`,
      etag: etag(flow.revision)
    }
  });
});
