// Builds the command line and the application when a source file is newer than what was built from it.
import { existsSync, readdirSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';
import { quietly } from './system.mjs';
import { say } from './say.mjs';

const skipped = new Set(['node_modules', 'build', 'dist', '.svelte-kit', 'test', 'test-results', 'screenshots']);

/** Newest change below a path, in milliseconds. */
function newest(path) {
  const stat = statSync(path);
  if (!stat.isDirectory()) return stat.mtimeMs;
  let time = stat.mtimeMs;
  for (const entry of readdirSync(path)) if (!skipped.has(entry)) time = Math.max(time, newest(join(path, entry)));
  return time;
}

/** Builds those of the parts that are asked for and older than their sources. */
export function buildWhenStale(wanted = ['cli', 'web']) {
  const parts = [
    { name: 'cli', what: 'the command line', sources: ['core', 'cli'], stamp: 'cli/dist/.built' },
    { name: 'web', what: 'the application', sources: ['core', 'web'], stamp: 'web/build/.built' },
    // while serving from the sources, only what runs in a thread of its own is built
    {
      name: 'checker',
      of: 'web',
      script: 'build:checker',
      what: 'the checks',
      sources: ['core', 'web/src/checker'],
      stamp: 'web/build/.checker'
    }
  ];
  for (const { name, of = name, script = 'build', what, sources, stamp } of parts) {
    if (!wanted.includes(name)) continue;
    const file = join(root, stamp);
    const began = Date.now();
    const changed = Math.max(...[...sources, 'package-lock.json'].map((source) => newest(join(root, source))));
    if (existsSync(file) && statSync(file).mtimeMs >= changed) continue;
    say(`Building ${what}`);
    quietly('npm', ['run', '--silent', script, '-w', of]);
    writeFileSync(file, '');
    // a source changed while building must lead to another build
    utimesSync(file, began / 1000, began / 1000);
  }
}
