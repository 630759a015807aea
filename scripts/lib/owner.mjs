// One start at a time for a data folder: the owner file names the process, and when it began, since pids are reused.
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { beginOf } from './process.mjs';
import { Plain } from './say.mjs';

/** The running start that has a folder, with its process and, once it serves, its address; undefined when there is none. */
export function ownerOf(folder) {
  const other = read(join(folder, 'owner.json'));
  return other && other.began !== undefined && beginOf(other.pid) === other.began ? other : undefined;
}

/** Takes the folder, or refuses when a running start has it. Gives a function to note the address, and one to let go. */
export function own(folder) {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = join(folder, 'owner.json');
  const me = { pid: process.pid, began: beginOf(process.pid) };
  for (;;) {
    try {
      writeFileSync(file, JSON.stringify(me), { flag: 'wx', mode: 0o600 });
      break;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
    }
    const other = ownerOf(folder);
    if (other) {
      throw new Plain(
        `Crow Lane is running already with this data folder${other.address ? `, at ${other.address}` : ''} (process ${other.pid}).`
      );
    }
    rmSync(file, { force: true });
  }
  return {
    note(address) {
      writeFileSync(`${file}.new`, JSON.stringify({ ...me, address }), { mode: 0o600 });
      renameSync(`${file}.new`, file);
    },
    release() {
      if (existsSync(file) && read(file)?.pid === process.pid) rmSync(file, { force: true });
    }
  };
}

function read(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return undefined;
  }
}
