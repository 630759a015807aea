import { json } from '@sveltejs/kit';
import Joi from 'joi';
import { house, type SharedRight } from '$lib/rights.ts';
import { noted } from '$lib/server/accounts/door.ts';
import { giveAway, grant, rightsOf } from '$lib/server/accounts/grants.ts';
import { findPerson, namesOfPeople } from '$lib/server/accounts/people.ts';
import { answering, body } from '$lib/server/answer.ts';
import { idSchema } from '$lib/server/formats.ts';
import type { RequestHandler } from './$types';

const schema = Joi.object<{ person: string; may: SharedRight | 'own' | null }>({
  person: idSchema.required(),
  may: Joi.valid('play', 'read', 'edit', 'own', null).required()
});

/** Who may do what with a flow, and who there is to share it with. */
export const GET: RequestHandler = answering(async ({ params }) =>
  json({ ...(await rightsOf(params.id)), everybody: await namesOfPeople() })
);

/** Lets a person (or everybody in the house) play, read or edit a flow, or nothing; or gives it to another owner. */
export const PUT: RequestHandler = answering(async (event) => {
  const { params, request } = event;
  const { person, may } = await body(request, schema, 500);
  if (may === 'own') {
    const name = await giveAway(params.id, person);
    await noted(event, 'owner changed', { flow: params.id, detail: name });
  } else {
    await grant(params.id, person, may);
    const name = person === house ? 'everybody' : ((await findPerson(person))?.name ?? '');
    await noted(event, 'rights changed', { flow: params.id, detail: `${name}: ${may ?? 'nothing'}` });
  }
  return json(await rightsOf(params.id));
});
