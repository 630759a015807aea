import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import type mysql from 'mysql2/promise';
import { minute, setClock } from './clock.ts';
import { log } from './log.ts';
import { isDown, Nodes, nodesOf, patience as nodePatience } from './nodes.ts';
import * as schema from './schema.ts';

export type Database = MySql2Database<typeof schema>;
/** The database or a transaction in it. */
export type Executor = Pick<Database, 'select' | 'insert' | 'update' | 'delete' | 'execute'>;

/** The server cannot run with this database, for a reason that is told in one sentence. */
export class Unfit extends Error {}

let nodes: Nodes | undefined;
let database: Database | undefined;
let watching: NodeJS.Timeout | undefined;

/** The oldest MariaDB that has all we use: `SKIP LOCKED` came with it. */
const oldest = [10, 6];
/** How long a server waits for another that is bringing the tables up to date, in seconds. */
const patience = 120;

/** Connects and brings the tables up to date; called once before the first request. Throws `Unfit` where that cannot be. */
export async function openDatabase(): Promise<Database> {
  if (database) return database;
  const uri = process.env.DATABASE_URL;
  if (!uri) throw new Unfit('DATABASE_URL is not set: "npm start" sets it, or give the address of a MariaDB.');
  try {
    nodes = new Nodes(nodesOf(uri), {
      timezone: 'Z',
      charset: 'utf8mb4',
      connectionLimit: 10,
      connectTimeout: 5000,
      // what is kept as JSON is mostly passed on as it is
      jsonStrings: true
    });
  } catch (error) {
    throw new Unfit(`DATABASE_URL cannot be read: ${(error as Error).message}.`);
  }
  const opened = drizzle(nodes as unknown as mysql.Pool, { schema, mode: 'default' });
  try {
    await bringUpToDate(opened);
  } catch (error) {
    if (isDown(error)) throw new Unfit('The database that DATABASE_URL names does not answer.');
    const code = (error as { cause?: { code?: string } }).cause?.code;
    if (code === 'ER_ACCESS_DENIED_ERROR' || code === 'ER_DBACCESS_DENIED_ERROR')
      throw new Unfit('The database refuses the user or the password that DATABASE_URL names.');
    throw error;
  }
  await setClock(opened);
  watching = setInterval(() => void setClock(opened).catch(() => {}), minute).unref();
  database = opened;
  return opened;
}

async function bringUpToDate(opened: Database): Promise<void> {
  const [[{ version }]] = (await opened.execute(sql`select version() as version`)) as unknown as [[{ version: string }]];
  const found = /^(?:5\.5\.5-)?(\d+)\.(\d+).*mariadb/i.exec(version);
  const [major, minor] = [Number(found?.[1]), Number(found?.[2])];
  if (!found || major < oldest[0]! || (major === oldest[0] && minor < oldest[1]!))
    throw new Unfit(`The database is ${version}; MariaDB ${oldest.join('.')} or newer is needed.`);

  const folder = process.env.CROW_LANE_MIGRATIONS ?? 'drizzle';
  // one at a time: the first start of several servers would make each table twice
  await alone(opened, async () => {
    await refuseNewer(opened, folder);
    await migrate(opened, { migrationsFolder: folder });
  });
}

/**
 * Does something that only one server does at a time. By a row that is leased, as a named lock holds on one node of a cluster
 * only; a server that goes with it lets go of it by not renewing it.
 */
async function alone(opened: Database, act: () => Promise<void>): Promise<void> {
  const holder = crypto.randomUUID();
  await opened.execute(
    sql`create table if not exists leases (name varchar(36) primary key, holder varchar(36) not null, until datetime(3) not null)`
  );
  await opened.execute(sql`insert ignore into leases values ('tables', '', now(3))`);
  /** Takes or renews it. On a cluster one of two that take it at once is told of a deadlock. */
  const take = async () => {
    try {
      const [{ affectedRows }] = (await opened.execute(
        sql`update leases set holder = ${holder}, until = now(3) + interval 20 second where name = 'tables' and (holder = ${holder} or until <= now(3))`
      )) as unknown as [{ affectedRows: number }];
      return affectedRows === 1;
    } catch (error) {
      if (codeOf(error) !== 'ER_LOCK_DEADLOCK') throw error;
      return false;
    }
  };
  for (const until = Date.now() + patience * 1000; !(await take());) {
    if (Date.now() > until) throw new Unfit('Another server has been bringing the database up to date for two minutes.');
    await new Promise((done) => setTimeout(done, 300));
  }
  const renewing = setInterval(() => void take().catch(() => {}), 5000);
  try {
    await act();
  } finally {
    clearInterval(renewing);
    await opened.execute(sql`update leases set until = now(3) where name = 'tables' and holder = ${holder}`).catch(() => {});
  }
}

/** A program that is older than its database would write what the newer one cannot read. */
async function refuseNewer(opened: Database, folder: string): Promise<void> {
  const journal = JSON.parse(readFileSync(join(folder, 'meta/_journal.json'), 'utf8')) as { entries: { when: number }[] };
  const known = Math.max(...journal.entries.map(({ when }) => when));
  const [tables] = (await opened.execute(sql`show tables like '__drizzle_migrations'`)) as unknown as [unknown[]];
  if (tables.length === 0) return;
  const [[{ newest }]] = (await opened.execute(sql`select max(created_at) as newest from __drizzle_migrations`)) as unknown as [
    [{ newest: number | null }]
  ];
  if (Number(newest ?? 0) > known)
    throw new Unfit('The database was made by a newer version of Crow Lane. Update the program, then start it again.');
}

export function db(): Database {
  if (!database) throw new Error('The database is not open.');
  return database;
}

/** Whether the database answers within two seconds. */
export async function databaseAnswers(): Promise<boolean> {
  let late: NodeJS.Timeout;
  const tooLate = new Promise<never>((_, fail) => (late = setTimeout(() => fail(new Error('late')), 2000)));
  try {
    await Promise.race([db().execute(sql`select 1`), tooLate]);
    return true;
  } catch {
    return false;
  } finally {
    clearTimeout(late!);
  }
}

export async function closeDatabase(): Promise<void> {
  clearInterval(watching);
  await nodes?.end();
  nodes = undefined;
  database = undefined;
}

/** Deadlock, lock wait, changed row, what another node of a cluster has kept before: the same is likely to pass again. */
const passing = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_CHECKREAD', 'ER_ERROR_DURING_COMMIT']);
const codeOf = (error: unknown) =>
  (error as { cause?: { code?: string } }).cause?.code ?? (error as { code?: string }).code ?? '';

/**
 * Runs a transaction, again up to nine times when the database asks for it, and at another node when one goes. What a node
 * kept as it went is done twice then: what is done here has to bear that.
 */
export async function transaction<T>(run: (tx: Executor) => Promise<T>): Promise<T> {
  const until = Date.now() + nodePatience;
  for (let tries = 1; ; tries++) {
    const node = nodes!.present;
    try {
      return await db().transaction(run);
    } catch (error) {
      const code = codeOf(error);
      const gone = nodes!.several && isDown(error) && Date.now() < until;
      if (!gone && (tries >= 10 || !passing.has(code))) throw error;
      if (gone) nodes!.moveFrom(node);
      log.warn({ code, tries }, 'transaction tried again');
      await new Promise((done) => setTimeout(done, Math.min(20 * tries, 200) * Math.random()));
    }
  }
}
