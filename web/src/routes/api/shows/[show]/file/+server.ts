import { reportFormats } from '@crow-lane/core/formats/report-list';
import { answering, problem } from '$lib/server/answer.ts';
import { reportPolicy, saved } from '$lib/server/formats.ts';
import { showFile } from '$lib/server/shows.ts';
import { work } from '$lib/server/work.ts';
import type { RequestHandler } from './$types';

/** What is on show as a file, or, with `as=report`, what the checks said of it. */
export const GET: RequestHandler = answering(async ({ params, url }) => {
  const found = await showFile(params.show);
  if (!found) return problem(404, 'This is not on show; it may have been withdrawn.');
  const { document, report, name, revision } = found;
  if (url.searchParams.get('as') === 'report') {
    if (!report) return problem(404, 'The checks have not looked at this yet.');
    const told = await work({ task: 'report', document, report, revision, format: 'html' });
    return new Response(told, { headers: { 'content-type': reportFormats.html.type, ...reportPolicy } });
  }
  const text = await work({ task: 'write', document, format: 'json', shows: [], id: params.show });
  return new Response(text, { headers: saved(name, 'json') });
});
