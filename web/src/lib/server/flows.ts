/** The flows as they are kept. No rule of the game lives here. */
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { db, transaction } from './database.ts';
import type { Described } from './fit.ts';
import type { ShelfItem } from '../parts/shelf-words.ts';
import type { Summary } from '../summary.ts';
import { flows, verdicts } from './schema.ts';

/** A flow's document as the text it is kept as, and its revision. */
export interface KeptFlow {
  document: string;
  revision: number;
  name: string;
  places: number;
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

/** Undefined when there is no such flow, or it was deleted. */
export async function readFlow(id: string): Promise<KeptFlow | undefined> {
  const [row] = await db()
    .select({ document: flows.document, revision: flows.revision, name: flows.name, places: flows.places })
    .from(flows)
    .where(and(eq(flows.id, id), isNull(flows.deletedAt)));
  return row;
}

/** The present revision of a flow; undefined when there is no such flow, or it was deleted. */
export async function revisionOf(id: string): Promise<number | undefined> {
  const [row] = await db()
    .select({ revision: flows.revision })
    .from(flows)
    .where(and(eq(flows.id, id), isNull(flows.deletedAt)));
  return row?.revision;
}

/**
 * Keeps a new flow and gives its id. Under an id that is there already nothing is kept, as when two servers put the same
 * demo on the shelf.
 */
export async function createFlow(document: string, described: Described, id: string = crypto.randomUUID()): Promise<string> {
  const now = new Date();
  await db()
    .insert(flows)
    .values({ id, revision: 1, createdAt: now, changedAt: now, document, ...described })
    .onDuplicateKeyUpdate({ set: { id: sql`id` } });
  return id;
}

export async function hasAnyFlow(): Promise<boolean> {
  return (await db().select({ id: flows.id }).from(flows).limit(1)).length > 0;
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
