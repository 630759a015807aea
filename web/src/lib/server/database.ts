import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import mysql from 'mysql2/promise';
import { log } from './log.ts';
import * as schema from './schema.ts';

export type Database = MySql2Database<typeof schema>;
/** The database or a transaction in it. */
export type Executor = Pick<Database, 'select' | 'insert' | 'update' | 'delete'>;

let pool: mysql.Pool | undefined;
let database: Database | undefined;

/** Connects and brings the tables up to date; called once before the first request. */
export async function openDatabase(): Promise<Database> {
  if (database) return database;
  const uri = process.env.DATABASE_URL;
  if (!uri) throw new Error('DATABASE_URL is not set: "npm start" sets it, or give the address of a MariaDB.');
  pool = mysql.createPool({ uri, timezone: 'Z', charset: 'utf8mb4', connectionLimit: 10, maxIdle: 4 });
  const opened = drizzle(pool, { schema, mode: 'default' });
  await migrate(opened, { migrationsFolder: process.env.CROW_LANE_MIGRATIONS ?? 'drizzle' });
  database = opened;
  return opened;
}

export function db(): Database {
  if (!database) throw new Error('The database is not open.');
  return database;
}

export async function closeDatabase(): Promise<void> {
  await pool?.end();
  pool = undefined;
  database = undefined;
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
