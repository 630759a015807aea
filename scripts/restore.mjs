// npm run restore -- FILE: puts back what "npm run backup" wrote. What is there now is kept beside it.
import { spawn } from 'node:child_process';
import { closeSync, existsSync, openSync, readSync, renameSync, rmSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { clientOf } from './lib/dump.mjs';
import { startDatabase } from './lib/database.mjs';
import { own } from './lib/owner.mjs';
import { dataFolder } from './lib/paths.mjs';
import { Plain, run, say } from './lib/say.mjs';
import { needPackages, quietly } from './lib/system.mjs';

await run(async () => {
  const [name, more] = process.argv.slice(2);
  if (!name || more || name.startsWith('-'))
    throw new Plain('npm run restore -- FILE: names a file that "npm run backup" wrote.');
  const file = resolve(name);
  if (!existsSync(file)) throw new Plain(`${file} is not there.`);
  if (!endOf(file).includes('-- Dump completed'))
    throw new Plain(`${file} is not a whole backup: its end is missing. Nothing was changed.`);
  await needPackages('database');
  await needPackages('dump');
  if (process.env.DATABASE_URL) return await into(process.env.DATABASE_URL, file);

  const kept = `${dataFolder}.old`;
  const something = existsSync(dataFolder);
  if (something) {
    own(dataFolder).release();
    rmSync(kept, { recursive: true, force: true });
    renameSync(dataFolder, kept);
  }
  const again = own(dataFolder);
  let stop;
  try {
    const database = await startDatabase(dataFolder, (how) => (stop = how));
    await into(database.url, file);
    if (something) say(`What was there before is in ${kept}`);
  } finally {
    await stop?.();
    again.release();
  }
});

/** Loads a dump into a database that holds nothing yet. */
async function into(url, file) {
  const { args, env, database } = clientOf(url);
  const tables = await quietly('mariadb', [...args, '--batch', '--skip-column-names', '-e', 'show tables', database], { env });
  if (tables.trim() !== '') throw new Plain('The database holds tables already; restore into an empty one. Nothing was changed.');
  const input = openSync(file, 'r');
  const child = spawn('mariadb', [...args, '--default-character-set=utf8mb4', database], {
    env,
    stdio: [input, 'inherit', 'inherit']
  });
  const code = await new Promise((given, failed) => {
    child.once('error', failed);
    child.once('exit', given);
  });
  closeSync(input);
  if (code !== 0) throw new Plain('The backup was not restored; see above.');
  say('All flows and their history are back');
}

function endOf(file) {
  const { size } = statSync(file);
  const bytes = Buffer.alloc(Math.min(size, 200));
  const handle = openSync(file, 'r');
  readSync(handle, bytes, 0, bytes.length, size - bytes.length);
  closeSync(handle);
  return bytes.toString('utf8');
}
