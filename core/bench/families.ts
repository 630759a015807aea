/** Generated flows of any size, for measuring: each family is large for a reason of its own. */
import { addSlotMenus } from '../src/document/edits/slots.ts';
import { filled } from '../src/document/fill.ts';
import { apply } from '../src/document/patch.ts';
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

/** Levels in a row with lamps, lives, a score that is counted, unlocks and a checkpoint. */
const row: Family = {
  name: 'levels in a row',
  sizes: { 3: 6, 4: 28, 5: 110, 6: 330, 7: 1300 },
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
          { id: `g${n}`, when: { collect: 'gem' }, do: [{ set: 'score', to: 'min(score + 1, 99)' }] }
        ]
      }
    ]);
    return document({
      variables: { lives: run('Lives', 3, 3), score: run('Score', scoreOf(size)) },
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
  },
  // place: 0 title, 1 ouch, 2 end, 3 lost, 4 a level
  promela: (size) => `byte place; short level; byte lamps; bit gem; byte lives = 3; short score;
#define ARRIVE lamps = 6; gem = 1
#define FORGET lamps = 0; gem = 0
active proctype play() {
  do
  :: d_step { place == 0 -> lives = 3; score = 0; level = 0; place = 4; ARRIVE }
  :: d_step { place == 1 -> place = 4; ARRIVE }
  :: d_step { place == 2 -> lives = 3; score = 0; place = 0; level = 0 }
  :: d_step { place == 3 -> place = 0 }
  :: d_step { place == 4 && lamps > 1 -> lamps-- }
  :: d_step { place == 4 && lamps == 1 && level < ${size - 1} -> level++; ARRIVE }
  :: d_step { place == 4 && lamps == 1 && level == ${size - 1} -> FORGET; place = 2 }
  :: d_step { place == 4 && gem == 1 -> gem = 0; if :: score < ${Math.min(99, scoreOf(size))} -> score++ :: else fi }
  :: d_step { place == 4 && lives > 1 -> lives--; FORGET; place = 1 }
  :: d_step { place == 4 && lives == 1 -> lives = 0; FORGET; place = 3 }
  od
}`
};

const scoreOf = (size: number) => Math.max(8, size >> 1);

/** Levels that open one after another, each with a checkpoint to come back to. */
const locks: Family = {
  name: 'unlocks and checkpoints',
  sizes: { 3: 1, 4: 2, 5: 5, 6: 10, 7: 13 },
  make(size) {
    const ids = Array.from({ length: size }, (_, n) => `l${n}`);
    return document({
      variables: { oil: { name: 'Oil', type: 'number', initial: 2, min: 0, max: 2, scope: 'attempt' } },
      orders: { main: { name: 'Main', draw: 'fixed', levels: ids } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'pick', when: { choose: 'main' }, if: 'won(previous) or position <= 3', go: { move: 'chosen' } },
            { id: 'on', when: { press: 'Go on' }, go: { move: 'resume', else: { move: 'first' } } },
            { id: 'door', when: { press: 'Door' }, if: `wins(main) = ${size}`, go: { place: 'end' } }
          ]
        },
        ...Object.fromEntries(
          ids.map((id, n) => [
            id,
            {
              name: id,
              kind: 'level',
              pieces: {
                lamp: { name: 'Lamp', kind: 'pickup', count: 3 },
                shrine: { name: 'Shrine', kind: 'checkpoint' },
                moth: { name: 'Moth', kind: 'foe' }
              },
              rules: [
                { id: `s${n}`, when: { touch: 'shrine' }, do: [{ save: 'always' }] },
                { id: `m${n}`, when: { touch: 'moth' }, do: [{ set: 'oil', to: 'oil - 1' }] },
                { id: `w${n}`, when: { holds: 'left(lamp) = 0 and oil > 0' }, go: { place: 'title' }, result: 'won' },
                { id: `q${n}`, when: { press: 'Leave' }, go: { place: 'title' } }
              ]
            }
          ])
        ),
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    });
  }
};

