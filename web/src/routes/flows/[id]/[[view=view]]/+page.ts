import { error } from '@sveltejs/kit';
import { trouble } from '$lib/trouble.ts';
import { Failed, fetchFlow, fetchReport, fetchWords, Refused } from '$lib/flow/api.ts';
import { openingWords } from '$lib/flow/open-flow.svelte.ts';
import type { PageLoad } from './$types';

// the lane is measured and drawn in the browser
export const ssr = false;

export const load: PageLoad = async ({ params }) => {
  try {
    const [start, words, checked] = await Promise.all([
      fetchFlow(params.id),
      fetchWords(params.id, openingWords),
      fetchReport(params.id)
    ]);
    const report = checked?.revision === start.revision ? checked.report : undefined;
    return { id: params.id, start, words, report };
  } catch (problem) {
    if (problem instanceof Refused) error(problem.status, problem.message);
    if (problem instanceof Failed) error(500, problem.message);
    error(503, (problem as Error).message || trouble.server);
  }
};
