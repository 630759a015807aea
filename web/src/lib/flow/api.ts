/** Talking to the server: one function a request, with errors a person can read. */
import type { Report } from '@crow-lane/core/check/report';
import type { Patch } from '@crow-lane/core/document/patch';
import type { ReadError } from '@crow-lane/core/document/read';
import type { FlowDocument } from '@crow-lane/core/document/types';
import type { Present } from '../present.ts';
import type { Summary } from '../summary.ts';

export interface RevisionNote {
  number: number;
  editId: string;
  kind: 'edit' | 'undo' | 'redo';
  label: string;
  author: string;
  patch: Patch;
  /** Missing in live changes, where nobody needs it. */
  inverse?: Patch;
  at: string;
}

/** The server refused: nothing was changed, and trying again will not help. */
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

/** The server could not be asked: it may be down, or the connection is. */
export class Unreachable extends Error {}

async function ask(path: string, init: RequestInit = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new Unreachable('The server cannot be reached.');
  }
  if (response.ok) return response;
  if (response.status >= 500) throw new Unreachable('The server has a problem.');
  const details = (await response.json().catch(() => ({}))) as {
    title?: string;
    message?: string;
    errors?: ReadError[];
    by?: { author: string; label: string };
  };
  throw new Refused(
    details.title ?? details.message ?? `The server refused (${response.status}).`,
    response.status,
    details.errors,
    details.by
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
      'edit-label': encodeURIComponent(edit.label.slice(0, 300)),
      'edit-author': encodeURIComponent(edit.author)
    },
    body: JSON.stringify(edit.patch)
  });
  return ((await response.json()) as { revision: RevisionNote }).revision;
}

export async function fetchFlow(flow: string): Promise<{ document: FlowDocument; revision: number }> {
  return (await (await ask(`/api/flows/${flow}`)).json()) as { document: FlowDocument; revision: number };
}

export async function fetchRevisions(flow: string, query: string): Promise<RevisionNote[]> {
  return ((await (await ask(`/api/flows/${flow}/revisions?${query}`)).json()) as { revisions: RevisionNote[] }).revisions;
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
  return response?.status === 200 ? ((await response.json()) as { revision: number; report: Report }) : undefined;
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
export function checkEnded(check: string, signal: AbortSignal): Promise<boolean> {
  return new Promise((give) => {
    const events = new EventSource(`${check}/events`);
    const end = (found: boolean) => {
      events.close();
      give(found);
    };
    signal.addEventListener('abort', () => end(false));
    events.addEventListener('job', ({ data }) => {
      const { state } = JSON.parse(data as string) as { state: string };
      if (state !== 'waiting' && state !== 'running') end(state === 'done');
    });
    events.onerror = () => end(false);
  });
}

/** Makes a flow from the text of a file; `Refused` lists what is wrong with it. */
export async function sendFile(text: string): Promise<string> {
  const response = await ask('/api/flows', { method: 'POST', headers: { 'content-type': 'application/json' }, body: text });
  return ((await response.json()) as { id: string }).id;
}

export async function copyFlow(flow: string): Promise<string> {
  return ((await (await ask(`/api/flows/${flow}/copy`, { method: 'POST' })).json()) as { id: string }).id;
}

export async function deleteFlow(flow: string): Promise<void> {
  await ask(`/api/flows/${flow}`, { method: 'DELETE' });
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
