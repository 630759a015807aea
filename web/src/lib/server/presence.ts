/** Who has a flow open. Kept in the database, so that it is the same whichever server one is connected to. */
import { and, eq, gt, inArray, lt } from 'drizzle-orm';
import type { Present } from '../present.ts';
import { fromNow, now } from './clock.ts';
import { db } from './database.ts';
import { presence } from './schema.ts';

/** A page tells that it is there every few seconds; one that has been silent for this long is gone. In milliseconds. */
const silence = 20_000;

/** Notes that a page is there, and forgets those long gone. */
export async function notePresence(flowId: string, { client, name, place }: Present): Promise<void> {
  const at = now();
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

/** By flow the pages that have it open, in a fixed order. */
export async function presentIn(ids: string[]): Promise<Map<string, Present[]>> {
  const since = fromNow(-silence);
  const rows = await db()
    .select({ flow: presence.flowId, client: presence.client, name: presence.name, place: presence.place })
    .from(presence)
    .where(and(inArray(presence.flowId, ids), gt(presence.at, since)))
    .orderBy(presence.flowId, presence.client);
  const found = new Map<string, Present[]>();
  for (const { flow, ...present } of rows) found.set(flow, [...(found.get(flow) ?? []), present]);
  return found;
}
