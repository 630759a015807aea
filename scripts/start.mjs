// npm start: from a fresh checkout to a running application. Node built-ins only, so that it runs before anything is installed.
import { spawn } from 'node:child_process';
import { existsSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { createInterface } from 'node:readline/promises';
import { parseArgs } from 'node:util';
import { buildWhenStale } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { own } from './lib/owner.mjs';
import { dataFolder, root, threadsFolder, webServer } from './lib/paths.mjs';
import { endChildren, following, freePort, portTrouble } from './lib/process.mjs';
import { needNode, Plain, run, say } from './lib/say.mjs';
import { needModules, needPackages } from './lib/system.mjs';

const usage = `npm start [-- OPTIONS]
  --fresh     begin with an empty data folder (asks first; the old one is kept beside it)
  --yes       with --fresh: do not ask
  --accounts  everybody signs in; always so where HOST is an address that others can reach
  --open      on such an address without accounts: whoever reaches it may do everything
  --dev       serve from the sources and reload on change
  --help      this text
Environment: PORT and HOST choose where to serve (127.0.0.1, 4170 or the next free one), CROW_LANE_ADDRESS is the
address that people use (behind a proxy), DATABASE_URL uses another MariaDB, CROW_LANE_DATA another data folder.
docs/operating.md has the rest.`;

await run(async () => {
  const option = readArguments();
  if (option.help) return console.log(usage);
  needNode();
  const { host, accounts } = await readHost(option);
  readAddress();
  const port = await readPort(host);

  const ownDatabase = !process.env.DATABASE_URL;
  if (option.fresh) await setAside(option.yes);
  const owner = own(dataFolder);
  const stops = [() => owner.release(), endChildren];
  const stopAll = async () => {
    while (stops.length) await stops.pop()();
  };
  let stopping = false;
  let ready = false;
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, () => {
      if (stopping) return;
      stopping = true;
      say('Stopping');
      stopAll().then(() => process.exit(ready ? 0 : 130));
    });
  }

  try {
    await needModules();
    if (ownDatabase) await needPackages('database');
    await buildWhenStale(['player', 'cli', option.dev ? 'threads' : 'web']);
    let url = process.env.DATABASE_URL;
    if (ownDatabase) {
      let stopDatabase;
      stops.push(() => stopDatabase?.());
      const begin = () => startDatabase(dataFolder, (stop) => (stopDatabase = stop));
      const database = await begin();
      url = database.url;
      void keepUp(database, begin, () => stopping);
    }
    const child = serve(option.dev, { host, port, url, accounts });
    stops.push(() => stopChild(child));
    child.once('exit', (code) => {
      if (stopping) return;
      stopping = true;
      stopAll().then(() => {
        process.stderr.write(
          ready ? `The server ended with code ${code}; see above.\n` : 'The server could not start; see above.\n'
        );
        process.exit(1);
      });
    });
    const address = `http://${host.includes(':') ? `[${host}]` : host}:${port}`;
    await untilServed(address, child);
    owner.note(address);
    ready = true;
    say('Ready. Ctrl-C stops it.');
    console.log(`Crow Lane is at ${address}`);
  } catch (error) {
    // whoever stops it waits for the end elsewhere
    if (stopping) return await new Promise(() => {});
    stopping = true;
    await stopAll();
    throw error;
  }
});

function readArguments() {
  const options = Object.fromEntries(
    ['fresh', 'yes', 'open', 'accounts', 'dev', 'help'].map((name) => [name, { type: 'boolean' }])
  );
  try {
    return parseArgs({ options }).values;
  } catch (error) {
    throw new Plain(`${error.message}\n${usage}`);
  }
}

/** Where to serve, and whether with accounts: on an address that others can reach there are some, unless that is not wanted. */
async function readHost({ open, accounts }) {
  const host = process.env.HOST ?? '127.0.0.1';
  const reached = !/^(127\.\d+\.\d+\.\d+|::1|localhost)$/i.test(host);
  if (open && accounts) throw new Plain('--open is without accounts, --accounts is with them: choose one.');
  if (open && reached)
    process.stderr.write(`Warning: whoever can reach ${host} can read, change and delete all flows: there are no accounts.\n`);
  const trouble = await portTrouble(0, host);
  if (trouble) throw new Plain(`HOST is ${host}, which is not an address of this machine.`);
  return { host, accounts: Boolean(accounts) || (reached && !open) };
}

