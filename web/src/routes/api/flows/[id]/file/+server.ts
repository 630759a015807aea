import {
  flowFormatNames,
  flowFormats,
  pagePartNames,
  pageParts,
  type FlowFormat,
  type PagePart
} from '@crow-lane/core/formats/flow-list';
import { answering, problem } from '$lib/server/answer.ts';
import { readFlow } from '$lib/server/flows.ts';
import { etag } from '$lib/server/formats.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** The flow as a file to be saved: a `.crow.json` one, or in another form. */
export const GET: RequestHandler = answering(async ({ params, url }) => {
  const format = (url.searchParams.get('as') ?? 'json') as FlowFormat;
  if (!Object.hasOwn(flowFormats, format)) return problem(400, `"as" is one of ${flowFormatNames.join(', ')}.`);
  const shows = url.searchParams.getAll('show') as PagePart[];
  if (shows.some((part) => !Object.hasOwn(pageParts, part))) return problem(400, `"show" is one of ${pagePartNames.join(', ')}.`);
  const { type, ending } = flowFormats[format];
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  const name = flow.name.replaceAll(/[\\/:*?"<>|\p{Cc}]+/gu, ' ').trim() || 'flow';
  const plain = name.replaceAll(/[^\x20-\x7e]/g, '_');
  return new Response(await work({ task: 'write', document: flow.document, format, shows, id: params.id }), {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${plain}.${ending}"; filename*=UTF-8''${encodeURIComponent(name)}.${ending}`,
      etag: etag(flow.revision)
    }
  });
});
