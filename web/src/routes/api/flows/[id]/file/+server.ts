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
import { etag, saved } from '$lib/server/formats.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** The flow as a file to be saved: a `.crow.json` one, or in another form. */
export const GET: RequestHandler = answering(async ({ params, url }) => {
  const format = (url.searchParams.get('as') ?? 'json') as FlowFormat;
  if (!Object.hasOwn(flowFormats, format)) return problem(400, `"as" is one of ${flowFormatNames.join(', ')}.`);
  const shows = url.searchParams.getAll('show') as PagePart[];
  if (shows.some((part) => !Object.hasOwn(pageParts, part))) return problem(400, `"show" is one of ${pagePartNames.join(', ')}.`);
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  return new Response(await work({ task: 'write', document: flow.document, format, shows, id: params.id }), {
    headers: { ...saved(flow.name, format), etag: etag(flow.revision) }
  });
});
