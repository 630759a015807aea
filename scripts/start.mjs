// npm start: from a fresh checkout to a running application. Node built-ins only, so that it runs before anything is installed.
import { spawn } from 'node:child_process';
import { existsSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline/promises';
import { parseArgs } from 'node:util';
import { buildWhenStale } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { own } from './lib/owner.mjs';
import { dataFolder, root, webServer } from './lib/paths.mjs';
import { following, freePort } from './lib/process.mjs';
import { Plain, run, say } from './lib/say.mjs';
import { needModules, needPackages } from './lib/system.mjs';

const usage = `npm start [-- OPTIONS]
  --fresh   begin with an empty data folder (asks first; the old one is kept beside it)
  --yes     with --fresh: do not ask
  --dev     serve from the sources and reload on change
  --help    this text
Environment: PORT and HOST choose where to serve (127.0.0.1, 4170 or the next free one), DATABASE_URL uses
another MariaDB, CROW_LANE_DATA another data folder. docs/operating.md has the rest.`;

await run(async () => {
  const { values: option } = readArguments();
  if (option.help) return console.log(usage);
  if (Number(process.versions.node.split('.')[0]) < 20)
    throw new Plain(`Node 20 or later is needed; this is ${process.version}.`);

  const ownDatabase = !process.env.DATABASE_URL;
  if (option.fresh) await setAside(option.yes);
  const owner = own(dataFolder);
  const stops = [() => owner.release()];
  const stopAll = async () => {
    while (stops.length) await stops.pop()();
  };
  let stopping = false;
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, () => {
      if (stopping) return;
      stopping = true;
      say('Stopping');
      stopAll().then(() => process.exit(0));
    });
  }

  try {
    await needModules();
    if (ownDatabase) needPackages('database');
    buildWhenStale(option.dev ? ['cli', 'checker'] : ['cli', 'web']);
    let url = process.env.DATABASE_URL;
    if (ownDatabase) {
      const database = await startDatabase(dataFolder);
      url = database.url;
      stops.push(() => database.stop());
    }
    const host = process.env.HOST ?? '127.0.0.1';
    const port = process.env.PORT ? Number(process.env.PORT) : await freePort(4170, host);
    if (!Number.isInteger(port) || port < 0 || port > 65535) throw new Plain(`PORT is "${process.env.PORT}", which is no port.`);
    const child = serve(option.dev, { host, port, url });
    stops.push(() => stopChild(child));
    child.once('exit', (code) => {
      if (stopping) return;
      stopping = true;
      stopAll().then(() => {
        process.stderr.write(`The server ended with code ${code}; see above.\n`);
        process.exit(1);
      });
    });
    const address = `http://${host.includes(':') ? `[${host}]` : host}:${port}`;
    await untilServed(address, child);
    owner.note(address);
    say('Ready. Ctrl-C stops it.');
    console.log(`Crow Lane is at ${address}`);
  } catch (error) {
    stopping = true;
    await stopAll();
    throw error;
  }
});

function readArguments() {
  const options = Object.fromEntries(['fresh', 'yes', 'dev', 'help'].map((name) => [name, { type: 'boolean' }]));
  try {
    return parseArgs({ options });
  } catch (error) {
    throw new Plain(`${error.message}\n${usage}`);
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

function serve(dev, { host, port, url }) {
  const env = {
    ...process.env,
    HOST: host,
    PORT: String(port),
    DATABASE_URL: url,
    CROW_LANE_DEMO: join(root, 'demo'),
    CROW_LANE_CHECKER: join(root, 'web', 'build', 'checker.js'),
    BODY_SIZE_LIMIT: '16M',
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
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Plain('The server did not answer within two minutes; see above.');
}
