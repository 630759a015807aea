import { meOf, noted } from '$lib/server/accounts/door.ts';
import { rightTo } from '$lib/server/accounts/may.ts';
import { answering, bodyText, jsonText, mostBytes, numberIn, problem, valid } from '$lib/server/answer.ts';
import { keepEdit } from '$lib/server/edits.ts';
import { setDeleted } from '$lib/server/flows.ts';
import { flowAt } from '$lib/server/history.ts';
import { announce } from '$lib/server/live.ts';
import { log } from '$lib/server/log.ts';
import { editHeaders, etag, headerText, ifMatch, revisionJson } from '$lib/server/formats.ts';
import { purgeFlow } from '$lib/server/purge.ts';
import type { RequestHandler } from './$types';

const gone = () => problem(404, 'There is no such flow. It may have been deleted.');

/** A flow as it is now, or as it was at `revision`. */
export const GET: RequestHandler = answering(async ({ params, url, locals }) => {
  const flow = await flowAt(params.id, numberIn(url, 'revision'));
  if (!flow) return gone();
  const may = await rightTo(locals.who, params.id);
  const about = JSON.stringify({ revision: flow.revision, may, me: meOf(locals.who) });
  return jsonText(`{"document":${flow.document},${about.slice(1)}`, { etag: etag(flow.revision) });
});

/** An edit: a JSON Patch on the revision that If-Match names, fitted to what has changed since or refused. */
export const PATCH: RequestHandler = answering(async ({ params, request, locals }) => {
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
      // where there are accounts an author is one of them, whatever a header says
      author: 'name' in locals.who ? locals.who.name : headerText(request, 'edit-author')
    },
    editHeaders
  );
  const patch = await bodyText(request, mostBytes);
  const result = await keepEdit(params.id, { ...about, patch, base });
  switch (result.done) {
    case 'kept': {
      const { revision, fresh } = result;
      if (fresh) {
        announce(params.id, revision);
        log.info({ flow: params.id, revision: revision.number, kind: about.kind }, 'edit kept');
      }
      return jsonText(`{"revision":${revisionJson(revision)}}`, { etag: etag(revision.number) });
    }
    case 'gone':
      return gone();
    case 'unknown base':
      return problem(412, `Revision ${base} is not known here; the newest is ${result.revision}.`, { revision: result.revision });
    case 'invalid':
      return problem(result.status, result.title, { errors: result.errors });
    case 'conflict': {
      const { pointer, by, revision, document } = result;
      const told = JSON.stringify({ type: 'about:blank', title: conflict, status: 409, pointer, by });
      const versions = `"yours":${patch},"theirs":{"revision":${revision},"document":${document}}`;
      return new Response(`${told.slice(0, -1)},${versions}}`, {
        status: 409,
        headers: { 'content-type': 'application/problem+json' }
      });
    }
  }
});
const conflict = 'Another edit has changed the same part.';

/** Deletes a flow so that it can be brought back, or, with `forever`, for good. */
export const DELETE: RequestHandler = answering(async (event) => {
  const { params, url } = event;
  const forever = url.searchParams.has('forever');
  if (!(await (forever ? purgeFlow(params.id) : setDeleted(params.id, true)))) return gone();
  log.info({ flow: params.id, forever }, 'flow deleted');
  await noted(event, forever ? 'flow deleted for good' : 'flow deleted', { flow: params.id });
  return new Response(null, { status: 204 });
});
