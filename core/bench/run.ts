/**
 * npm run bench [-- POWER]: the packed engine on generated families, beside two yardsticks in the same run. Only ratios
 * mean anything: machines differ and are shared. So each figure is the least of a few, taken in turn with what it is
 * compared with.
 */
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { families } from './families.ts';
import type { Edited, Explored, Planned, Slotted, What, Whole } from './measure.ts';
import { promelaOf, spinIsHere } from './spin.ts';

const largest = Number(process.argv[2] ?? 6);
if (!Number.isInteger(largest) || largest < 3 || largest > 7) throw new Error('The largest size is a power of ten from 3 to 7.');
const turns = 3;
const cell = (value: string | number, width = 9) => String(value).padStart(width);
const rounded = (value: number) => (value >= 100 ? value.toFixed(0) : value >= 1 ? value.toFixed(1) : value.toFixed(3));

function measured<T>(what: What, family: number, size: number): T {
  const file = fileURLToPath(new URL('measure.js', import.meta.url));
  const ran = spawnSync(process.execPath, [file, what, String(family), String(size)], { encoding: 'utf8' });
  if (ran.status !== 0) throw new Error(ran.stderr);
  return JSON.parse(ran.stdout) as T;
}

/** A measurement that is taken a few times, in turn with others: the quickest counts. */
class Least<T extends { seconds: number }> {
  best!: T;
  constructor(private readonly run: () => T) {}
  take(): void {
    const found = this.run();
    if (this.best === undefined || found.seconds < this.best.seconds) this.best = found;
  }
}

/** The quickest first check, and the quickest ones after an edit. */
function editsOf(family: number, size: number): Edited {
  const all = Array.from({ length: turns }, () => measured<Edited>('edits', family, size));
  const least = (what: keyof Edited) => Math.min(...all.map((each) => each[what]));
  return { cold: least('cold'), warm: least('warm'), renamed: least('renamed') };
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
    const model = spinIsHere && power >= 6 ? family.promela?.(size) : undefined;
    const spins = model ? (['breadth', 'depth'] as const).map((how) => promelaOf(model, how)) : [];
    const bare = new Least(() => measured<Explored>('bare', index, size));
    const all = new Least(() => measured<{ seconds: number }>('all', index, size));
    const beside = spins.map((spin) => new Least(spin.run));
    for (let turn = 0; turn < turns; turn++) for (const each of [bare, all, ...beside]) each.take();
    for (const spin of spins) spin.end();
    // the plain exploration takes minutes at 10^6
    const plain = power <= 4 || (power === 6 && index === 2) ? measured<Explored>('plain', index, size) : undefined;
    const edits = power === 4 ? editsOf(index, size) : undefined;
    const { seconds, count, moves, bytes } = bare.best;
    const [breadth = '', depth = ''] = beside.map(({ best }) => rounded(seconds / count / (best.seconds / best.states)));
    const cells = [
      count,
      rounded(seconds),
      rounded(count / seconds),
      rounded(moves / seconds),
      rounded(bytes / count),
      rounded(all.best.seconds / seconds),
      plain ? rounded(plain.seconds / seconds) : '',
      breadth,
      depth,
      ...(edits ? [rounded(edits.warm / edits.cold), rounded(edits.renamed / edits.cold)] : [])
    ];
    console.log([`${family.name}, 10^${power}`.padEnd(30), ...cells.map((each) => cell(each))].join(' '));
  }
});
// what the checks look at of saved games at most doubles the states: a game in the second slot is one more of the same
for (const [index, family] of families.slice(0, -1).entries()) {
  const { one, three } = measured<Slotted>('slots', index, family.sizes[3]!);
  if (three > 2 * one) throw new Error(`${family.name}: ${one} states with one saved game, ${three} with three.`);
  console.log(`${family.name}, with saved games: ${rounded(three / one)} times the states with three slots`);
}
const { seconds, states, open } = measured<Whole>('whole', 0, 0);
console.log(`A whole game with insides, up to a million states: ${states} states, ${rounded(seconds)} s, ${open} verdicts open.`);
const plans = [120, 240].map((width) => new Least(() => measured<Planned>('plan', 0, width)));
for (let turn = 0; turn < turns; turn++) for (const each of plans) each.take();
const [quarter, full] = plans.map(({ best }) => best) as [Planned, Planned];
console.log(
  `The plan of 240 x 160 cells: ${rounded(full.seconds)} s, ${full.spots} spots, ${rounded(full.megabytes)} MB; by its quarter ${rounded(
    full.seconds / quarter.seconds
  )} times the time for 4 times the cells; after an edit of one cell ${rounded(full.again / full.seconds)} of the first, at the most ${rounded(
    full.longest / full.seconds
  )}; best time ${rounded(full.tour)} s, ${rounded(
    full.tour / quarter.tour
  )} times that of the quarter; past a patrol that begins again after ${full.period} steps ${rounded(full.patrol)} s, ${rounded(
    full.patrol / quarter.patrol
  )} times that of the quarter.`
);
console.log(`Every figure is that of a new process. all/bare: time to all verdicts by that of the exploration. plain/it: how many
times longer the plain exploration takes. it/bfs, it/dfs: time a state by that of spin, breadth first and depth first, its
compiler not counted. bytes: a state, edges and parents included. warm, renamed: a check after an edit that play sees, and
after one that it does not, by the first check in the same process.`);
