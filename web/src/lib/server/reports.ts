/** What the server's checks said, by revision. */
import { and, desc, eq, lt } from 'drizzle-orm';
import type { Report } from '@crow-lane/core/check/report';
import { db } from './database.ts';
import { reports } from './schema.ts';

/** So many revisions of a flow have their report kept, the newest. */
const most = 10;

/** Keeps a report. Routes of what holds are long all together and found again at any time: only their length stays. */
export async function keepReport(flowId: string, revision: number, limit: number, whole: Report): Promise<void> {
  const checks = whole.checks.map(({ route, ...verdict }) =>
    verdict.outcome === 'fails' && route ? { ...verdict, route } : verdict
  );
  const report: Report = { ...whole, checks };
  const at = new Date();
  await db().insert(reports).values({ flowId, revision, limit, report, at }).onDuplicateKeyUpdate({ set: { limit, report, at } });
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

/** The report on a revision that looked at up to at least so many states, or at all there are. */
export async function findReport(flowId: string, revision: number, limit: number): Promise<Report | undefined> {
  const [row] = await db()
    .select({ report: reports.report, limit: reports.limit })
    .from(reports)
    .where(and(eq(reports.flowId, flowId), eq(reports.revision, revision)));
  return row && (row.report.complete || row.limit >= limit) ? row.report : undefined;
}
