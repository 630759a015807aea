import { json } from '@sveltejs/kit';
import { keepEdit, readFlow, setDeleted } from '$lib/server/flows.ts';
import { announce } from '$lib/server/live.ts';
import { log } from '$lib/server/log.ts';
import { editHeaders, etag, headerText, ifMatch, patchSchema } from '$lib/server/formats.ts';
import { body, problem, valid } from '$lib/server/requests.ts';
import type { RequestHandler } from './$types';

const gone = () => problem(404, 'There is no such flow. It may have been deleted.');

export const GET: RequestHandler = async ({ params }) => {
  const flow = await readFlow(params.id);
  return flow ? json(flow, { headers: { etag: etag(flow.revision) } }) : gone();
};

/** An edit: a JSON Patch on the revision that If-Match names, fitted to what has changed since or refused. */
export const PATCH: RequestHandler = async ({ params, request }) => {
  if (request.headers.get('content-type')?.split(';')[0] !== 'application/json-patch+json') {
    return problem(415, 'An edit is sent as application/json-patch+json.');
  }
  const base = ifMatch(request);
  if (base === undefined) return problem(428, 'Say with If-Match which revision the edit was made on.');
  const about = valid(
    {
      editId: headerText(request, 'idempotency-key'),
      kind: headerText(request, 'edit-kind') ?? 'edit',
      label: headerText(request, 'edit-label'),
      author: headerText(request, 'edit-author')
    },
    editHeaders
  );
  const patch = await body(request, patchSchema, 16_000_000);
  const result = await keepEdit(params.id, { ...about, patch, base });
  switch (result.done) {
    case 'kept':
      announce(params.id, result.revision);
      log.info({ flow: params.id, revision: result.revision.number, kind: about.kind }, 'edit kept');
      return json({ revision: result.revision }, { headers: { etag: etag(result.revision.number) } });
    case 'gone':
      return gone();
    case 'unknown base':
      return problem(412, `Revision ${base} is not known here; the newest is ${result.revision}.`, { revision: result.revision });
    case 'invalid':
      return problem(422, 'After this edit the flow would not be one.', { errors: result.errors });
    case 'conflict':
      return problem(409, 'Somebody has changed the same part since.', {
        pointer: result.pointer,
        by: result.by,
        yours: patch,
        theirs: { revision: result.revision, document: result.document }
      });
  }
};

export const DELETE: RequestHandler = async ({ params }) => {
  if (!(await setDeleted(params.id, true))) return gone();
  log.info({ flow: params.id }, 'flow deleted');
  return new Response(null, { status: 204 });
};
