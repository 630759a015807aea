/** Keeping edits: each as the next revision of its flow, fitted to what others have changed since its base. */
import { and, desc, eq, gt, inArray, isNull } from 'drizzle-orm';
import type { ReadError } from '@crow-lane/core/document/read';
import { touches, type Patch } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { now } from './clock.ts';
import { transaction, type Executor } from './database.ts';
import { flows, revisions, snapshots, type RevisionKind } from './schema.ts';
import { documentOf, fitAsText, fitEdits } from './fit.ts';
import { isLight, work } from './work.ts';

export interface Edit {
  editId: string;
  kind: RevisionKind;
  label: string;
  author: string;
  /** A JSON Patch, as the text that was sent. */
  patch: string;
  /** The revision the patch was made on. */
  base: number;
}

/** A revision as it is told: its patch is JSON text. */
export interface Revision {
  number: number;
  editId: string;
  kind: RevisionKind;
  label: string;
  author: string;
  at: Date;
  patch: string;
}

export type EditResult =
  /** `fresh` where it was not kept before. */
  | { done: 'kept'; revision: Revision; fresh: boolean }
  | { done: 'gone' }
  | { done: 'conflict'; pointer: string; revision: number; document: string; by?: { author: string; label: string } }
  | { done: 'invalid'; status: 400 | 422; title: string; errors: ReadError[] }
  | { done: 'unknown base'; revision: number };

interface Waiting {
  edit: Edit;
  give: (result: EditResult) => void;
  fail: (error: unknown) => void;
}

/** By flow the edits that wait for those before them. */
const lines = new Map<string, Waiting[]>();
/** So many edits of a flow are kept in one transaction. */
const together = 40;

/** Keeps an edit. One that is sent twice is kept once. */
export function keepEdit(flow: string, edit: Edit): Promise<EditResult> {
  return new Promise((give, fail) => {
    const line = lines.get(flow);
    if (line) return void line.push({ edit, give, fail });
    lines.set(flow, [{ edit, give, fail }]);
    // others that arrive in the same moment go along
    setImmediate(() => void keepLine(flow));
  });
}

/** What comes while one transaction is on its way waits, and goes together into the next: its row is locked once for all. */
async function keepLine(flow: string): Promise<void> {
  const line = lines.get(flow)!;
  while (line.length > 0) {
    const some = line.splice(0, together);
    try {
      const results = await keepSome(
        flow,
        some.map(({ edit }) => edit)
      );
      some.forEach(({ give }, index) => give(results[index]!));
    } catch (error) {
      if (some.length === 1) some[0]!.fail(error);
      // one edit that cannot be kept takes no other with it
      else for (const { edit, give, fail } of some) await keepSome(flow, [edit]).then(([result]) => give(result!), fail);
    }
  }
  lines.delete(flow);
}

/** A document as it is kept, and parsed where it is small. */
interface Known {
  revision: number;
  text: string;
  document?: FlowDocument;
}

/** The newest documents of the small flows that were edited last, so that they are not fetched and parsed for each edit. */
const recent = new Map<string, Known>();
const mostRecent = 50;

async function keepSome(flow: string, edits: Edit[]): Promise<EditResult[]> {
  const { results, after } = await transaction((tx) => keepIn(tx, flow, edits));
  recent.delete(flow);
  if (after?.document) recent.set(flow, after);
  if (recent.size > mostRecent) recent.delete(recent.keys().next().value!);
  return results;
}

async function keepIn(tx: Executor, id: string, edits: Edit[]): Promise<{ results: EditResult[]; after?: Known | undefined }> {
  const [flow] = await tx
    .select({ revision: flows.revision })
    .from(flows)
    .where(and(eq(flows.id, id), isNull(flows.deletedAt)))
    .for('update');
  if (!flow) return { results: edits.map(() => ({ done: 'gone' })) };
  const results = new Map<string, EditResult>();
  const known = await tx
    .select(told)
    .from(revisions)
    .where(and(eq(revisions.flowId, id), inArray(revisions.editId, [...new Set(edits.map(({ editId }) => editId))])));
  for (const revision of known) results.set(revision.editId, { done: 'kept', revision, fresh: false });
  for (const { editId, base } of edits)
    if (!results.has(editId) && base > flow.revision) results.set(editId, { done: 'unknown base', revision: flow.revision });
  const fresh = new Map(edits.filter(({ editId }) => !results.has(editId)).map((edit) => [edit.editId, edit]));
  let after = recent.get(id);
  if (fresh.size > 0) {
    if (after?.revision !== flow.revision) {
      const [row] = await tx.select({ text: flows.document }).from(flows).where(eq(flows.id, id));
      after = { revision: flow.revision, text: row!.text };
    }
    const made = await keepFresh(tx, id, after!, [...fresh.values()]);
    for (const [editId, result] of made.results) results.set(editId, result);
    after = made.after;
  }
  return { results: edits.map(({ editId }) => results.get(editId)!), after };
}

/** What is told of a revision. */
export const told = {
  number: revisions.number,
  editId: revisions.editId,
  kind: revisions.kind,
  label: revisions.label,
  author: revisions.author,
  at: revisions.at,
  patch: revisions.patch
};

async function keepFresh(
  tx: Executor,
  id: string,
  known: Known,
  edits: Edit[]
): Promise<{ results: [string, EditResult][]; after: Known }> {
  const { revision: present, text: before } = known;
  const task = { task: 'fit', document: before, revision: present, edits } as const;
  const here = isLight(task) ? fitEdits(known.document ?? documentOf(before), present, edits) : undefined;
  const fit = here ? fitAsText(here) : await work(task);
  const kept: (typeof revisions.$inferInsert)[] = [];
  const results: [string, EditResult][] = [];
  const at = now();
  for (const [index, { editId, kind, label, author, base }] of edits.entries()) {
    const result = fit.results[index]!;
    if (result.done === 'kept') {
      const number = present + kept.length + 1;
      const revision: Revision = { number, editId, kind, label, author, at, patch: result.patch };
      kept.push({ flowId: id, ...revision, inverse: result.inverse });
      results.push([editId, { done: 'kept', revision, fresh: true }]);
    } else if (result.done === 'conflict') {
      const by = await whoChanged(tx, id, base, result.pointer);
      results.push([editId, { ...result, revision: present, document: before, ...(by ? { by } : {}) }]);
    } else results.push([editId, result]);
  }
  if (kept.length > 0) {
    await tx.insert(revisions).values(kept);
    const { document, described, snapshots: made } = fit;
    if (made.length > 0) await tx.insert(snapshots).values(made.map((each) => ({ flowId: id, ...each })));
    await tx
      .update(flows)
      .set({ revision: present + kept.length, changedAt: at, document, ...described })
      .where(eq(flows.id, id));
  }
  const after = { revision: present + kept.length, text: kept.length > 0 ? fit.document : before };
  return { results, after: here ? { ...after, document: here.document } : after };
}

/** So many revisions are searched for who changed the same part. */
const searched = 100;

/** The newest revision behind `base` that changed what a pointer names; undefined when none did. */
async function whoChanged(tx: Executor, id: string, base: number, pointer: string) {
  const newer = await tx
    .select({ author: revisions.author, label: revisions.label, patch: revisions.patch })
    .from(revisions)
    .where(and(eq(revisions.flowId, id), gt(revisions.number, base)))
    .orderBy(desc(revisions.number))
    .limit(searched);
  const found = newer.find(({ patch }) => touches(JSON.parse(patch) as Patch, pointer));
  return found && { author: found.author, label: found.label };
}
