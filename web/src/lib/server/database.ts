import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import mysql from 'mysql2/promise';
import { log } from './log.ts';
import * as schema from './schema.ts';

export type Database = MySql2Database<typeof schema>;
/** The database or a transaction in it. */
export type Executor = Pick<Database, 'select' | 'insert' | 'update' | 'delete' | 'execute'>;

/** The server cannot run with this database, for a reason that is told in one sentence. */
export class Unfit extends Error {}

let pool: mysql.Pool | undefined;
let database: Database | undefined;

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
    pool = mysql.createPool({
      uri,
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
  const opened = drizzle(pool, { schema, mode: 'default' });
  try {
    await bringUpToDate(opened);
  } catch (error) {
    if (isDown(error)) throw new Unfit('The database that DATABASE_URL names does not answer.');
    const code = (error as { cause?: { code?: string } }).cause?.code;
    if (code === 'ER_ACCESS_DENIED_ERROR' || code === 'ER_DBACCESS_DENIED_ERROR')
      throw new Unfit('The database refuses the user or the password that DATABASE_URL names.');
    throw error;
  }
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
  const connection = await pool!.getConnection();
  try {
    const [[lock]] = (await connection.query("select get_lock(concat('crow-lane ', database()), ?) as held", [
      patience
    ])) as unknown as [[{ held: number | null }]];
    if (lock.held !== 1) throw new Unfit('Another server has been bringing the database up to date for two minutes.');
    const own = drizzle(connection as unknown as mysql.Connection, { schema, mode: 'default' });
    await refuseNewer(own, folder);
    await migrate(own, { migrationsFolder: folder });
  } finally {
    await connection.query("do release_lock(concat('crow-lane ', database()))").catch(() => {});
    connection.release();
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
  await pool?.end();
  pool = undefined;
  database = undefined;
}

/** Of the network, of the driver, and of a database that is on its way up or down. */
const down = new Set([
  ...['ECONNREFUSED', 'ECONNRESET', 'ENOENT', 'EPIPE', 'ETIMEDOUT', 'ENOTFOUND', 'EAI_AGAIN', 'EHOSTUNREACH'],
  ...['PROTOCOL_CONNECTION_LOST', 'POOL_CLOSED', 'ER_SERVER_SHUTDOWN', 'ER_CON_COUNT_ERROR', 'ER_NORMAL_SHUTDOWN'],
  ...['ER_CONNECTION_KILLED', 'ER_QUERY_INTERRUPTED']
]);

/** Whether an error says that the database is not there, rather than that it refused something. */
export function isDown(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    const { code } = at as { code?: string };
    if (code !== undefined && down.has(code)) return true;
    if (/connection is in closed state|Pool is closed/i.test(at.message)) return true;
  }
  return false;
}

/** Deadlock, lock wait, changed row: the same transaction is likely to pass when it is tried again. */
const passing = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_CHECKREAD']);

/** Runs a transaction, again up to four times when the database asks for it. */
export async function transaction<T>(run: (tx: Executor) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await db().transaction(run);
    } catch (error) {
      const code = (error as { cause?: { code?: string } }).cause?.code ?? '';
      if (tries >= 5 || !passing.has(code)) throw error;
      log.warn({ code, tries }, 'transaction tried again');
      await new Promise((done) => setTimeout(done, 20 * tries * Math.random()));
    }
  }
}
