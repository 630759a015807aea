/** Talking to the server: one function a request, with errors a person can read. */
import type { Report } from '@crow-lane/core/report/report';
import { cut } from '@crow-lane/core/document/cut';
import { filled } from '@crow-lane/core/document/fill';
import type { Patch } from '@crow-lane/core/document/patch';
import type { ReadError } from '@crow-lane/core/document/read';
import type { FlowDocument } from '@crow-lane/core/document/types';
import type { Present } from '../present.ts';
import type { Me, Right } from '../rights.ts';
import type { Summary } from '../summary.ts';
import { trouble } from '../trouble.ts';

/** A revision in words. */
export interface RevisionWords {
  number: number;
  editId: string;
  kind: 'edit' | 'undo' | 'redo';
  label: string;
  author: string;
  at: string;
}

/** A revision with what it changed. */
export interface RevisionNote extends RevisionWords {
  patch: Patch;
}

/** The server refused: trying the same again will not help. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly errors: ReadError[] = [],
    /** Of a conflict: who has changed the same part, and how. */
    readonly by?: { author: string; label: string }
  ) {
    super(message);
  }
}

/** What is needed is not there: the server, what leads to it, or its database. It may be back at any time. */
export class Unreachable extends Error {}

/** The server has tried and failed. */
export class Failed extends Error {}

/** Said by a server, or by a proxy before it, when something else is not there. */
const away = new Set([502, 503, 504]);

export async function ask(path: string, init: RequestInit = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new Unreachable(trouble.server);
  }
  if (response.ok) return response;
  const details = (await response.json().catch(() => ({}))) as {
    title?: string;
    errors?: ReadError[];
    by?: { author: string; label: string };
  };
  // a sign-in has ended: with the next one all goes on
  if (response.status === 401) throw new Unreachable(trouble.signedOut);
  if (away.has(response.status)) throw new Unreachable(details.title ?? trouble.server);
  if (response.status >= 500) throw new Failed(details.title ?? trouble.fault);
  throw new Refused(details.title ?? `The server refused (${response.status}).`, response.status, details.errors, details.by);
}

/** Whether the server can do its work now. */
export async function serverIsWell(): Promise<boolean> {
  return await ask('/api/health').then(
    () => true,
    () => false
  );
}

export interface SentEdit {
  editId: string;
  kind: 'edit' | 'undo' | 'redo';
  label: string;
  patch: Patch;
  author: string;
}

/** Sends an edit made on revision `base`. Sending it twice keeps it once. */
export async function sendEdit(flow: string, base: number, edit: SentEdit): Promise<RevisionNote> {
  const response = await ask(`/api/flows/${flow}`, {
    method: 'PATCH',
    headers: {
      'content-type': 'application/json-patch+json',
      'if-match': `"${base}"`,
      'idempotency-key': edit.editId,
      'edit-kind': edit.kind,
      'edit-label': encodeURIComponent(cut(edit.label, 300).toWellFormed()),
      'edit-author': encodeURIComponent(edit.author.toWellFormed())
    },
    body: JSON.stringify(edit.patch)
  });
  return ((await response.json()) as { revision: RevisionNote }).revision;
}

/** A flow as it was opened: what may be done with it, and by whom. */
export interface FetchedFlow {
  document: FlowDocument;
  revision: number;
  may: Right;
  me: Me;
}

/** A flow as it is now, or as it was at a revision. */
export async function fetchFlow(flow: string, revision?: number): Promise<FetchedFlow> {
  const response = await ask(`/api/flows/${flow}${revision === undefined ? '' : `?revision=${revision}`}`);
  const found = (await response.json()) as FetchedFlow;
  // what was kept before a list of the document existed lacks it
  return { ...found, document: filled(found.document) };
}

async function fetchList<T extends RevisionWords>(flow: string, query: string): Promise<T[]> {
  return ((await (await ask(`/api/flows/${flow}/revisions?${query}`)).json()) as { revisions: T[] }).revisions;
}

