// Small facts about processes, read from /proc, because a pid alone can be reused or be a zombie.
import { spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';

/** When the process began, in clock ticks since boot, as text; undefined when it is gone or a zombie. */
export function beginOf(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // the command name may hold blanks and brackets: the fields begin after the last bracket
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return fields[0] === 'Z' || fields[0] === 'X' ? undefined : fields[19];
  } catch {
    return undefined;
  }
}

/** The words of the process's command line; empty when it is gone. */
export function commandOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0').filter(Boolean);
  } catch {
    return [];
  }
}

/** Ends a process of ours by TERM and, when it does not go within `seconds`, by KILL. */
export async function end(pid, seconds = 20) {
  const began = beginOf(pid);
  if (began === undefined) return;
  const alive = () => beginOf(pid) === began;
  for (const [signal, wait] of [
    ['SIGTERM', seconds],
    ['SIGKILL', 5]
  ]) {
    try {
      process.kill(pid, signal);
    } catch {
      return;
    }
    for (const until = Date.now() + wait * 1000; alive() && Date.now() < until;) await pause(50);
    if (!alive()) return;
  }
}

/** Children that were begun by `begun` and still run. */
const children = new Set();

/** Spawns a child that `endChildren` ends. */
export function begun(file, args, options) {
  const child = spawn(file, args, options);
  children.add(child);
  for (const event of ['exit', 'error']) child.once(event, () => children.delete(child));
  return child;
}

/** Ends what still runs of the children, with all that they have begun where they lead a group of their own. */
export async function endChildren() {
  await Promise.all([...children].map((child) => child.pid && end(child.pid)));
}

/** Whether a port can be listened on: undefined when it can, else the code of the error. */
export function portTrouble(port, host) {
  return new Promise((done) => {
    const server = createServer();
    server.once('error', ({ code }) => done(code));
    server.listen(port, host, () => server.close(() => done(undefined)));
  });
}

/** A TCP port that is free on an address: the wanted one or the next that is; 0 asks the system. */
export async function freePort(wanted, host = '127.0.0.1') {
  if (wanted === 0) return await anyPort(host);
  for (let port = wanted; port < wanted + 200; port++) if ((await portTrouble(port, host)) === undefined) return port;
  throw new Error(`No free port from ${wanted} on.`);
}

function anyPort(host) {
  return new Promise((done, failed) => {
    const server = createServer();
    server.once('error', failed);
    server.listen(0, host, () => {
      const { port } = server.address();
      server.close(() => done(port));
    });
  });
}

/** The command that runs `file` so that it gets TERM when its parent goes, however that goes. */
export function following(file, args) {
  return existsSync('/usr/bin/setpriv') ? ['/usr/bin/setpriv', ['--pdeathsig', 'TERM', file, ...args]] : [file, args];
}
