import { json } from '@sveltejs/kit';
import { usualLimit } from '@crow-lane/core/check/explored';
import Joi from 'joi';
import { actorOf, noted } from '$lib/server/accounts/door.ts';
import { answering, body, problem } from '$lib/server/answer.ts';
import { readFlow } from '$lib/server/flows.ts';
import { flowAt } from '$lib/server/history.ts';
import { beginCheck } from '$lib/server/jobs.ts';
import { putOnShow, showsOf } from '$lib/server/shows.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ revision?: number; summary: string; tags: string[]; picture?: string }>({
  revision: Joi.number().integer().min(1).max(1e9),
  summary: Joi.string().allow('').max(600).required(),
  tags: Joi.array()
    .items(
      Joi.string()
        .pattern(/^[\p{L}\p{N}][\p{L}\p{N} -]{0,29}$/u)
        .messages({ 'string.pattern.base': 'A tag has letters, digits, blanks and hyphens, 30 at the most; “{#value}” is none.' })
    )
    .unique()
    .max(10)
    .default([]),
  picture: Joi.string().max(40)
});

/** What of the flow is on show, and which of its levels have a plan that can be its picture. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const flow = await readFlow(params.id);
  if (!flow) return problem(404, 'There is no such flow.');
  return json({ shows: await showsOf(params.id), plans: await work({ task: 'plans', document: flow.document }) });
});

/** Puts a revision (else the present one) on show; its picture is the lane, or the plan of a level. */
export const POST: RequestHandler = answering(async (event) => {
  const { revision, summary, tags, picture: level } = await body(event.request, schema, 4000);
  const flow = await flowAt(event.params.id, revision);
  if (!flow) return problem(404, 'There is no such flow, or no such revision of it.');
  const { document } = flow;
  const picture = await work({ task: 'picture', document, ...(level === undefined ? {} : { level }) });
  if (picture === undefined) return problem(422, 'There is no such plan to be its picture.');
  const { id, name } = actorOf(event);
  const show = await putOnShow(
    {
      ...{ flow: event.params.id, revision: flow.revision, summary: summary.trim(), tags, document, picture },
      pictureOf: level ?? null,
      described: { name: flow.name, places: flow.places, levels: flow.levels }
    },
    { id: id ?? null, name }
  );
  // its verdict comes with it, as soon as there is one
  await beginCheck(event.params.id, flow.revision, flow.places, usualLimit);
  await noted(event, 'put on show', { flow: event.params.id, detail: `${flow.name}, revision ${flow.revision}` });
  return json({ id: show }, { status: 201, headers: { location: `/api/shows/${show}` } });
});
