/** Who has a flow open. Kept in the database, so that it is the same whichever server one is connected to. */
import { and, eq, gt, lt } from 'drizzle-orm';
import type { Present } from '../present.ts';
import { db } from './database.ts';
import { presence } from './schema.ts';

/** A page tells that it is there every few seconds; one that has been silent for this long is gone. In milliseconds. */
const silence = 20_000;

/** Notes that a page is there, and forgets those long gone. */
export async function notePresence(flowId: string, { client, name, place }: Present): Promise<void> {
  const at = new Date();
  const [row] = await db()
    .select({ at: presence.at })
    .from(presence)
    .where(and(eq(presence.flowId, flowId), eq(presence.client, client)));
  if (row) {
    await db()
      .update(presence)
      .set({ name, place, at })
      .where(and(eq(presence.flowId, flowId), eq(presence.client, client)));
    return;
  }
  await db().insert(presence).values({ flowId, client, name, place, at }).onDuplicateKeyUpdate({ set: { name, place, at } });
  await db()
    .delete(presence)
    .where(and(eq(presence.flowId, flowId), lt(presence.at, new Date(at.getTime() - 10 * silence))));
}

export async function endPresence(flowId: string, client: string): Promise<void> {
  await db()
    .delete(presence)
    .where(and(eq(presence.flowId, flowId), eq(presence.client, client)));
}

/** The pages that have a flow open, in a fixed order. */
export async function presentAt(flowId: string): Promise<Present[]> {
  const since = new Date(Date.now() - silence);
  return db()
    .select({ client: presence.client, name: presence.name, place: presence.place })
    .from(presence)
    .where(and(eq(presence.flowId, flowId), gt(presence.at, since)))
    .orderBy(presence.client);
}
