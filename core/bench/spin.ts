/** A yardstick: spin, a general-purpose model checker (Debian's package), on the same family written in its language. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const spinIsHere = existsSync('/usr/bin/spin') && existsSync('/usr/bin/gcc');

/** Seconds and states of a full exploration; compiling is not counted. */
export function explorePromela(model: string, how: 'depth' | 'breadth'): { seconds: number; states: number } {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-bench-'));
  const run = (file: string, args: string[]) => {
    const ran = spawnSync(file, args, { cwd: folder, encoding: 'utf8', maxBuffer: 2 ** 26 });
    if (ran.status !== 0) throw new Error(`${file} ${args.join(' ')}: ${ran.stderr}${ran.stdout}`);
    return ran.stdout;
  };
  try {
    writeFileSync(join(folder, 'model.pml'), model);
    run('spin', ['-a', 'model.pml']);
    run('gcc', [
      '-O2',
      '-w',
      '-DSAFETY',
      '-DNOREDUCE',
      '-DMEMLIM=8192',
      ...(how === 'breadth' ? ['-DBFS'] : []),
      '-o',
      'pan',
      'pan.c'
    ]);
    const began = performance.now();
    // invalid end states are none of our questions
    const said = run('./pan', ['-E', ...(how === 'depth' ? ['-m20000000', '-w24'] : ['-w24'])]);
    const seconds = (performance.now() - began) / 1000;
    return { seconds, states: Number(/(\d+) states, stored/.exec(said)?.[1]) };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
