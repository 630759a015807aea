import { error } from '@sveltejs/kit';
import { trouble } from '$lib/trouble.ts';
import { isDown } from '$lib/server/database.ts';
import { listFlows } from '$lib/server/flows.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  try {
    return { flows: await listFlows() };
  } catch (problem) {
    if (isDown(problem)) error(503, trouble.database);
    throw problem;
  }
};