/** Rooms around a hub, each behind a two-way door, with a lever that opens the next. */
const doors: Family = {
  name: 'two-way doors with flags',
  sizes: { 3: 7, 4: 10, 5: 13, 6: 16, 7: 19 },
  make(size) {
    const rooms = Array.from({ length: size }, (_, n) => n);
    return document({
      variables: Object.fromEntries(
        rooms.map((n) => [`lever${n}`, { name: `Lever ${n}`, type: 'flag', initial: false, scope: 'run' }])
      ),
      places: {
        title: title({ place: 'hub' }),
        hub: {
          name: 'Hub',
          kind: 'level',
          goal: 'leave',
          entries: Object.fromEntries(rooms.map((n) => [`from${n}`, { name: `From ${n}` }])),
          pieces: Object.fromEntries(rooms.map((n) => [`door${n}`, { name: `Door ${n}`, kind: 'exit' }])),
          rules: [
            ...rooms.map((n) => ({ id: `in${n}`, when: { touch: `door${n}` }, go: { place: `room${n}` } })),
            {
              id: 'out',
              when: { press: 'Out' },
              if: rooms.map((n) => `lever${n}`).join(' and '),
              go: { place: 'end' }
            }
          ]
        },
        ...Object.fromEntries(
          rooms.map((n) => [
            `room${n}`,
            {
              name: `Room ${n}`,
              kind: 'level',
              goal: 'leave',
              pieces: { lever: { name: 'Lever', kind: 'switch' }, door: { name: 'Door', kind: 'exit' } },
              rules: [
                { id: `pull${n}`, when: { touch: 'lever' }, do: [{ set: `lever${n}`, to: 'true' }] },
                { id: `back${n}`, when: { touch: 'door' }, go: { place: 'hub', entry: `from${n}` } }
              ]
            }
          ])
        ),
        end: ending
      }
    });
  },
  // place: 0 title, 1 hub, 2 end, 3 + n room n
  promela(size) {
    const each = (line: (n: number) => string) => Array.from({ length: size }, (_, n) => line(n)).join('\n');
    const all = Array.from({ length: size }, (_, n) => `lever[${n}]`).join(' && ');
    const none = Array.from({ length: size }, (_, n) => `lever[${n}] = 0`).join('; ');
    return `byte place; bit lever[${size}];
active proctype play() {
  do
  :: d_step { place == 0 -> place = 1 }
  :: d_step { place == 1 && ${all} -> place = 2 }
  :: d_step { place == 2 -> ${none}; place = 0 }
${each((n) => `  :: d_step { place == 1 -> place = ${n + 3} }`)}
${each((n) => `  :: d_step { place == ${n + 3} && !lever[${n}] -> lever[${n}] = 1 }`)}
${each((n) => `  :: d_step { place == ${n + 3} -> place = 1 }`)}
  od
}`;
  }
};

