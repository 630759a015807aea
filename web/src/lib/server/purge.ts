/** What goes for good: flows that were deleted long ago, and what has ended of accounts. */
import { eq, lt } from 'drizzle-orm';
import { keptDays } from '../rights.ts';
import { forgetEnded } from './accounts/sign-ins.ts';
import { day, fromNow, minute } from './clock.ts';
import { db, transaction } from './database.ts';
import { log } from './log.ts';
import { flows, grants, jobs, links, presence, reports, revisions, snapshots, tokens, verdicts } from './schema.ts';

/** Takes a flow out with all that is kept of it. What was put on show stays on show. Tells whether there was one. */
export async function purgeFlow(id: string): Promise<boolean> {
  return await transaction(async (tx) => {
    const [row] = await tx.select({ id: flows.id }).from(flows).where(eq(flows.id, id)).for('update');
    if (!row) return false;
    for (const table of [revisions, snapshots, verdicts, reports, jobs, presence, grants, links, tokens])
      await tx.delete(table).where(eq(table.flowId, id));
    await tx.delete(flows).where(eq(flows.id, id));
    return true;
  });
}

async function purge(): Promise<void> {
  try {
    const old = await db()
      .select({ id: flows.id })
      .from(flows)
      .where(lt(flows.deletedAt, fromNow(-keptDays * day)))
      .limit(100);
    for (const { id } of old) if (await purgeFlow(id)) log.info({ flow: id }, 'flow deleted for good');
    await forgetEnded();
  } catch (error) {
    log.warn({ err: error }, 'purging');
  }
}

let timer: NodeJS.Timeout | undefined;

/** Begins to look now and then for what has been kept long enough. */
export function servePurging(): void {
  void purge();
  timer = setInterval(() => void purge(), 10 * minute).unref();
}
export function stopPurging(): void {
  clearInterval(timer);
}
