/** The shared shelf: revisions of flows that were put on show, for everybody in the house to look at, play and take. */
import { and, asc, count, desc, eq, exists, inArray, isNull, lte, ne, or, sql } from 'drizzle-orm';
import { cut } from '@crow-lane/core/document/cut';
import Joi from 'joi';
import type { Summary } from '../summary.ts';
import { perPage, showSorts, type Show, type ShowQuery } from '../show.ts';
import { Refusal } from './refusal.ts';
import { briefly } from './brief.ts';
import { now } from './clock.ts';
import { db, transaction } from './database.ts';
import type { Described } from './fit.ts';
import { flows, people, revisions, showFiles, shows, showTags, verdicts, reports } from './schema.ts';

const shown = {
  ...{ id: shows.id, flow: shows.flowId, revision: shows.revision, name: shows.name, summary: shows.summary },
  ...{ authors: shows.authors, by: people.name, places: shows.places, levels: shows.levels, verdict: shows.verdict },
  ...{ played: shows.played, shownAt: shows.shownAt, pictureOf: shows.pictureOf }
};

/** The query of the shared shelf. */
export function showQuery({ searchParams }: URL): ShowQuery {
  const given = Object.fromEntries(
    ['search', 'tag', 'sort', 'page'].flatMap((key) => (searchParams.get(key) ? [[key, searchParams.get(key)]] : []))
  );
  const { error, value } = showSchema.validate(given);
  if (error) throw new Refusal(400, error.message);
  return value as ShowQuery;
}
const showSchema = Joi.object<ShowQuery>({
  search: Joi.string().max(100),
  tag: Joi.string().max(30),
  sort: Joi.valid(...Object.keys(showSorts)),
  page: Joi.number().integer().min(0).max(100_000)
});

/** Those on show that match, a page of them; of each flow its newest. */
export async function browse({ search, tag, sort = 'date', page = 0 }: ShowQuery): Promise<{ shows: Show[]; all: number }> {
  const like = search && `%${search.replaceAll(/[\\%_]/g, '\\$&')}%`;
  const tagged = (is: ReturnType<typeof sql>) =>
    exists(
      db()
        .select({ one: sql`1` })
        .from(showTags)
        .where(and(eq(showTags.show, shows.id), is))
    );
  const found = and(
    isNull(shows.replacedAt),
    like
      ? or(
          ...[shows.name, shows.summary, shows.authors].map((column) => sql`lower(${column}) like lower(${like})`),
          tagged(sql`${showTags.tag} like lower(${like})`)
        )
      : undefined,
    tag ? tagged(sql`${showTags.tag} = ${tag}`) : undefined
  );
  const order = {
    date: [desc(shows.shownAt)],
    name: [asc(sql`lower(${shows.name})`)],
    size: [desc(shows.places)],
    played: [desc(shows.played)]
  }[sort];
  const rows = await db()
    .select(shown)
    .from(shows)
    .leftJoin(people, eq(people.id, shows.by))
    .where(found)
    .orderBy(...order, desc(shows.id))
    .limit(perPage)
    .offset(page * perPage);
  const [all] = await db().select({ all: count() }).from(shows).where(found);
  return { shows: await withTags(rows), all: all!.all };
}

async function withTags(rows: Omit<Show, 'tags'>[]): Promise<Show[]> {
  if (rows.length === 0) return [];
  const ids = rows.map(({ id }) => id);
  const tags = await db().select().from(showTags).where(inArray(showTags.show, ids)).orderBy(asc(showTags.tag));
  return rows.map((row) => ({ ...row, tags: tags.filter(({ show }) => show === row.id).map(({ tag }) => tag) }));
}

/** The tags that are used most, counted now and then: they are shown with every page, and change slowly. */
export const usedTags = (): Promise<string[]> => briefly('tags', countTags, 5000);

async function countTags(): Promise<string[]> {
  const rows = await db()
    .select({ tag: showTags.tag })
    .from(showTags)
    .innerJoin(shows, and(eq(shows.id, showTags.show), isNull(shows.replacedAt)))
    .groupBy(showTags.tag)
    .orderBy(desc(count()), asc(showTags.tag))
    .limit(40);
  return rows.map(({ tag }) => tag);
}

/** One on show, with the other revisions of its flow that were; undefined when there is none. */
export async function readShow(id: string): Promise<{ show: Show; others: Show[] } | undefined> {
  const rows = await db().select(shown).from(shows).leftJoin(people, eq(people.id, shows.by)).where(eq(shows.id, id));
  const [show] = await withTags(rows);
  return show && { show, others: (await showsOf(show.flow)).filter((each) => each.id !== id) };
}

/** What was put on show of a flow, the newest first. */
export async function showsOf(flow: string): Promise<Show[]> {
  const rows = await db()
    .select(shown)
    .from(shows)
    .leftJoin(people, eq(people.id, shows.by))
    .where(eq(shows.flowId, flow))
    .orderBy(desc(shows.revision));
  return await withTags(rows);
}

/** Of which flow it is, and whether that is still there. */
export async function flowOfShow(id: string): Promise<{ id: string; there: boolean } | undefined> {
  const [row] = await db()
    .select({ id: shows.flowId, there: flows.id })
    .from(shows)
    .leftJoin(flows, eq(flows.id, shows.flowId))
    .where(eq(shows.id, id));
  return row && { id: row.id, there: row.there !== null };
}