/** Shuffled runs: a bag of levels, and a table whose rows are drawn. */
const shuffled: Family = {
  name: 'bags and tables',
  sizes: { 3: 7, 4: 10, 5: 13, 6: 16, 7: 19 },
  make(size) {
    const ids = Array.from({ length: size }, (_, n) => `l${n}`);
    const turned = ids.map((_, n) => [...ids.slice(n), ...ids.slice(0, n)]);
    return document({
      orders: {
        sack: { name: 'Sack', draw: 'bag', levels: ids },
        night: { name: 'Night', draw: 'table', levels: ids, rows: turned }
      },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'a', when: { press: 'Bag' }, do: [{ begin: 'run' }, { draw: 'sack' }], go: { move: 'next', order: 'sack' } },
            { id: 'b', when: { press: 'Table' }, do: [{ begin: 'run' }, { draw: 'night' }], go: { move: 'next', order: 'night' } }
          ]
        },
        ...Object.fromEntries(
          ids.map((id, n) => [
            id,
            {
              name: id,
              kind: 'level',
              pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 2 } },
              rules: [
                { id: `w${n}`, when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'end' } }, result: 'won' }
              ]
            }
          ])
        ),
        end: ending
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
${each((n) => `  :: d_step { place == 0 && !won[${n}] -> place = ${n + 1} }`)}
${each((n) => `  :: d_step { place == ${n + 1} -> won[${n}] = 1; wins++; place = 0 }`)}
  :: d_step { place == 0 && wins == ${size} -> place = 255 }
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
  :: d_step { !end && a < ${size} -> a++ }
  :: d_step { !end && (b < a || flag) && b < ${size} -> b++ }
  :: d_step { !end -> flag = !flag }
  :: d_step { !end && a == b && a > 5 -> end = 1 }
  :: d_step { end -> end = 0; a = 0; b = 0; flag = 0 }
  od
}`
};

/** Levels in a row with two clocks beside a deadline: every order in which their ticks can come. */
const clocks: Family = {
  name: 'clocks',
  sizes: { 3: 2, 4: 20, 5: 202, 6: 2024, 7: 20_240 },
  make(size) {
    const ids = Array.from({ length: size }, (_, n) => `l${n}`);
    const level = (id: string, n: number) => ({
      name: id,
      kind: 'level',
      pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 2 } },
      rules: [
        { id: `w${n}`, when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'end' } }, result: 'won' },
        { id: `b${n}`, when: { every: 'pause' }, do: [{ set: 'open', to: 'not open' }] },
        { id: `s${n}`, when: { every: 0.7 }, if: 'open', do: [{ restore: 'lamp' }] },
        { id: `d${n}`, when: { after: 9 }, go: { move: 'again' }, result: 'lost' }
      ]
    });
    return document({
      variables: { open: { name: 'Open', type: 'flag', initial: false, scope: 'attempt' } },
      numbers: { pause: { name: 'Pause', value: 0.5 } },
      orders: { main: { name: 'Main', draw: 'fixed', levels: ids } },
      places: {
        title: title({ move: 'first' }),
        ...Object.fromEntries(ids.map((id, n) => [id, level(id, n)])),
        end: ending
      }
    });
  }
};

/** Levels in a row with foes that are met from above, beside and below. */
const sides: Family = {
  name: 'sides',
  sizes: { 3: 1, 4: 11, 5: 108, 6: 1076, 7: 10_760 },
  make(size) {
    const ids = Array.from({ length: size }, (_, n) => `l${n}`);
    const level = (id: string, n: number) => ({
      name: id,
      kind: 'level',
      pieces: { moth: { name: 'Moth', kind: 'foe', count: 30 }, lamp: { name: 'Lamp', kind: 'pickup', count: 9 } },
      rules: [
        {
          id: `w${n}`,
          when: { holds: 'left(moth) = 0 and left(lamp) = 0' },
          go: { move: 'next', else: { place: 'end' } },
          result: 'won'
        },
        { id: `a${n}`, when: { touch: 'moth', side: 'above' }, do: [{ defeat: 'moth' }] },
        { id: `s${n}`, when: { touch: 'moth', side: 'beside' }, do: [{ set: 'lives', to: 'lives - 1' }] },
        { id: `o${n}`, when: { holds: 'lives = 0' }, go: { place: 'title' }, result: 'lost' }
      ]
    });
    return document({
      variables: { lives: run('Lives', 3, 3) },
      orders: { main: { name: 'Main', draw: 'fixed', levels: ids } },
      places: {
        title: title({ move: 'first' }),
        ...Object.fromEntries(ids.map((id, n) => [id, level(id, n)])),
        end: ending
      }
    });
  }
};

/** Levels in a row with a menu of saved games, in so many slots. */
export const savedGames = (slots: number): Family => ({
  name: 'saved games',
  sizes: { 3: 3, 4: 16, 5: 53, 6: 170, 7: 1350 },
  make(size) {
    const without = row.make(size);
    return apply(without, addSlotMenus(without, slots).patch);
  }
});

/** A hall with rooms that open one after the other, each with a lamp and with the key to the next. */
const rooms: Family = {
  name: 'rooms with keys',
  sizes: { 3: 6, 4: 9, 5: 12, 6: 15, 7: 18 },
  make(size) {
    const ids = Array.from({ length: size }, (_, n) => `r${n}`);
    const one = Object.fromEntries(ids.map((id) => [id, 1]));
    return document({
      places: {
        title: title({ place: 'keep' }),
        keep: {
          name: 'Keep',
          kind: 'level',
          spots: { hall: { name: 'Hall' }, ...Object.fromEntries(ids.map((id) => [id, { name: id }])) },
          passages: Object.fromEntries(
            ids.map((id, n) => [`p${n}`, { from: 'hall', to: id, both: true, ...(n > 0 && { if: `taken(key) >= ${n}` }) }])
          ),
          pieces: { lamp: { name: 'Lamp', kind: 'pickup', at: one }, key: { name: 'Key', kind: 'pickup', at: one } },
          rules: [{ id: 'lit', when: { holds: 'left(lamp) = 0' }, go: { place: 'end' }, result: 'won' }]
        },
        end: ending
      }
    });
  },
  // place: 0 title, 1 the level, 2 the end; at: the hall is behind the last room
  promela(size) {
    const each = (text: (n: number) => string) => Array.from({ length: size }, (_, n) => text(n)).join('\n');
    return `byte place; byte at; int lamps; int keys; byte n;
