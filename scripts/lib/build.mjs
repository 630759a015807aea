// Builds the command line and the application when what they are made of is not what they were last built from.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { own, ownerOf } from './owner.mjs';
import { root } from './paths.mjs';
import { quietly } from './system.mjs';
import { Plain, say } from './say.mjs';

/** Made by builds and tests, not made from. */
const skipped = new Set(['node_modules', 'build', 'dist', '.svelte-kit', 'test', 'test-results', 'playwright-report']);

const parts = [
  // goes into both of the others
  {
    name: 'player',
    of: 'web',
    script: 'build:player',
    what: 'the page to play',
    sources: ['core', 'web/src', 'web/vite.player.config.ts', 'scripts/lib/one-page.mjs'],
    stamp: 'web/dist/.built'
  },
  {
    name: 'runtime',
    what: 'the package for games',
    sources: ['core', 'runtime'],
    stamp: 'runtime/dist/.built'
  },
  { name: 'cli', what: 'the command line', sources: ['core', 'cli'], stamp: 'cli/dist/.built' },
  // the manual is part of the application
  { name: 'web', what: 'the application', sources: ['core', 'web', 'docs'], stamp: 'web/build/.built' },
  {
    name: 'example',
    of: '@crow-lane/example-canvas',
    what: 'the example of a game',
    sources: ['core', 'runtime', 'cli', 'examples', 'scripts/lib/one-page.mjs'],
    stamp: 'examples/canvas/dist/.built'
  },
  // while serving from the sources, only what runs in threads of their own is built
  {
    name: 'threads',
    of: 'web',
    script: 'build:threads',
    what: 'the threads of the server',
    sources: ['core', 'web/src'],
    stamp: 'web/build/.threads'
  }
];

/** Builds those of the parts that are asked for and were made from other sources. */
export async function buildWhenStale(wanted = ['player', 'cli', 'web']) {
  const lock = await untilAlone();
  try {
    await buildStale(wanted);
  } finally {
    lock.release();
  }
}

/** One build at a time for a checkout: two starts would write over each other. */
async function untilAlone() {
  const folder = join(root, 'node_modules/.crow-lane-build');
  for (let said = false; ; await pause(300)) {
    if (!ownerOf(folder)) {
      try {
        return own(folder);
      } catch (error) {
        // another came first
        if (!(error instanceof Plain)) throw error;
      }
    }
    if (!said) say('Waiting for another start that is building');
    said = true;
  }
}

async function buildStale(wanted) {
  for (const { name, of = name, script = 'build', what, sources, stamp } of parts) {
    if (!wanted.includes(name)) continue;
    // taken before the build: a source that changes while building leads to another one
    const now = printOf([...sources, 'package-lock.json']);
    const file = join(root, stamp);
    if (existsSync(file) && readFileSync(file, 'utf8') === now) continue;
    say(`Building ${what}`);
    await quietly('npm', ['run', '--silent', script, '-w', of]);
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(file, now);
  }
}

/** A fingerprint of all files below some paths: names, sizes and times of change. Folders have none that would count. */
function printOf(paths) {
  const print = createHash('sha256');
  const add = (path) => {
    const stat = statSync(join(root, path));
    if (!stat.isDirectory()) return void print.update(`${path} ${stat.size} ${stat.mtimeMs}\n`);
    for (const entry of readdirSync(join(root, path)).sort()) if (!skipped.has(entry)) add(`${path}/${entry}`);
  };
  for (const path of paths) add(path);
  return print.digest('hex');
}
