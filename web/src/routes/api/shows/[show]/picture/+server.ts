import { answering, problem } from '$lib/server/answer.ts';
import { showPicture } from '$lib/server/shows.ts';
import type { RequestHandler } from './$types';

/** The picture of what is on show, as SVG: its lane, or the plan of a level. */
export const GET: RequestHandler = answering(async ({ params }) => {
  const picture = await showPicture(params.show);
  if (picture === undefined) return problem(404, 'This is not on show; it may have been withdrawn.');
  return new Response(picture, {
    headers: {
      'content-type': 'image/svg+xml',
      'cache-control': 'private, max-age=300',
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'"
    }
  });
});
