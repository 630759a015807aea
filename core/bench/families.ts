/** Generated flows of any size, for measuring: each family is large for a reason of its own. */
import { filled } from '../src/document/fill.ts';
import type { FlowDocument } from '../src/document/types.ts';

export interface Family {
  name: string;
  /** The flow whose number of states is nearest to 10 to this power. */
  sizes: Record<number, number>;
  make(size: number): FlowDocument;
  /** The same states and moves in the language of spin, where that is easily said. */
  promela?(size: number): string;
}

const document = (parts: object) =>
  filled({ format: 'crow-lane', version: 1, name: 'Bench', start: 'title', ...parts } as unknown as FlowDocument);
const run = (name: string, max: number, initial = 0) => ({ name, type: 'number', initial, min: 0, max, scope: 'run' });
const ending = {
  name: 'End',
  kind: 'ending',
  outcome: 'won',
  rules: [{ id: 'home', when: { press: 'Title' }, do: [{ begin: 'run' }], go: { place: 'title' } }]
};
const title = (go: object) => ({
  name: 'Title',
  kind: 'menu',
  rules: [{ id: 'begin', when: { press: 'Begin' }, do: [{ begin: 'run' }], go }]
});

/** Levels in a row with lamps, lives and a score. */
const row: Family = {
  name: 'levels in a row',
  sizes: { 3: 6, 4: 28, 5: 110, 6: 480, 7: 1800 },
  make(size) {
    const ids = Array.from({ length: size }, (_, n) => `l${n}`);
    const levels = ids.map((id, n) => [
      id,
      {
        name: id,
        kind: 'level',
        pieces: {
          lamp: { name: 'Lamp', kind: 'pickup', count: 6 },
          gust: { name: 'Gust', kind: 'hazard' },
          gem: { name: 'Gem', kind: 'pickup' }
        },
        rules: [
          { id: `w${n}`, when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'end' } }, result: 'won' },
          { id: `g${n}`, when: { collect: 'gem' }, do: [{ set: 'score', to: 'score + 1' }] }
        ]
      }
    ]);
    return document({
      variables: { lives: run('Lives', 3, 3), score: run('Score', Math.max(8, size >> 2)) },
      orders: { main: { name: 'Main', draw: 'fixed', levels: ids } },
      rules: [
        { id: 'hit', when: { touch: 'gust' }, do: [{ set: 'lives', to: 'lives - 1' }], go: { place: 'ouch' }, result: 'lost' }
      ],
      places: {
        title: title({ move: 'first' }),
        ouch: {
          name: 'Ouch',
          kind: 'interlude',
          rules: [
            { id: 'out', when: { arrive: true }, if: 'lives = 0', go: { place: 'lost_' } },
            { id: 'again', when: { after: 1 }, go: { move: 'again' } }
          ]
        },
        ...Object.fromEntries(levels),
        end: ending,
        lost_: {
          name: 'Lost',
          kind: 'ending',
          outcome: 'lost',
          rules: [{ id: 'home2', when: { press: 'Title' }, go: { place: 'title' } }]
        }
      }
    });
  }
};

/** A hub whose levels are won in any order, the last door opening when all are. */
const hub: Family = {
  name: 'free choice of levels',
  sizes: { 3: 7, 4: 10, 5: 13, 6: 16, 7: 19 },
  make(size) {
    const ids = Array.from({ length: size }, (_, n) => `l${n}`);
    return document({
      orders: { main: { name: 'Main', draw: 'fixed', levels: ids } },
      places: {
        title: {
          name: 'Hub',
          kind: 'menu',
          rules: [
            { id: 'pick', when: { choose: 'main' }, if: 'not won(it)', go: { move: 'chosen' } },
            { id: 'door', when: { press: 'Door' }, if: `wins(main) = ${size}`, go: { place: 'end' } }
          ]
        },
        ...Object.fromEntries(
          ids.map((id, n) => [
            id,
            { name: id, kind: 'level', rules: [{ id: `w${n}`, when: { press: 'Win' }, go: { place: 'title' }, result: 'won' }] }
          ])
        ),
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    });
  },
  promela(size) {
    const each = (line: (n: number) => string) => Array.from({ length: size }, (_, n) => line(n)).join('\n');
    return `byte place; bit won[${size}]; byte wins;
active proctype play() {
  do
${each((n) => `  :: atomic { place == 0 && !won[${n}] -> place = ${n + 1} }`)}
${each((n) => `  :: atomic { place == ${n + 1} -> won[${n}] = 1; wins++; place = 0 }`)}
  :: atomic { place == 0 && wins == ${size} -> place = 255 }
  od
}`;
  }
};

/** Two long counters and a flag. */
const counters: Family = {
  name: 'long counters',
  sizes: { 3: 21, 4: 69, 5: 222, 6: 705, 7: 2235 },
  make: (size) =>
    document({
      variables: { a: run('A', size), b: run('B', size), flag: { name: 'Flag', type: 'flag', initial: false, scope: 'run' } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'up', when: { press: 'A up' }, do: [{ set: 'a', to: 'a + 1' }] },
            { id: 'up2', when: { press: 'B up' }, if: 'b < a or flag', do: [{ set: 'b', to: 'b + 1' }] },
            { id: 'flip', when: { press: 'Flip' }, do: [{ set: 'flag', to: 'not flag' }] },
            { id: 'out', when: { press: 'Out' }, if: 'a = b and a > 5', go: { place: 'end' } }
          ]
        },
        end: ending
      }
    }),
  promela: (size) => `short a; short b; bit flag; bit end;
active proctype play() {
  do
  :: atomic { !end && a < ${size} -> a++ }
  :: atomic { !end && (b < a || flag) && b < ${size} -> b++ }
  :: atomic { !end -> flag = !flag }
  :: atomic { !end && a == b && a > 5 -> end = 1 }
  :: atomic { end -> end = 0; a = 0; b = 0; flag = 0 }
  od
}`
};

export const families = [row, hub, counters];