/** The last revisions before `before` (all when undefined) in words, newest first. */
export const fetchWords = (flow: string, limit: number, before?: number): Promise<RevisionWords[]> =>
  fetchList(flow, `limit=${limit}${before === undefined ? '' : `&before=${before}`}`);

/** Those of the edits that the server has kept. */
export const fetchKept = (flow: string, edits: string[]): Promise<RevisionWords[]> =>
  fetchList(flow, edits.map((edit) => `edit=${edit}`).join('&'));

/** The revisions behind `after` with what they changed, oldest first, at most 100. */
export const fetchPatches = (flow: string, after: number, limit: number): Promise<RevisionNote[]> =>
  fetchList(flow, `after=${after}&limit=${limit}`);

/** What takes a revision back. */
export async function fetchInverse(flow: string, revision: number): Promise<Patch> {
  return ((await (await ask(`/api/flows/${flow}/revisions/${revision}`)).json()) as { inverse: Patch }).inverse;
}

/** What a stream of live changes would tell: the newest revision, some of those behind `after`, and who is there. */
export async function fetchChanges(
  flow: string,
  after: number
): Promise<{ revision: number; revisions: RevisionNote[]; present: Present[] }> {
  return (await (await ask(`/api/flows/${flow}/changes?after=${after}`)).json()) as Awaited<ReturnType<typeof fetchChanges>>;
}

export async function sendVerdict(flow: string, revision: number, summary: Summary): Promise<void> {
  await ask(`/api/flows/${flow}/verdict`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ revision, summary })
  });
}

/** What the server's checks said of the present revision, where they have been made; undefined where not. */
export async function fetchReport(flow: string): Promise<{ revision: number; report: Report } | undefined> {
  const response = await fetch(`/api/flows/${flow}/checks`).catch(() => undefined);
  if (response?.status !== 200) return undefined;
  const revision = Number(/\d+/.exec(response.headers.get('etag') ?? '')?.[0]);
  return { revision, report: (await response.json()) as Report };
}

/** Has the server check a revision; gives the address of the check. */
export async function sendCheck(flow: string, revision: number): Promise<string> {
  const response = await ask(`/api/flows/${flow}/checks`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ revision })
  });
  return response.headers.get('location')!;
}

/** Waits for a check of the server to end; tells whether it found anything. */
export async function checkEnded(check: string, signal: AbortSignal): Promise<boolean> {
  // asked now and then: streams are few, and others need them
  for (let wait = 200; !signal.aborted; wait = Math.min(wait * 1.5, 3000)) {
    const { state } = (await (await ask(check)).json()) as { state: string };
    if (state !== 'waiting' && state !== 'running') return state === 'done';
    await new Promise((done) => setTimeout(done, wait));
  }
  return false;
}

/** Makes a flow from the text of a file; `Refused` lists what is wrong with it. */
export async function sendFile(text: string): Promise<string> {
  const response = await ask('/api/flows', { method: 'POST', headers: { 'content-type': 'application/json' }, body: text });
  return ((await response.json()) as { id: string }).id;
}

export async function copyFlow(flow: string): Promise<string> {
  return ((await (await ask(`/api/flows/${flow}/copy`, { method: 'POST' })).json()) as { id: string }).id;
}

/** Deletes a flow so that it can be brought back, or for good. */
export async function deleteFlow(flow: string, forever = false): Promise<void> {
  await ask(`/api/flows/${flow}${forever ? '?forever' : ''}`, { method: 'DELETE' });
}

export async function restoreFlow(flow: string): Promise<void> {
  await ask(`/api/flows/${flow}/restore`, { method: 'POST' });
}

/** Tells that a page has the flow open. */
export async function sendPresent(flow: string, present: Present): Promise<void> {
  await ask(`/api/flows/${flow}/presence`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(present)
  });
}

/** Tells that a page is closed; goes out even while it closes. */
export async function sendGone(flow: string, client: string): Promise<void> {
  await ask(`/api/flows/${flow}/presence?client=${client}`, { method: 'DELETE', keepalive: true });
}