/** The address that people use has to be one: links and cookies are made for it. */
function readAddress() {
  const told = process.env.CROW_LANE_ADDRESS;
  if (told && !/^https?:\/\/[^/?#@]+\/?$/.test(told))
    throw new Plain(`CROW_LANE_ADDRESS is "${told}"; it is the address that people use, as in https://flows.studio.example`);
}

async function readPort(host) {
  const asked = process.env.PORT;
  if (!asked) return await freePort(4170, host);
  const port = Number(asked);
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new Plain(`PORT is "${asked}", which is not a port.`);
  if (port === 0) return await freePort(0, host);
  const trouble = await portTrouble(port, host);
  if (trouble === 'EACCES') throw new Plain(`PORT is ${port}, which only root may serve on.`);
  if (trouble) throw new Plain(`PORT is ${port}, which another program serves on. Choose another, or leave PORT out.`);
  return port;
}

/** Starts the database again whenever it ends by itself. What it had acknowledged is on disk. */
async function keepUp(database, begin, stopping) {
  for (let wait = 200; ;) {
    const began = Date.now();
    await database.gone;
    if (stopping()) return;
    // one that ends again and again is given more and more time
    wait = Date.now() - began > 60_000 ? 200 : Math.min(wait * 2, 10_000);
    say('The database has ended; starting it again');
    for (let up = false; !up && !stopping();) {
      await pause(wait);
      try {
        database = await begin();
        up = true;
        say('The database is back');
      } catch (error) {
        process.stderr.write(`${error.message}\n`);
        wait = Math.min(wait * 2, 10_000);
      }
    }
  }
}

/** Begins with an empty data folder; the old one is renamed, so that a slip costs nothing. */
async function setAside(yes) {
  if (!existsSync(dataFolder)) return;
  const kept = `${dataFolder}.old`;
  if (!yes) {
    if (!process.stdin.isTTY) throw new Plain('--fresh asks before it empties the data folder; without a terminal, add --yes.');
    const ask = createInterface({ input: process.stdin, output: process.stderr });
    const answer = await ask.question(`Begin with no flows but the demo? What is there now is moved to ${kept}. [y/N] `);
    ask.close();
    if (!/^y(es)?$/i.test(answer.trim())) throw new Plain('Nothing was changed.');
  }
  own(dataFolder).release();
  rmSync(kept, { recursive: true, force: true });
  renameSync(dataFolder, kept);
}

function serve(dev, { host, port, url, accounts }) {
  const env = {
    ...process.env,
    HOST: host,
    PORT: String(port),
    DATABASE_URL: url,
    CROW_LANE_DEMO: join(root, 'demo'),
    CROW_LANE_THREADS: threadsFolder,
    CROW_LANE_ACCOUNTS: accounts ? '1' : '',
    // bodies are bounded where they are read
    BODY_SIZE_LIMIT: 'Infinity',
    SHUTDOWN_TIMEOUT: '5'
  };
  // a group of its own: Ctrl-C at the terminal reaches only this script, which stops things in order
  const options = { cwd: join(root, 'web'), env, stdio: ['ignore', 'inherit', 'inherit'], detached: true };
  // vite itself: between it and us npx would keep the signal that ends it
  const vite = join(root, 'node_modules', 'vite', 'bin', 'vite.js');
  return dev
    ? spawn(...following(process.execPath, [vite, 'dev', '--host', host, '--port', String(port), '--strictPort']), options)
    : spawn(...following(process.execPath, [webServer]), options);
}

async function stopChild(child) {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = new Promise((done) => child.once('exit', done));
  child.kill('SIGTERM');
  const late = setTimeout(() => child.kill('SIGKILL'), 10_000);
  await gone;
  clearTimeout(late);
}

async function untilServed(address, child) {
  const local = address.replace('//0.0.0.0', '//127.0.0.1').replace('//[::]', '//[::1]');
  for (let tries = 0; tries < 1200; tries++) {
    if (child.exitCode !== null) throw new Plain('The server could not start; see above.');
    try {
      const answer = await fetch(`${local}/api/health`);
      if (answer.ok) return;
    } catch {
      // not listening yet
    }
    await pause(100);
  }
  throw new Plain('The server did not answer within two minutes; see above.');
}
