/**
 * npm run bench [-- POWER]: the packed engine on generated families, beside two yardsticks in the same run. Only ratios
 * mean anything: machines differ and are shared.
 */
import { check, finish } from '../src/check/check.ts';
import { explore } from '../src/check/explore.ts';
import { explorePacked } from '../src/check/packed/explore.ts';
import { prepare } from '../src/play/flow.ts';
import { families } from './families.ts';
import { explorePromela, spinIsHere } from './spin.ts';

const largest = Number(process.argv[2] ?? 6);
if (!Number.isInteger(largest) || largest < 3 || largest > 7) throw new Error('The largest size is a power of ten from 3 to 7.');
const limit = 30_000_000;
const time = <T>(run: () => T): [number, T] => {
  const began = performance.now();
  const result = run();
  return [(performance.now() - began) / 1000, result];
};
const cell = (value: string | number, width = 9) => String(value).padStart(width);
const rounded = (value: number) => (value >= 100 ? value.toFixed(0) : value >= 1 ? value.toFixed(1) : value.toFixed(3));

if (!spinIsHere) console.log('spin and gcc are not both installed: that yardstick is left out.');
console.log(
  [
    'family'.padEnd(24),
    ...['states', 'seconds', 'states/s', 'moves/s', 'bytes', 'all/bare', 'plain/it', 'it/bfs', 'it/dfs', 'warm s'].map((name) =>
      cell(name)
    )
  ].join(' ')
);
for (const family of families) {
  for (let power = 3; power <= largest; power++) {
    const document = family.make(family.sizes[power]!);
    const flow = prepare(document);
    const [seconds, facts] = time(() => finish(explorePacked(flow, limit)));
    let moves = 0;
    facts.eachEdge(() => moves++);
    const [all] = time(() => check(document, { limit }));
    const [warm] = time(() => check(document, { limit }));
    // the plain exploration is measured where it takes minutes at most
    const plain = power <= 4 ? time(() => finish(explore(flow, limit)))[0] : undefined;
    const promela = spinIsHere && power >= 5 ? family.promela?.(family.sizes[power]!) : undefined;
    const breadth = promela && explorePromela(promela, 'breadth');
    const depth = promela && explorePromela(promela, 'depth');
    console.log(
      [
        `${family.name}, 10^${power}`.padEnd(24),
        cell(facts.count),
        cell(rounded(seconds)),
        cell(rounded(facts.count / seconds)),
        cell(rounded(moves / seconds)),
        cell(rounded(facts.bytes / facts.count)),
        cell(rounded(all / seconds)),
        cell(plain === undefined ? '' : rounded(plain / seconds)),
        cell(breadth ? rounded(seconds / facts.count / (breadth.seconds / breadth.states)) : ''),
        cell(depth ? rounded(seconds / facts.count / (depth.seconds / depth.states)) : ''),
        cell(rounded(warm))
      ].join(' ')
    );
  }
}
console.log(
  'all/bare: time to all verdicts by that of the exploration. plain/it: how many times longer the plain exploration takes.'
);
console.log(
  'it/bfs, it/dfs: time a state by that of spin, breadth first and depth first, its compiler not counted. bytes: a state, edges and parents included.'
);
