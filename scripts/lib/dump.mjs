// What backup and restore need of a database: that it runs, and how MariaDB's own tools reach it.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { addressOf, startDatabase } from './database.mjs';
import { own, ownerOf } from './owner.mjs';
import { dataFolder } from './paths.mjs';
import { Plain } from './say.mjs';
import { needPackages } from './system.mjs';

/** The address of the database that is meant, started where it does not run; `done` ends what was started for it. */
export async function needDatabase() {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, done: async () => {} };
  if (!existsSync(join(dataFolder, 'mariadb'))) throw new Plain(`There are no flows in ${dataFolder}.`);
  if (ownerOf(dataFolder)) return { url: addressOf(dataFolder), done: async () => {} };
  await needPackages('database');
  const owner = own(dataFolder);
  const { url, stop } = await startDatabase(dataFolder);
  return {
    url,
    async done() {
      await stop();
      owner.release();
    }
  };
}

/** An address, of several nodes the first, as arguments and environment of MariaDB's tools; the password is in no list of processes. */
export function clientOf(url) {
  const { hostname, port, username, password, pathname, searchParams } = new URL(
    url.replace(/^(mysql:\/\/(?:[^@/]*@)?[^,/?]+)[^/?]*/, '$1')
  );
  const socket = searchParams.get('socketPath');
  return {
    args: [
      // this first
      '--no-defaults',
      ...(socket
        ? [`--socket=${socket}`]
        : [`--host=${decodeURIComponent(hostname)}`, ...(port ? [`--port=${port}`] : []), '--protocol=tcp']),
      `--user=${decodeURIComponent(username)}`
    ],
    env: { ...process.env, MYSQL_PWD: decodeURIComponent(password) },
    database: decodeURIComponent(pathname.slice(1))
  };
}