export async function showFile(id: string) {
  const [row] = await db()
    .select({
      ...{ document: showFiles.document, report: showFiles.report, name: shows.name, revision: shows.revision },
      ...{ flow: shows.flowId, by: people.name }
    })
    .from(showFiles)
    .innerJoin(shows, eq(shows.id, showFiles.show))
    .leftJoin(people, eq(people.id, shows.by))
    .where(eq(showFiles.show, id));
  return row;
}

export async function showPicture(id: string): Promise<string | undefined> {
  const [row] = await db().select({ picture: showFiles.picture }).from(showFiles).where(eq(showFiles.show, id));
  return row?.picture;
}

export interface NewShow {
  flow: string;
  revision: number;
  summary: string;
  tags: string[];
  document: string;
  /** SVG, and of which level it shows the plan; null for the lane. */
  picture: string;
  pictureOf: string | null;
  described: Described;
}

/** Puts a revision on show, or says something else of one that is. Gives its id. */
export async function putOnShow(given: NewShow, by: { id: string | null; name: string }): Promise<string> {
  const { flow, revision, summary, tags, document, picture, pictureOf, described } = given;
  const authors = await authorsOf(flow, revision, by.name);
  return await transaction(async (tx) => {
    const known = await tx
      .select({ id: shows.id, revision: shows.revision })
      .from(shows)
      .where(eq(shows.flowId, flow))
      .orderBy(desc(shows.revision))
      .for('update');
    const same = known.find((each) => each.revision === revision);
    const id = same?.id ?? crypto.randomUUID();
    // an older revision, put on show later, does not take the place of a newer one
    const newer = known.some((each) => each.revision > revision);
    if (same) {
      await tx.update(shows).set({ summary, pictureOf }).where(eq(shows.id, id));
      await tx.update(showFiles).set({ picture }).where(eq(showFiles.show, id));
    } else {
      const [verdict] = await tx
        .select({ summary: verdicts.summary })
        .from(verdicts)
        .where(and(eq(verdicts.flowId, flow), eq(verdicts.revision, revision)));
      const [report] = await tx
        .select({ report: reports.report })
        .from(reports)
        .where(and(eq(reports.flowId, flow), eq(reports.revision, revision)));
      await tx.insert(shows).values({
        ...{ id, flowId: flow, revision, summary, authors, by: by.id, pictureOf, ...described },
        ...{ verdict: verdict?.summary ?? null, played: 0, shownAt: now(), replacedAt: newer ? now() : null }
      });
      await tx.insert(showFiles).values({ show: id, document, picture, report: report?.report ?? null });
      if (!newer)
        await tx
          .update(shows)
          .set({ replacedAt: now() })
          .where(and(eq(shows.flowId, flow), ne(shows.id, id), isNull(shows.replacedAt)));
    }
    await tx.delete(showTags).where(eq(showTags.show, id));
    if (tags.length > 0) await tx.insert(showTags).values(tags.map((tag) => ({ show: id, tag })));
    return id;
  });
}

/** Its owner and those who have edited it up to a revision, in the order of how much; else whoever puts it on show. */
async function authorsOf(flow: string, revision: number, fallback: string): Promise<string> {
  const [owner] = await db()
    .select({ name: people.name })
    .from(flows)
    .innerJoin(people, eq(people.id, flows.owner))
    .where(eq(flows.id, flow));
  const rows = await db()
    .select({ author: revisions.author })
    .from(revisions)
    .where(and(eq(revisions.flowId, flow), lte(revisions.number, revision)))
    .groupBy(revisions.author)
    .orderBy(desc(count()), asc(revisions.author))
    .limit(5);
  const names = [...new Set([...(owner ? [owner.name] : []), ...rows.map(({ author }) => author)])];
  return cut((names.length > 0 ? names : [fallback]).join(', '), 300);
}

/** Takes one off the shelf; the one before it stands there again. Tells of which flow and revision it was. */
export async function withdraw(id: string): Promise<{ flow: string; revision: number }> {
  return await transaction(async (tx) => {
    const [show] = await tx
      .select({ flow: shows.flowId, revision: shows.revision })
      .from(shows)
      .where(eq(shows.id, id))
      .for('update');
    if (!show) throw new Refusal(404, 'This is not on show; it may have been withdrawn.');
    await tx.delete(showTags).where(eq(showTags.show, id));
    await tx.delete(showFiles).where(eq(showFiles.show, id));
    await tx.delete(shows).where(eq(shows.id, id));
    const [before] = await tx
      .select({ id: shows.id })
      .from(shows)
      .where(eq(shows.flowId, show.flow))
      .orderBy(desc(shows.revision))
      .limit(1);
    if (before) await tx.update(shows).set({ replacedAt: null }).where(eq(shows.id, before.id));
    return show;
  });
}

export async function countPlay(id: string): Promise<void> {
  await db()
    .update(shows)
    .set({ played: sql`${shows.played} + 1` })
    .where(eq(shows.id, id));
}

/** What the checks said of a revision, for what is on show of it. */
export async function tellShows(flow: string, revision: number, told: { summary?: Summary; report?: Buffer }): Promise<void> {
  const [row] = await db()
    .select({ id: shows.id })
    .from(shows)
    .where(and(eq(shows.flowId, flow), eq(shows.revision, revision)));
  if (!row) return;
  if (told.summary) await db().update(shows).set({ verdict: told.summary }).where(eq(shows.id, row.id));
  if (told.report) await db().update(showFiles).set({ report: told.report }).where(eq(showFiles.show, row.id));
}
