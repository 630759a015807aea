import { json } from '@sveltejs/kit';
import { usualLimit } from '@crow-lane/core/check/explored';
import Joi from 'joi';
import { actorOf, noted } from '$lib/server/accounts/door.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import { flowAt } from '$lib/server/history.ts';
import { beginCheck } from '$lib/server/jobs.ts';
import { putOnShow, showsOf } from '$lib/server/shows.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ revision?: number; summary: string; tags: string[] }>({
  revision: Joi.number().integer().min(1).max(1e9),
  summary: Joi.string().allow('').max(600).required(),
  tags: Joi.array()
    .items(
      Joi.string()
        .pattern(/^[\p{L}\p{N}][\p{L}\p{N} -]{0,29}$/u)
        .label('tag')
    )
    .unique()
    .max(10)
    .default([])
});

/** What of the flow is on show. */
export const GET: RequestHandler = answering(async ({ params }) => json({ shows: await showsOf(params.id) }));

/** Puts a revision (else the present one) on show. */
export const POST: RequestHandler = answering(async (event) => {
  const { revision, summary, tags } = await body(event.request, schema, 4000);
  const flow = await flowAt(event.params.id, revision);
  if (!flow) return problem(404, 'There is no such flow, or no such revision of it.');
  const { document } = flow;
  const picture = await work({ task: 'picture', document });
  const { id, name } = actorOf(event);
  const show = await putOnShow(
    {
      ...{ flow: event.params.id, revision: flow.revision, summary: summary.trim(), tags, document, picture },
      described: { name: flow.name, places: flow.places, levels: flow.levels }
    },
    { id: id ?? null, name }
  );
  // its verdict comes with it, as soon as there is one
  await beginCheck(event.params.id, flow.revision, flow.places, usualLimit);
  await noted(event, 'put on show', { flow: event.params.id, detail: `${flow.name}, revision ${flow.revision}` });
  return json({ id: show }, { status: 201, headers: { location: `/api/shows/${show}` } });
});
