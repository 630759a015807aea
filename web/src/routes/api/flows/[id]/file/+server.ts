import { write } from '@crow-lane/core/document/write';
import { readFlow } from '$lib/server/flows.ts';
import { etag } from '$lib/server/formats.ts';
import { problem } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

/** The flow as a `.crow.json` file to be saved. */
export const GET: RequestHandler = async ({ params }) => {
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  const name = flow.document.name.replaceAll(/[\\/:*?"<>|\p{Cc}]+/gu, ' ').trim() || 'flow';
  const plain = name.replaceAll(/[^\x20-\x7e]/g, '_');
  return new Response(write(flow.document), {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="${plain}.crow.json"; filename*=UTF-8''${encodeURIComponent(name)}.crow.json`,
      etag: etag(flow.revision)
    }
  });
};
