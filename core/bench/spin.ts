/** A yardstick: spin, a general-purpose model checker (Debian's package), on the same family written in its language. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const spinIsHere = existsSync('/usr/bin/spin') && existsSync('/usr/bin/gcc');

/** A model, compiled: a full exploration gives seconds and states, as often as it is run. */
export function promelaOf(model: string, how: 'depth' | 'breadth'): { run(): { seconds: number; states: number }; end(): void } {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-bench-'));
  const run = (file: string, args: string[]) => {
    const ran = spawnSync(file, args, { cwd: folder, encoding: 'utf8', maxBuffer: 2 ** 26 });
    if (ran.status !== 0) throw new Error(`${file} ${args.join(' ')}: ${ran.stderr}${ran.stdout}`);
    return ran.stdout;
  };
  writeFileSync(join(folder, 'model.pml'), model);
  run('spin', ['-a', 'model.pml']);
  const breadthFirst = how === 'breadth' ? ['-DBFS'] : [];
  run('gcc', ['-O2', '-w', '-DSAFETY', '-DNOREDUCE', '-DMEMLIM=8192', ...breadthFirst, '-o', 'pan', 'pan.c']);
  return {
    run() {
      const began = performance.now();
      // invalid end states are none of our questions
      const said = run('./pan', ['-E', ...(how === 'depth' ? ['-m20000000', '-w24'] : ['-w24'])]);
      const seconds = (performance.now() - began) / 1000;
      return { seconds, states: Number(/(\d+) states, stored/.exec(said)?.[1]) };
    },
    end: () => rmSync(folder, { recursive: true, force: true })
  };
}
