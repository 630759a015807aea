/** The flows as they are kept. No rule of the game lives here. */
import { and, desc, eq, inArray, isNull, or, sql } from 'drizzle-orm';
import { house } from '../rights.ts';
import { rightsOver, type Who } from './accounts/may.ts';
import { now } from './clock.ts';
import { db, transaction } from './database.ts';
import type { Described } from './fit.ts';
import type { ShelfItem } from '../parts/shelf-words.ts';
import type { Summary } from '../summary.ts';
import { flows, grants, people, verdicts, type Source } from './schema.ts';

/** A flow's document as the text it is kept as, and its revision. */
export interface KeptFlow {
  document: string;
  revision: number;
  name: string;
  places: number;
  levels: number;
}

/** The flows that somebody may at least play, the last changed first, and those they deleted, the last deleted first. */
export async function listFlows(who: Who): Promise<{ flows: ShelfItem[]; deleted: ShelfItem[] }> {
  const rows = await db()
    .select({
      id: flows.id,
      name: flows.name,
      revision: flows.revision,
      places: flows.places,
      levels: flows.levels,
      changedAt: flows.changedAt,
      deletedAt: flows.deletedAt,
      source: flows.source,
      owner: flows.owner,
      ownerName: people.name,
      checked: verdicts.revision,
      summary: verdicts.summary
    })
    .from(flows)
    .leftJoin(verdicts, eq(verdicts.flowId, flows.id))
    .leftJoin(people, eq(people.id, flows.owner))
    .where(mine(who))
    .orderBy(desc(flows.deletedAt), desc(flows.changedAt), flows.id);
  const rights = await rightsOver(who, rows);
  const items = rows.flatMap(({ checked, summary, deletedAt, source, owner: _, ownerName: owner, ...flow }): ShelfItem[] => {
    const may = rights.get(flow.id);
    if (!may || (deletedAt && may !== 'own')) return [];
    const verdict = checked === null || summary === null ? null : { revision: checked, summary };
    return [{ ...flow, owner, may, verdict, ...(deletedAt ? { deletedAt } : {}), ...(source ? { source } : {}) }];
  });
  return { flows: items.filter(({ deletedAt }) => !deletedAt), deleted: items.filter(({ deletedAt }) => deletedAt) };
}

/** Leaves out early what cannot be somebody's: `rightsTo` decides. */
function mine(who: Who) {
  if (who.is === 'everybody' || who.is === 'guest' || who.role === 'admin') return undefined;
  const granted = db()
    .select({ id: grants.flowId })
    .from(grants)
    .where(inArray(grants.person, [who.id, house]));
  const opened = who.is === 'person' ? who.links.map(({ flow }) => flow) : [];
  return or(eq(flows.owner, who.id), inArray(flows.id, granted), ...(opened.length > 0 ? [inArray(flows.id, opened)] : []));
}

/** Undefined when there is no such flow, or it was deleted. */
export async function readFlow(id: string): Promise<KeptFlow | undefined> {
  const [row] = await db()
    .select({
      document: flows.document,
      revision: flows.revision,
      name: flows.name,
      places: flows.places,
      levels: flows.levels
    })
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

/** Of whom a new flow is, and what it was taken from. */
interface Belonging {
  owner?: string | null;
  source?: Source;
  id?: string;
}

/**
 * Keeps a new flow and gives its id. Under an id that is there already nothing is kept, as when two servers put the same
 * demo on the shelf.
 */
export async function createFlow(
  document: string,
  described: Described,
  { owner = null, source, id = crypto.randomUUID() }: Belonging = {}
): Promise<string> {
  await db()
    .insert(flows)
    .values({ id, revision: 1, createdAt: now(), changedAt: now(), document, owner, source: source ?? null, ...described })
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
    .set({ deletedAt: deleted ? now() : null })
    .where(eq(flows.id, id));
  return true;
}

/** Keeps what the checks said, unless a newer revision has been checked already. Tells whether it is another verdict. */
export async function keepVerdict(id: string, revision: number, summary: Summary): Promise<boolean> {
  const at = now();
  return await transaction(async (tx) => {
    const [flow] = await tx.select({ revision: flows.revision }).from(flows).where(eq(flows.id, id)).for('update');
    const [known] = await tx
      .select({ revision: verdicts.revision, summary: verdicts.summary })
      .from(verdicts)
      .where(eq(verdicts.flowId, id));
    if (!flow || revision > flow.revision || (known && known.revision > revision)) return false;
    await tx
      .insert(verdicts)
      .values({ flowId: id, revision, summary, at })
      .onDuplicateKeyUpdate({ set: { revision, summary, at } });
    return known?.summary.failing !== summary.failing || known.summary.complete !== summary.complete;
  });
}
