/** The revisions of a flow: their words, their patches, and the document as it was at any of them. */
import { and, desc, eq, gt, gte, inArray, lt, lte } from 'drizzle-orm';
import { db } from './database.ts';
import { told, type Revision } from './edits.ts';
import { snapshotEvery } from './fit.ts';
import { readFlow, type KeptFlow } from './flows.ts';
import { revisions, snapshots } from './schema.ts';
import { work } from './work.ts';

/** A revision without what it changed. */
export type RevisionWords = Omit<Revision, 'patch'>;

const { patch: _patch, ...words } = told;

/** The last revisions before `before` (all when undefined), newest first. */
export function lastRevisions(id: string, limit: number, before?: number): Promise<RevisionWords[]> {
  const where = before === undefined ? eq(revisions.flowId, id) : and(eq(revisions.flowId, id), lt(revisions.number, before));
  return db().select(words).from(revisions).where(where).orderBy(desc(revisions.number)).limit(limit);
}

/** The revisions that keep these edits, newest first. */
export function revisionsOfEdits(id: string, edits: string[]): Promise<RevisionWords[]> {
  return db()
    .select(words)
    .from(revisions)
    .where(and(eq(revisions.flowId, id), inArray(revisions.editId, edits)))
    .orderBy(desc(revisions.number));
}

/** The revisions behind `after` with their patches, oldest first, at most `limit`. */
export function revisionsAfter(id: string, after: number, limit: number): Promise<Revision[]> {
  return db()
    .select(told)
    .from(revisions)
    .where(and(eq(revisions.flowId, id), gt(revisions.number, after)))
    .orderBy(revisions.number)
    .limit(limit);
}

/** One revision with its patch and its inverse; undefined when there is none of this number. */
export async function readRevision(id: string, number: number): Promise<(Revision & { inverse: string }) | undefined> {
  const [row] = await db()
    .select({ ...told, inverse: revisions.inverse })
    .from(revisions)
    .where(and(eq(revisions.flowId, id), eq(revisions.number, number)));
  return row;
}

/** A flow as it was at a revision, the present one where none is named; undefined when there is no such flow or revision. */
export async function flowAt(id: string, revision?: number): Promise<KeptFlow | undefined> {
  const flow = await readFlow(id);
  if (!flow || revision === undefined || revision === flow.revision) return flow;
  if (revision < 1 || revision > flow.revision) return undefined;
  const [snapshot] = await db()
    .select({ number: snapshots.number, document: snapshots.document })
    .from(snapshots)
    .where(and(eq(snapshots.flowId, id), gte(snapshots.number, revision)))
    .orderBy(snapshots.number)
    .limit(1);
  let { number, document } = snapshot ?? { number: flow.revision, document: flow.document };
  // flows that are older than snapshots get theirs when they are first missed
  while (number - revision > snapshotEvery) {
    const next = Math.floor((number - 1) / snapshotEvery) * snapshotEvery;
    document = await backTo(id, next, number, document);
    number = next;
    await db().insert(snapshots).values({ flowId: id, number, document }).onDuplicateKeyUpdate({ set: { document } });
  }
  return { ...flow, revision, document: number === revision ? document : await backTo(id, revision, number, document) };
}

async function backTo(id: string, revision: number, from: number, document: string): Promise<string> {
  const later = await db()
    .select({ inverse: revisions.inverse })
    .from(revisions)
    .where(and(eq(revisions.flowId, id), gt(revisions.number, revision), lte(revisions.number, from)))
    .orderBy(desc(revisions.number));
  return await work({ task: 'take back', document, inverses: later.map(({ inverse }) => inverse) });
}
