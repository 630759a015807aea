/** What the server's checks said, by revision. It is kept as gzipped JSON: it is long, repeats itself, and is mostly passed on. */
import { and, desc, eq, lt, sql } from 'drizzle-orm';
import { now } from './clock.ts';
import { db } from './database.ts';
import { reports } from './schema.ts';

/** So many revisions of a flow have their report kept, the newest. */
const most = 10;

export async function keepReport(flowId: string, revision: number, limit: number, report: Buffer): Promise<void> {
  const at = now();
  await db()
    .insert(reports)
    .values({ flowId, revision, limit, report, at })
    .onDuplicateKeyUpdate({ set: { limit, report: sql`values(report)`, at } });
  const kept = await db()
    .select({ revision: reports.revision })
    .from(reports)
    .where(eq(reports.flowId, flowId))
    .orderBy(desc(reports.revision))
    .limit(most);
  const oldest = kept.at(-1)?.revision;
  if (kept.length === most && oldest !== undefined)
    await db()
      .delete(reports)
      .where(and(eq(reports.flowId, flowId), lt(reports.revision, oldest)));
}

export async function findReport(flowId: string, revision: number): Promise<Buffer | undefined> {
  const [row] = await db()
    .select({ report: reports.report })
    .from(reports)
    .where(and(eq(reports.flowId, flowId), eq(reports.revision, revision)));
  return row?.report;
}