active proctype play() {
  do
  :: d_step { place == 0 -> place = 1; at = ${size}; lamps = 0; keys = 0; n = 0 }
  :: d_step { place == 2 -> place = 0; at = 0; lamps = 0; keys = 0; n = 0 }
${each((n) => `  :: d_step { place == 1 && at == ${size} && n >= ${n} -> at = ${n} }`)}
${each((n) => `  :: d_step { place == 1 && at == ${n} -> at = ${size} }`)}
${each((n) => `  :: d_step { place == 1 && at == ${n} && !(keys & ${2 ** n}) -> keys = keys | ${2 ** n}; n++ }`)}
${each(
  (n) =>
    `  :: d_step { place == 1 && at == ${n} && !(lamps & ${2 ** n}) -> lamps = lamps | ${2 ** n}; if :: lamps == ${2 ** size - 1} -> place = 2 :: else fi }`
)}
  od
}`;
  }
};

/** A whole game: twelve levels of twenty spots with seven lamps each, two keys that are kept, and lives. */
export function wholeGame(): FlowDocument {
  const ids = Array.from({ length: 12 }, (_, n) => `l${n}`);
  const spots = Array.from({ length: 20 }, (_, n) => `s${n}`);
  const flag = (name: string) => ({ name, type: 'flag', initial: false, scope: 'kept' });
  const level = (n: number) => ({
    name: `Level ${n}`,
    kind: 'level',
    spots: Object.fromEntries(spots.map((id) => [id, { name: id }])),
    // a tree of rooms; a drop that leads back to its foot, and from the fourth level on doors that ask for the kept keys
    passages: {
      ...Object.fromEntries(
        spots
          .slice(1)
          .map((id, at) => [
            `p${at}`,
            { from: `s${at >> 1}`, to: id, both: true, ...(n > 3 && at === 9 && { if: n > 7 ? 'silver' : 'brass' }) }
          ])
      ),
      drop: { from: 's19', to: 's0' }
    },
    pieces: {
      lamp: { name: 'Lamp', kind: 'pickup', at: Object.fromEntries([2, 5, 8, 11, 14, 17, 18].map((at) => [`s${at}`, 1])) },
      gust: { name: 'Gust', kind: 'hazard', at: { s12: 1 } },
      ...(n === 2 || n === 6 ? { key: { name: 'Key', kind: 'pickup', renew: 'never', at: { s16: 1 } } } : {})
    },
    rules: [
      { id: `w${n}`, when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'end' } }, result: 'won' },
      ...(n === 2 || n === 6
        ? [{ id: `k${n}`, when: { collect: 'key' }, do: [{ set: n === 2 ? 'brass' : 'silver', to: 'true' }] }]
        : [])
    ]
  });
  return document({
    variables: { lives: run('Lives', 3, 3), brass: flag('Brass key'), silver: flag('Silver key') },
    orders: { main: { name: 'Main', draw: 'fixed', levels: ids } },
    rules: [
      { id: 'hit', when: { touch: 'gust' }, do: [{ set: 'lives', to: 'lives - 1' }], go: { place: 'ouch' }, result: 'lost' }
    ],
    places: {
      title: title({ move: 'first' }),
      ...Object.fromEntries(ids.map((id, n) => [id, level(n)])),
      ouch: {
        name: 'Ouch',
        kind: 'interlude',
        rules: [
          { id: 'out', when: { arrive: true }, if: 'lives = 0', go: { place: 'lost' } },
          { id: 'again', when: { after: 1 }, go: { move: 'again' } }
        ]
      },
      end: ending,
      lost: {
        name: 'Lost',
        kind: 'ending',
        outcome: 'lost',
        rules: [{ id: 'home2', when: { press: 'Title' }, go: { place: 'title' } }]
      }
    }
  });
}

export const families = [row, hub, counters, locks, doors, shuffled, clocks, sides, rooms, savedGames(3)];
