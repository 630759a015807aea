// What must be on the machine before anything of ours can run: Debian packages and the npm packages of the lock file.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';
import { Plain, say } from './say.mjs';

/** Debian packages we use: the file that shows one is there, and what it is for. */
const packages = {
  // The "core" package has the server without a system-wide service, so that installing it starts nothing.
  'mariadb-server-core': { file: '/usr/sbin/mariadbd', what: 'the MariaDB server' },
  chromium: { file: '/usr/bin/chromium', what: 'the Chromium browser, for the interface tests' }
};

/** Runs a command with its output shown; rejects with a plain message when it fails. */
export function command(file, args, options = {}) {
  return new Promise((done, failed) => {
    const child = spawn(file, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], ...options });
    child.once('error', (error) => failed(new Plain(`${file} could not be started: ${error.message}`)));
    child.once('exit', (code, signal) =>
      code === 0 ? done() : failed(new Plain(`${file} ${args.join(' ')} ended with ${signal ?? `code ${code}`}.`))
    );
  });
}

/** Makes sure that a Debian package is installed, or says in one sentence what to install. */
export async function needPackage(name) {
  const { file, what } = packages[name];
  if (existsSync(file)) return;
  const asked = `Please install ${what}: "apt-get install ${name}" (as root), then run this again.`;
  if (!existsSync('/usr/bin/apt-get')) throw new Plain(`${what} is missing. ${asked}`);
  const prefix = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  if (prefix.length && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0) {
    throw new Plain(`${what} is missing and only root may install it. ${asked}`);
  }
  say(`Installing ${what} (Debian package ${name}); this happens once and can take a minute`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) => {
    const [first, ...rest] = [...prefix, 'apt-get', '-q', '-o', 'Dpkg::Use-Pty=0', ...args];
    // apt's own chatter would bury ours: it is shown only when something goes wrong
    const ran = spawnSync(first, rest, { env, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
    if (ran.status !== 0) process.stderr.write(`${ran.stdout ?? ''}${ran.stderr ?? ''}`);
    return ran.status === 0;
  };
  const install = () => apt('install', '-y', '--no-install-recommends', name);
  // a fresh machine has no package lists, an older one stale ones
  if (!apt('update') || !install() || !existsSync(file)) throw new Plain(`Installing ${name} did not work. ${asked}`);
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
