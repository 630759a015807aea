import { error } from '@sveltejs/kit';
import { trouble } from '$lib/trouble.ts';
import { meOf } from '$lib/server/accounts/door.ts';
import { isDown } from '$lib/server/nodes.ts';
import { listFlows } from '$lib/server/flows.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { who } }) => {
  try {
    return { ...(await listFlows(who)), me: meOf(who) };
  } catch (problem) {
    if (isDown(problem)) error(503, trouble.database);
    throw problem;
  }
};
