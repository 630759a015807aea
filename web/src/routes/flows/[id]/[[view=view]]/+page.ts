import { error } from '@sveltejs/kit';
import { fetchFlow, fetchReport, fetchRevisions, Refused } from '$lib/flow/api.ts';
import type { PageLoad } from './$types';

// the lane is measured and drawn in the browser
export const ssr = false;

export const load: PageLoad = async ({ params }) => {
  try {
    const [start, history, checked] = await Promise.all([
      fetchFlow(params.id),
      fetchRevisions(params.id, 'limit=1000'),
      fetchReport(params.id)
    ]);
    const report = checked?.revision === start.revision ? checked.report : undefined;
    return { id: params.id, start, history, report };
  } catch (problem) {
    if (problem instanceof Refused) error(problem.status, problem.message);
    error(503, 'The server cannot be reached. Try again in a moment.');
  }
};
