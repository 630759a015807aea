/** The flows and their revisions as they are kept. No rule of the game lives here. */
import { and, desc, eq, gt, isNull, lt, sql } from 'drizzle-orm';
import { apply, change, Conflict, rebase, touches, type Patch } from '@crow-lane/core/document/patch';
import { filled } from '@crow-lane/core/document/fill';
import { validateChange, type ReadError } from '@crow-lane/core/document/read';
import { levelsOf, type FlowDocument } from '@crow-lane/core/document/types';
import { db, transaction, type Executor } from './database.ts';
import type { Summary } from '../summary.ts';
import { flows, revisions, verdicts, type RevisionKind } from './schema.ts';

export interface ShelfItem {
  id: string;
  name: string;
  revision: number;
  places: number;
  levels: number;
  changedAt: Date;
  /** What the checks said of this or an older revision; null before the first check. */
  verdict: { revision: number; summary: Summary } | null;
}

export interface Revision {
  number: number;
  editId: string;
  kind: RevisionKind;
  label: string;
  author: string;
  patch: Patch;
  inverse: Patch;
  at: Date;
}

/** All flows that are not deleted, the last changed first. */
export async function listFlows(): Promise<ShelfItem[]> {
  const rows = await db()
    .select({
      id: flows.id,
      name: flows.name,
      revision: flows.revision,
      places: flows.places,
      levels: flows.levels,
      changedAt: flows.changedAt,
      checked: verdicts.revision,
      summary: verdicts.summary
    })
    .from(flows)
    .leftJoin(verdicts, eq(verdicts.flowId, flows.id))
    .where(isNull(flows.deletedAt))
    .orderBy(desc(flows.changedAt), flows.id);
  return rows.map(({ checked, summary, ...flow }) => ({
    ...flow,
    verdict: checked === null || summary === null ? null : { revision: checked, summary }
  }));
}

export async function readFlow(id: string): Promise<{ document: FlowDocument; revision: number } | undefined> {
  const [row] = await db()
    .select({ document: flows.document, revision: flows.revision })
    .from(flows)
    .where(and(eq(flows.id, id), isNull(flows.deletedAt)));
  // what was kept before a list of the document existed lacks it
  return row && { ...row, document: filled(row.document) };
}

/** Keeps a new flow and gives its id. */
export async function createFlow(document: FlowDocument, id: string = crypto.randomUUID()): Promise<string> {
  const now = new Date();
  await db()
    .insert(flows)
    .values({ id, revision: 1, createdAt: now, changedAt: now, ...described(document) });
  return id;
}

/** Keeps a flow under a fixed id unless it is there already, as when two servers start at once. */
export async function createOnce(document: FlowDocument, id: string): Promise<void> {
  const now = new Date();
  await db()
    .insert(flows)
    .values({ id, revision: 1, createdAt: now, changedAt: now, ...described(document) })
    .onDuplicateKeyUpdate({ set: { id: sql`id` } });
}

export async function hasAnyFlow(): Promise<boolean> {
  return (await db().select({ id: flows.id }).from(flows).limit(1)).length > 0;
}

function described(document: FlowDocument) {
  return { document, name: document.name, places: Object.keys(document.places).length, levels: levelsOf(document).length };
}

/** Marks a flow deleted or not. Tells whether there was one. */
export async function setDeleted(id: string, deleted: boolean): Promise<boolean> {
  const [row] = await db().select({ id: flows.id }).from(flows).where(eq(flows.id, id));
  if (!row) return false;
  await db()
    .update(flows)
    .set({ deletedAt: deleted ? new Date() : null })
    .where(eq(flows.id, id));
  return true;
}

export interface Edit {
  editId: string;
  kind: RevisionKind;
  label: string;
  author: string;
  patch: Patch;
  /** The revision the patch was made on. */
  base: number;
}

export type EditResult =
  | { done: 'kept'; revision: Revision }
  | { done: 'gone' }
  | { done: 'conflict'; pointer: string; revision: number; document: FlowDocument; by?: { author: string; label: string } }
  | { done: 'invalid'; errors: ReadError[] }
  | { done: 'unknown base'; revision: number };

/** Keeps an edit as the next revision, fitted to what others have changed since its base. An edit sent twice is kept once. */
export function keepEdit(id: string, edit: Edit): Promise<EditResult> {
  return transaction((tx) => keepIn(tx, id, edit));
}

