// npm run backup -- FILE: all flows with their history, as SQL in one file. Works while the application runs, and while it does not.
import { createReadStream, createWriteStream, existsSync, renameSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { pipeline } from 'node:stream/promises';
import { clientOf, needDatabase } from './lib/dump.mjs';
import { Plain, run, say } from './lib/say.mjs';
import { needPackages } from './lib/system.mjs';

await run(async () => {
  const [name, more] = process.argv.slice(2);
  if (!name || more || name.startsWith('-'))
    throw new Plain('npm run backup -- FILE: names the file to write, which must not be there yet.');
  const file = resolve(name);
  if (existsSync(file)) throw new Plain(`${file} is there already; name another file.`);
  await needPackages('dump');
  const { url, done } = await needDatabase();
  const part = `${file}.part`;
  try {
    const { args, env, database } = clientOf(url);
    const options = [
      '--single-transaction',
      '--skip-lock-tables',
      '--no-tablespaces',
      '--hex-blob',
      '--default-character-set=utf8mb4'
    ];
    const child = spawn('mariadb-dump', [...args, ...options, database], { env, stdio: ['ignore', 'pipe', 'inherit'] });
    const out = createWriteStream(part, { mode: 0o600 });
    const [[code]] = await Promise.all([once(child, 'exit'), pipeline(child.stdout, out)]);
    if (code !== 0 || !(await isWhole(part))) throw new Plain('The backup was not made; see above.');
    renameSync(part, file);
    say(`All flows and their history are in ${file}`);
  } finally {
    rmSync(part, { force: true });
    await done();
  }
});

/** A dump that was cut off lacks its last line. */
async function isWhole(path) {
  let last = '';
  for await (const chunk of createReadStream(path, { encoding: 'utf8' })) last = (last + chunk).slice(-200);
  return last.includes('-- Dump completed');
}
