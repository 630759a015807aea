/**
 * npm run bench [-- POWER]: the packed engine on generated families, beside two yardsticks in the same run. Only ratios
 * mean anything: machines differ and are shared.
 */
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { check, finish } from '../src/check/check.ts';
import { explore } from '../src/check/explore.ts';
import { explorePacked } from '../src/check/packed/explore.ts';
import { prepare } from '../src/play/flow.ts';
import { families } from './families.ts';
import { explorePromela, spinIsHere } from './spin.ts';

const largest = Number(process.argv[2] ?? 6);
if (!Number.isInteger(largest) || largest < 3 || largest > 7) throw new Error('The largest size is a power of ten from 3 to 7.');
const limit = 30_000_000;
const mostBytes = 2 ** 33;
const time = <T>(run: () => T): [number, T] => {
  const began = performance.now();
  const result = run();
  return [(performance.now() - began) / 1000, result];
};
const cell = (value: string | number, width = 9) => String(value).padStart(width);
const rounded = (value: number) => (value >= 100 ? value.toFixed(0) : value >= 1 ? value.toFixed(1) : value.toFixed(3));

/** The times of a check after an edit, and after one that only changes a name, by that of the first in a new process. */
function warmed(family: number, size: number): number[] {
  const file = fileURLToPath(new URL('cold.ts', import.meta.url));
  const ran = spawnSync(process.execPath, ['--import', 'tsx', file, String(family), String(size)], { encoding: 'utf8' });
  if (ran.status !== 0) throw new Error(ran.stderr);
  const { cold, warm, renamed } = JSON.parse(ran.stdout) as { cold: number; warm: number; renamed: number };
  return [warm / cold, renamed / cold];
}

if (!spinIsHere) console.log('spin and gcc are not both installed: that yardstick is left out.');
const columns = [
  'states',
  'seconds',
  'states/s',
  'moves/s',
  'bytes',
  'all/bare',
  'plain/it',
  'it/bfs',
  'it/dfs',
  'warm',
  'renamed'
];
console.log(['family'.padEnd(30), ...columns.map((name) => cell(name))].join(' '));
families.forEach((family, index) => {
  for (let power = 3; power <= largest; power++) {
    const size = family.sizes[power]!;
    const document = family.make(size);
    const flow = prepare(document);
    const [seconds, { count, moves, bytes }] = time(() => finish(explorePacked(flow, limit, mostBytes)));
    const [all] = time(() => check(document, { limit, bytes: mostBytes }));
    // the plain exploration takes minutes at 10^6
    const plain = power <= 4 || (power === 6 && index === 2) ? time(() => finish(explore(flow, limit)))[0] : undefined;
    const promela = spinIsHere && power >= 6 ? family.promela?.(size) : undefined;
    const [breadth, depth] = promela
      ? [explorePromela(promela, 'breadth'), explorePromela(promela, 'depth')].map((spin) =>
          rounded(seconds / count / (spin.seconds / spin.states))
        )
      : [];
    const cells = [
      count,
      rounded(seconds),
      rounded(count / seconds),
      rounded(moves / seconds),
      rounded(bytes / count),
      rounded(all / seconds),
      plain === undefined ? '' : rounded(plain / seconds),
      breadth ?? '',
      depth ?? '',
      ...(power === 4 ? warmed(index, size).map(rounded) : [])
    ];
    console.log([`${family.name}, 10^${power}`.padEnd(30), ...cells.map((each) => cell(each))].join(' '));
  }
});
console.log(`all/bare: time to all verdicts by that of the exploration. plain/it: how many times longer the plain exploration takes.
it/bfs, it/dfs: time a state by that of spin, breadth first and depth first, its compiler not counted.
bytes: a state, edges and parents included. warm, renamed: a check after an edit that play sees, and after one that it
does not, by the first check in a new process.`);