async function keepIn(tx: Executor, id: string, edit: Edit): Promise<EditResult> {
  const [row] = await tx
    .select({ document: flows.document, revision: flows.revision })
    .from(flows)
    .where(and(eq(flows.id, id), isNull(flows.deletedAt)))
    .for('update');
  if (!row) return { done: 'gone' };
  const flow = { ...row, document: filled(row.document) };
  const [known] = await tx
    .select()
    .from(revisions)
    .where(and(eq(revisions.flowId, id), eq(revisions.editId, edit.editId)));
  if (known) return { done: 'kept', revision: withoutFlow(known) };
  if (edit.base > flow.revision) return { done: 'unknown base', revision: flow.revision };

  let made;
  let document;
  try {
    const fitted = rebase(edit.patch, flow.document);
    made = change(
      flow.document,
      edit.label,
      fitted.filter(({ op }) => op !== 'test')
    );
    document = apply(flow.document, made.patch);
  } catch (error) {
    if (!(error instanceof Conflict)) throw error;
    const { pointer } = error;
    const { revision, document: theirs } = flow;
    return { done: 'conflict', pointer, revision, document: theirs, by: await whoChanged(tx, id, edit.base, pointer) };
  }
  const errors = validateChange(document, made.patch);
  if (errors.length > 0) return { done: 'invalid', errors };

  const { base: _base, ...kept } = edit;
  const revision: Revision = { ...kept, number: flow.revision + 1, patch: made.patch, inverse: made.inverse, at: new Date() };
  await tx.insert(revisions).values({ flowId: id, ...revision });
  await tx
    .update(flows)
    .set({ revision: revision.number, changedAt: revision.at, ...described(document) })
    .where(eq(flows.id, id));
  return { done: 'kept', revision };
}

/** The newest revision behind `base` that changed what a pointer names; undefined when none did. */
async function whoChanged(tx: Executor, id: string, base: number, pointer: string) {
  const newer = await tx
    .select({ author: revisions.author, label: revisions.label, patch: revisions.patch })
    .from(revisions)
    .where(and(eq(revisions.flowId, id), gt(revisions.number, base)))
    .orderBy(desc(revisions.number));
  const found = newer.find(({ patch }) => touches(patch, pointer));
  return found && { author: found.author, label: found.label };
}

function withoutFlow({ flowId: _flowId, ...revision }: typeof revisions.$inferSelect): Revision {
  return revision;
}

/** The revisions behind `after`, oldest first, at most `limit`. */
export async function revisionsAfter(id: string, after: number, limit = 1000): Promise<Revision[]> {
  const rows = await db()
    .select()
    .from(revisions)
    .where(and(eq(revisions.flowId, id), gt(revisions.number, after)))
    .orderBy(revisions.number)
    .limit(limit);
  return rows.map(withoutFlow);
}

/** A flow as it was at a revision, the present one where none is named; undefined when there is no such flow or revision. */
export async function flowAt(id: string, revision?: number): Promise<{ document: FlowDocument; revision: number } | undefined> {
  const flow = await readFlow(id);
  if (!flow || revision === undefined || revision === flow.revision) return flow;
  if (revision < 1 || revision > flow.revision) return undefined;
  const later = await revisionsAfter(id, revision, flow.revision - revision);
  const document = later.reduceRight((now, { inverse }) => apply(now, inverse), flow.document);
  return { document, revision };
}

/** The last revisions before `before` (all when undefined), newest first. */
export async function lastRevisions(id: string, limit: number, before?: number): Promise<Revision[]> {
  const where = before === undefined ? eq(revisions.flowId, id) : and(eq(revisions.flowId, id), lt(revisions.number, before));
  const rows = await db().select().from(revisions).where(where).orderBy(desc(revisions.number)).limit(limit);
  return rows.map(withoutFlow);
}

export async function revisionOf(id: string): Promise<number | undefined> {
  const [row] = await db().select({ revision: flows.revision }).from(flows).where(eq(flows.id, id));
  return row?.revision;
}

/** Keeps what the checks said, unless a newer revision has been checked already. */
export async function keepVerdict(id: string, revision: number, summary: Summary): Promise<void> {
  const at = new Date();
  await transaction(async (tx) => {
    const [flow] = await tx.select({ revision: flows.revision }).from(flows).where(eq(flows.id, id)).for('update');
    const [known] = await tx.select({ revision: verdicts.revision }).from(verdicts).where(eq(verdicts.flowId, id));
    if (!flow || revision > flow.revision || (known && known.revision > revision)) return;
    await tx
      .insert(verdicts)
      .values({ flowId: id, revision, summary, at })
      .onDuplicateKeyUpdate({ set: { revision, summary, at } });
  });
}
