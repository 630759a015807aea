import Joi from 'joi';
import { includes } from '$lib/rights.ts';
import { stillMay } from '$lib/server/accounts/door.ts';
import { rightsTo } from '$lib/server/accounts/may.ts';
import { answering, problem, valid } from '$lib/server/answer.ts';
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
export const GET: RequestHandler = answering(async (event) => {
  const { url, locals } = event;
  const named = url.searchParams.getAll('flow').map((text) => {
    const [flow, after] = text.split(':');
    // a flow begins at revision 1, which is no edit
    return { flow, after: Math.max(1, Number(after)) };
  });
  const heard = valid(named, heardSchema) as { flow: string; after: number }[];
  if (locals.who.is === 'everybody') return liveStream(heard, stillMay(event, []));
  // a flow that is closed to somebody silences no other
  const rights = await rightsTo(
    locals.who,
    heard.map(({ flow }) => flow)
  );
  const open = heard.filter(({ flow }) => includes(rights.get(flow), 'read'));
  if (open.length === 0) return problem(404, 'There are no such flows.');
  return liveStream(
    open,
    stillMay(
      event,
      open.map(({ flow }) => flow)
    )
  );
});
