import Joi from 'joi';
import { answering, valid } from '$lib/server/answer.ts';
import { idSchema } from '$lib/server/formats.ts';
import { liveStream } from '$lib/server/live.ts';
import type { RequestHandler } from './$types';

/** Flows that one stream may hear of. */
const most = 200;
const heardSchema = Joi.array()
  .items(Joi.object({ flow: idSchema.required(), after: Joi.number().integer().min(0).max(1e9).required() }))
  .min(1)
  .max(most)
  .unique('flow')
  .label('flow');

/** Server-sent events of several flows on one stream: `flow=ID:AFTER`, once for each. */
export const GET: RequestHandler = answering(({ url }) => {
  const named = url.searchParams.getAll('flow').map((text) => {
    const [flow, after] = text.split(':');
    // a flow begins at revision 1, which is no edit
    return { flow, after: Math.max(1, Number(after)) };
  });
  return liveStream(valid(named, heardSchema) as { flow: string; after: number }[]);
});
