/** Edits fitted to a document: all that is worked out of them, without the database. Runs here or in a thread. */
import { filled } from '@crow-lane/core/document/fill';
import { apply, change, Conflict, rebase, type Patch } from '@crow-lane/core/document/patch';
import { validateChange, type ReadError } from '@crow-lane/core/document/read';
import { levelsOf, type FlowDocument } from '@crow-lane/core/document/types';
import { unsound, unsoundKey } from '@crow-lane/core/document/unsound';
import { patchSchema } from './formats.ts';

/** An edit as it was sent: its patch is the text of the request's body. */
export interface SentEdit {
  patch: string;
  label: string;
}

export type Fitted =
  | { done: 'kept'; patch: string; inverse: string }
  | { done: 'conflict'; pointer: string }
  | { done: 'invalid'; status: 400 | 422; title: string; errors: ReadError[] };

/** What the shelf shows of a document. */
export interface Described {
  name: string;
  places: number;
  levels: number;
}

export interface Fit {
  document: FlowDocument;
  results: Fitted[];
  /** The document as it was at those of the new revisions whose numbers are multiples of `every`. */
  snapshots: { number: number; document: FlowDocument }[];
}

/** Every so many revisions the whole document is kept. */
export const snapshotEvery = 100;

/** Fits edits to a document of revision `revision`, one after another; each that fits is one revision more. */
export function fitEdits(document: FlowDocument, revision: number, edits: readonly SentEdit[]): Fit {
  const fit: Fit = { document, results: [], snapshots: [] };
  for (const edit of edits) {
    const { result, now } = fitEdit(fit.document, edit);
    fit.results.push(result);
    if (!now) continue;
    fit.document = now;
    revision++;
    if (revision % snapshotEvery === 0) fit.snapshots.push({ number: revision, document: now });
  }
  return fit;
}

function fitEdit(document: FlowDocument, { patch: text, label }: SentEdit): { result: Fitted; now?: FlowDocument } {
  const patch = patchOf(text);
  if ('done' in patch) return { result: patch };
  try {
    const fitted = rebase(patch.patch, document);
    const made = change(
      document,
      label,
      fitted.filter(({ op }) => op !== 'test')
    );
    const now = apply(document, made.patch);
    const errors = validateChange(now, made.patch);
    if (errors.length > 0)
      return { result: { done: 'invalid', status: 422, title: 'This edit would make the flow invalid.', errors } };
    return { result: { done: 'kept', patch: JSON.stringify(made.patch), inverse: JSON.stringify(made.inverse) }, now };
  } catch (error) {
    if (!(error instanceof Conflict)) throw error;
    return { result: { done: 'conflict', pointer: error.pointer } };
  }
}

const refused = (status: 400 | 422, title: string, errors: ReadError[] = []): Fitted => ({
  done: 'invalid',
  status,
  title,
  errors
});

/** A JSON Patch from its text, or why it is none that can be made. */
export function patchOf(text: string): { patch: Patch } | Extract<Fitted, { done: 'invalid' }> {
  const wrong = (...args: Parameters<typeof refused>) => refused(...args) as Extract<Fitted, { done: 'invalid' }>;
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return wrong(400, 'The body is not JSON.');
  }
  const bad = unsound(value);
  if (bad) return wrong(422, 'This edit cannot be kept.', [{ ...bad, pointer: inDocument(value, bad.pointer) }]);
  const { error, value: patch } = patchSchema.validate(value, { convert: false });
  if (error) return wrong(400, error.message);
  for (const { path } of patch!) {
    const message = foreignKey(path);
    if (message !== undefined) return wrong(422, 'This edit cannot be kept.', [{ pointer: path, message }]);
  }
  return { patch: patch! };
}

/** A pointer into a patch as one into the document, where it leads into the value of an operation. */
function inDocument(patch: unknown, pointer: string): string {
  const [, index, rest] = /^\/(\d+)\/value(.*)$/s.exec(pointer) ?? [];
  const path = index === undefined ? undefined : (patch as { path?: unknown }[])[Number(index)]?.path;
  return typeof path === 'string' ? path + rest! : pointer;
}

/** Why a path cannot be one of ours: it would lead out of the document, into the objects of the language. */
function foreignKey(path: string): string | undefined {
  const keys = path.split('/').slice(1);
  const at = keys.findIndex((key, index) => key === 'prototype' && keys[index - 1] === 'constructor');
  return at >= 0 ? 'the key "constructor/prototype" is not known here' : keys.map(unsoundKey).find((each) => each !== undefined);
}

export const describe = (document: FlowDocument): Described => ({
  name: document.name,
  places: Object.keys(document.places).length,
  levels: levelsOf(document).length
});

/** A fit with its documents as the texts that are kept. */
export const fitAsText = ({ document, results, snapshots }: Fit) => ({
  document: JSON.stringify(document),
  described: describe(document),
  results,
  snapshots: snapshots.map((each) => ({ ...each, document: JSON.stringify(each.document) }))
});

/** A document as it is kept; what was kept before a list of the document existed lacks it. */
export const documentOf = (text: string): FlowDocument => filled(JSON.parse(text) as FlowDocument);

/** The document before some revisions: their inverses, newest first, taken back. */
export function takenBack(text: string, inverses: readonly string[]): string {
  const document = inverses.reduce((now, inverse) => apply(now, JSON.parse(inverse) as Patch), documentOf(text));
  return JSON.stringify(document);
}
