/** The time by the database's clock, which all servers share: their own may differ. */
import { sql } from 'drizzle-orm';
import { log } from './log.ts';

/** How far the database's clock is before ours, in milliseconds. */
let ahead = 0;

/** Now, by the clock that all servers share. */
export const now = (): Date => new Date(Date.now() + ahead);
/** So many milliseconds before or behind now. */
export const fromNow = (ms: number): Date => new Date(now().getTime() + ms);

export const second = 1000;
export const minute = 60 * second;
export const day = 24 * 60 * minute;

/** Sets our clock by the database's. Differences below a second are the network's. */
export async function setClock(database: { execute(query: ReturnType<typeof sql>): Promise<unknown> }): Promise<void> {
  const began = Date.now();
  const [[row]] = (await database.execute(sql`select unix_timestamp(now(3)) * 1000 as at`)) as [[{ at: string }]];
  const difference = Number(row.at) - (began + Date.now()) / 2;
  const before = ahead;
  ahead = Math.abs(difference) < second ? 0 : Math.round(difference);
  if (Math.abs(ahead - before) > 5 * second)
    log.warn({ seconds: Math.round(ahead / second) }, 'the clock differs from the database');
}
