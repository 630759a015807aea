// Small facts about processes, read from /proc, because a pid alone can be reused or be a zombie.
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

/** A TCP port that is free on the loopback address: the wanted one or the next that is; 0 asks the system. */
export async function freePort(wanted, host = '127.0.0.1') {
  for (let port = wanted; port < wanted + 200; port++) {
    const found = await new Promise((done) => {
      const server = createServer();
      server.once('error', () => done(undefined));
      server.listen(port, host, () => {
        const at = server.address().port;
        server.close(() => done(at));
      });
    });
    if (found !== undefined) return found;
  }
  throw new Error(`No free port from ${wanted} on.`);
}

/** The command that runs `file` so that it gets TERM when its parent goes, however that goes. */
export function following(file, args) {
  return existsSync('/usr/bin/setpriv') ? ['/usr/bin/setpriv', ['--pdeathsig', 'TERM', file, ...args]] : [file, args];
}
