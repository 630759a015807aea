// What must be on the machine before anything of ours can run: Debian packages and the npm packages of the lock file.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';
import { begun } from './process.mjs';
import { Plain, say } from './say.mjs';

/** What we need of Debian: the packages, the files that show they are there, and what they are for. */
const needs = {
  // The "core" packages have the server and its tools without a system-wide service, so that installing starts nothing.
  database: {
    packages: ['mariadb-server-core', 'mariadb-client-core'],
    files: ['/usr/sbin/mariadbd', '/usr/bin/mariadb-install-db', '/usr/bin/my_print_defaults'],
    what: 'the MariaDB server'
  },
  dump: {
    packages: ['mariadb-client'],
    files: ['/usr/bin/mariadb-dump', '/usr/bin/mariadb'],
    what: 'the MariaDB tools for backups'
  },
  cluster: {
    packages: ['galera-4', 'rsync'],
    files: ['/usr/lib/galera/libgalera_smm.so', '/usr/bin/rsync'],
    what: 'what makes a cluster of several MariaDB servers'
  },
  python: {
    packages: ['python3'],
    files: ['/usr/bin/python3'],
    what: 'Python, for the example in it'
  },
  browser: {
    packages: ['chromium-headless-shell'],
    files: ['/usr/bin/chromium-headless-shell'],
    what: 'the Chromium browser, for the interface tests'
  }
};

/** Runs a command with its output shown; rejects with a plain message when it fails. */
export function command(file, args, options = {}) {
  return new Promise((done, failed) => {
    const child = begun(file, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], ...options });
    child.once('error', (error) => failed(new Plain(`${file} could not be started: ${error.message}`)));
    child.once('exit', (code, signal) =>
      code === 0 ? done() : failed(new Plain(`${file} ${args.join(' ')} ended with ${signal ?? `code ${code}`}.`))
    );
  });
}

/** Runs a command quietly: what it says is shown only when it fails. Gives its standard output. */
export function quietly(file, args, options = {}) {
  return new Promise((done, failed) => {
    const child = begun(file, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    const said = { out: '', all: '' };
    child.stdout.on('data', (data) => ((said.out += data), (said.all += data)));
    child.stderr.on('data', (data) => (said.all += data));
    child.once('error', (error) => failed(new Plain(`${file} could not be started: ${error.message}`)));
    child.once('close', (code) => {
      if (code === 0) return done(said.out);
      process.stderr.write(said.all);
      failed(new Plain(`${file} ${args[0] ?? ''} failed; see above.`));
    });
  });
}

/** Makes sure that something of Debian's is installed (one of `needs`), or says in one sentence what to install. */
export async function needPackages(need) {
  const { packages, files, what } = needs[need];
  const there = () => files.every((file) => existsSync(file));
  if (there()) return;
  const asked = `Please install ${what}: "apt-get install ${packages.join(' ')}" (as root), then run this again.`;
  if (!existsSync('/usr/bin/apt-get')) throw new Plain(`${what} is missing. ${asked}`);
  const prefix = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  if (prefix.length && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0) {
    throw new Plain(`${what} is missing and only root may install it. ${asked}`);
  }
  say(`Installing ${what} (Debian: ${packages.join(', ')}); this happens once and can take a minute`);
  const apt = (...args) =>
    quietly(prefix[0] ?? 'env', [
      ...prefix.slice(1),
      ...(prefix.length ? ['env'] : []),
      'DEBIAN_FRONTEND=noninteractive',
      'apt-get',
      '-q',
      '-o',
      'Dpkg::Use-Pty=0',
      ...args
    ]);
  try {
    // a fresh machine has no package lists, an older one stale ones
    await apt('update');
    await apt('install', '-y', '--no-install-recommends', ...packages);
  } catch {
    throw new Plain(`Installing ${what} did not work. ${asked}`);
  }
  if (!there()) throw new Plain(`${what} was installed, but ${files.find((file) => !existsSync(file))} is not there. ${asked}`);
}

/** Runs `npm ci` when node_modules is not what the lock file says. */
export async function needModules() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.crow-lane-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('Installing the npm packages (npm ci); this happens once after each update and can take a minute');
  await command('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    // npm's summary belongs to the progress, not to a result that someone may be reading from standard output
    stdio: ['ignore', process.stderr, process.stderr]
  });
  writeFileSync(stamp, lock);
}
