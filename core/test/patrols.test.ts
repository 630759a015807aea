/** Patrols: their runs, and whether the player gets past them, held against a search through every cell and moment. */
import { expect } from 'chai';
import fc from 'fast-check';
import type { Cell, FlowDocument, Id, Level, Plan, PlanPatrol } from '../src/document/types.ts';
import { check, finish } from '../src/check/check.ts';
import { removePiece } from '../src/document/edits/parts.ts';
import { setPatrol, setPlan } from '../src/document/edits/plan.ts';
import { apply } from '../src/document/patch.ts';
import { read } from '../src/document/read.ts';
import { write } from '../src/document/write.ts';
import { Automaton, out } from '../src/plan/automaton.ts';
import { derivedOf, grownFrom } from '../src/plan/grown.ts';
import { Ground, oneWay } from '../src/plan/ground.ts';
import { mirrored, movedPart, resized, withPatrol } from '../src/plan/draw.ts';
import { Moves } from '../src/plan/moves.ts';
import { Passing, stepsOfTick } from '../src/plan/passing.ts';
import { Beats, idlePoints, runOf, sideOf, type Patrol } from '../src/plan/patrols.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { countOf } from '../src/vocabulary/pieces.ts';
import { usualMovement, type Drawn } from '../src/plan/types.ts';
import { seed } from './support/compare.ts';
import { flowOf } from './support/flows.ts';
import { acts, randomPlan } from './support/random-plan.ts';

const movesIn = (automaton: Automaton, cell: number): Moves =>
  new Moves(automaton, { start: { cell }, needs: new Map(), asked: () => new Map<Id, number>() }, 1e6);

const isSame = (a: Cell, b: Cell) => a[0] === b[0] && a[1] === b[1];

/** Where a foe is that has gone so many cells in all. */
const gone = (cells: Cell[], n: number) => cells[n % cells.length]!;

/** Every place at every step of the period, one after another: which places the player can be in at some time. */
function plainly(moves: Moves, patrols: Patrol[], stepsASecond: number, period: number, scale: number): Set<number> {
  const { automaton } = moves;
  const { ground } = automaton;
  const cellAt = (at: number) => ground.cellOf(automaton.cellOf(moves.codes.at(at)));
  const far = ({ speed }: Patrol, step: number) => Math.floor((step * speed) / stepsASecond + 1e-9);
  const meets = (from: Cell, to: Cell, step: number, lasts: number) =>
    lasts > 0 &&
    patrols.some((patrol) => {
      const { cells } = patrol;
      // cell by cell, as the foe goes on while the player is on its way
      for (let n = far(patrol, step) + 1; n <= far(patrol, step + lasts); n++) {
        const isLate = n > far(patrol, step + lasts - 1);
        if (isLate && isSame(gone(cells, n), to)) return true;
        const isSwap = isSame(gone(cells, far(patrol, step)), to) && isSame(gone(cells, n), from) && !isSame(from, to);
        if (isSwap) return true;
      }
      return isSame(gone(cells, far(patrol, step + lasts)), to);
    });
  const canWait = (at: number) => {
    const [x, y] = cellAt(at);
    const isPath = ground.drawn.plan.view === 'above' && oneWay[ground.char(x, y)] !== undefined;
    const isStanding = automaton.isStanding(moves.codes.at(at)) && ground.isFooting(x, y) && !isPath;
    return isStanding && (at === 0 || !ground.acting.has(ground.at(x, y)!));
  };
  const reached = new Set<number>();
  if (patrols.some(({ cells }) => isSame(cells[0]!, cellAt(0)))) return reached;
  const seen = new Set(['0 0']);
  const waiting: [number, number][] = [[0, 0]];
  for (const [at, step] of waiting) {
    reached.add(at);
    const go = (to: number, lasts: number) => {
      const key = `${to} ${(step + lasts) % period}`;
      if (seen.has(key) || meets(cellAt(at), cellAt(to), step, lasts)) return;
      seen.add(key);
      waiting.push([to, (step + lasts) % period]);
    };
    if (canWait(at)) go(at, 1);
    for (let move = moves.first.at(at); move < moves.first.at(at + 1); move++)
      go(moves.to.at(move), Math.ceil(moves.ticks[move]! * scale - 1e-9));
  }
  return reached;
}

describe('a run', () => {
  const points: Cell[] = [
    [0, 0],
    [2, 0],
    [2, 1]
  ];
  it('goes straight from point to point, round or back and forth', () => {
    expect(runOf({ points, turn: 'round' })).to.deep.equal([
      [0, 0],
      [1, 0],
      [2, 0],
      [2, 1],
      [1, 0]
    ]);
    expect(runOf({ points, turn: 'back' })).to.deep.equal([
      [0, 0],
      [1, 0],
      [2, 0],
      [2, 1],
      [2, 0],
      [1, 0]
    ]);
    expect(runOf({ points: [[3, 3]], turn: 'back' })).to.deep.equal([[3, 3]]);
    expect(runOf({ points: [...points, [0, 0]], turn: 'round' })).to.deep.equal(runOf({ points, turn: 'round' }));
  });
  it('has points that make no difference', () => {
    expect(idlePoints({ points, turn: 'round' })).to.deep.equal([]);
    expect(
      idlePoints({
        points: [
          [0, 0],
          [0, 0],
          [2, 0],
          [0, 0]
        ],
        turn: 'round'
      })
    ).to.deep.equal([1, 3]);
    expect(
      idlePoints({
        points: [
          [0, 0],
          [2, 0],
          [0, 0]
        ],
        turn: 'back'
      })
    ).to.deep.equal([]);
  });
});

describe('patrols in time', () => {
  const row: Cell[] = [
    [0, 0],
    [1, 0],
    [2, 0],
    [1, 0]
  ];
  it('begin again after so many steps', () => {
    const period = (...speeds: number[]) =>
      new Beats(
        speeds.map((speed) => ({ id: 'p', piece: 'moth', cells: row, speed })),
        4
      ).period;
    expect(period(4)).to.equal(4);
    expect(period(2)).to.equal(8);
    expect(period(3)).to.equal(16);
    expect(period(8)).to.equal(2);
    expect(period(2, 3)).to.equal(16);
    expect(new Beats([{ id: 'p', piece: 'moth', cells: row, speed: 3.999 }], 4, 100).isCounted).to.equal(false);
  });
  it('are where their speed has brought them', () => {
    const beats = new Beats([{ id: 'p', piece: 'moth', cells: row, speed: 2 }], 4);
    expect([0, 1, 2, 3, 4, 6, 8].map((step) => beats.cellAt(0, step)[0])).to.deep.equal([0, 0, 1, 1, 2, 1, 0]);
    expect(beats.in([1, 0], 2)).to.equal(0);
    expect(beats.in([0, 0], 2)).to.equal(undefined);
  });
  it('are met in one cell, and where both change places', () => {
    const beats = new Beats([{ id: 'p', piece: 'moth', cells: row, speed: 4 }], 4);
    expect(beats.meets([1, 0], [1, 0], 0, 1)).to.equal(0);
    expect(beats.meets([1, 0], [0, 0], 0, 1)).to.equal(0);
    expect(beats.meets([1, 0], [2, 0], 0, 1)).to.equal(undefined);
    expect(beats.meets([1, 1], [0, 0], 0, 1)).to.equal(undefined);
    // a quick one goes through cells between
    const quick = new Beats([{ id: 'p', piece: 'moth', cells: row, speed: 8 }], 4);
    expect(quick.meets([1, 1], [1, 0], 0, 1)).to.equal(0);
  });
  it('are touched from the side to which the player moves, else to which they do', () => {
    expect(sideOf([0, 1])).to.equal('above');
    expect(sideOf([1, -1], [1, 0])).to.equal('below');
    expect(sideOf([1, 0], [-1, 0])).to.equal('beside');
    expect(sideOf([0, 0], [0, 1])).to.equal('below');
    expect(sideOf([1, 0], [0, -1])).to.equal('above');
  });
});

describe('the way past patrols', () => {
  for (const view of ['above', 'side'] as const)
    it(`is found exactly where a search through every moment finds one, seen from ${view === 'above' ? 'above' : 'the side'}`, () => {
      const seen = { blocked: 0, through: 0, waited: 0, two: 0 };
      const cell = fc.tuple(fc.nat(8), fc.nat(6));
      const patrol = fc.record({
        points: fc.array(cell, { minLength: 1, maxLength: 4 }),
        turn: fc.constantFrom('round' as const, 'back' as const),
        speed: fc.constantFrom(1, 2, 3, 4, 4, 6, 8, 12)
      });
      fc.assert(
        fc.property(randomPlan(view), fc.array(patrol, { minLength: 1, maxLength: 2 }), fc.nat(60), (plan, some, first) => {
          const ground = new Ground(plan);
          const all = ground.width * ground.height;
          const patrols = some.map(({ points, turn, speed }, n): Patrol => {
            const inside = points.map(([x, y]): Cell => [x % ground.width, y % ground.height]);
            return { id: `p${n}`, piece: 'moth', cells: runOf({ points: inside, turn }), speed };
          });
          const cells = Array.from({ length: all }, (_, at) => (at + first) % all);
          const start = cells.find((at) => ground.isFooting(...ground.cellOf(at)));
          if (start === undefined) return;
          const moves = movesIn(new Automaton(ground), start);
          const scale = stepsOfTick(plan);
          const beats = new Beats(patrols, 4 * scale);
          if (beats.period > 400) return;
          const passing = new Passing(moves, beats, () => false, scale);
          finish(passing.search());
          const reached = plainly(moves, patrols, 4 * scale, beats.period, scale);
          const found = [...passing.earliest.keys()].filter((at) => passing.earliest[at]! < Infinity);
          expect(found).to.deep.equal([...reached].sort((a, b) => a - b));
          for (const at of found) checkWay(passing, beats, at, scale);
          if (found.length < moves.count) seen.blocked++;
          const around = passing.around();
          const behind = found.filter((at) => !around[at] && !passing.isOnRun(at));
          if (behind.length > 0) seen.through++;
          if (behind.some((at) => passing.wayTo(at).some(({ waits }) => waits > 0))) seen.waited++;
          if (patrols.length > 1) seen.two++;
        }),
        { numRuns: 1000, seed }
      );
      expect(Math.min(seen.blocked, seen.through, seen.two)).to.be.greaterThan(100);
      expect(seen.waited).to.be.greaterThan(view === 'above' ? 40 : 40);
    });

  /** A way meets nobody at any of its steps, and takes as long as it says. */
  function checkWay(passing: Passing, beats: Beats, at: number, scale: number): void {
    const { automaton } = passing.moves;
    const { ground } = automaton;
    const way = passing.wayTo(at);
    const cellAt = (n: number) => ground.cellOf(way[n]!.place.cell);
    expect(way.at(-1)!.step).to.equal(passing.earliest[at]);
    for (let n = 0; n < way.length - 1; n++) {
      const { place, step, waits } = way[n]!;
      for (let wait = 0; wait < waits; wait++) expect(beats.meets(cellAt(n), cellAt(n), step + wait, 1)).to.equal(undefined);
      const next = way[n + 1]!;
      const lasts = automaton
        .movesFrom(place)
        .flatMap((move) =>
          move !== out && automaton.codeOf(move.to) === automaton.codeOf(next.place) ? [Math.ceil(move.ticks * scale - 1e-9)] : []
        );
      expect(next.step - step - waits).to.equal(Math.min(...lasts));
      expect(beats.meets(cellAt(n), cellAt(n + 1), step + waits, Math.min(...lasts))).to.equal(undefined);
    }
  }

  function past(
    rows: string[],
    points: Cell[],
    more: { speed?: number; turn?: 'round' | 'back'; start?: Cell; sides?: string[] } = {}
  ) {
    const view: Plan['view'] = 'above';
    const drawn: Drawn = { plan: { view, rows }, movement: usualMovement, acts };
    const ground = new Ground(drawn);
    const moves = movesIn(new Automaton(ground), ground.at(...(more.start ?? [0, 0]))!);
    const cells = runOf({ points, turn: more.turn ?? 'back' });
    const beats = new Beats([{ id: 'p', piece: 'moth', cells, speed: more.speed ?? 4 }], 4);
    const passing = new Passing(moves, beats, (side) => more.sides?.includes(side) ?? false, 1);
    finish(passing.search());
    return passing;
  }
  const comesTo = (passing: Passing, [x, y]: Cell): number => {
    const { automaton, codes, count } = passing.moves;
    const cell = automaton.ground.at(x, y)!;
    const steps = Array.from({ length: count }, (_, at) => at)
      .filter((at) => automaton.cellOf(codes.at(at)) === cell)
      .map((at) => passing.earliest[at]!);
    return Math.min(...steps);
  };

  it('needs a niche where the run fills a corridor', () => {
    const run: Cell[] = [
      [2, 0],
      [6, 0]
    ];
    expect(comesTo(past(['.........'], run), [8, 0])).to.equal(Infinity);
    // behind the foe, into the niche, and past it as it comes back
    expect(comesTo(past(['.........', '####.####'], run), [8, 0])).to.be.lessThan(Infinity);
    const slow = past(['.........', '####.####'], run, { speed: 1 });
    expect(comesTo(slow, [8, 0])).to.be.lessThan(Infinity);
  });

  it('waits for a foe that goes across', () => {
    const passing = past(
      ['#...#', '.....', '#...#'],
      [
        [2, 0],
        [2, 2]
      ],
      { speed: 1, start: [0, 1] }
    );
    expect(comesTo(passing, [4, 1])).to.be.lessThan(20);
    const still = past(['.....'], [[2, 0]], { start: [0, 0] });
    expect(comesTo(still, [4, 0])).to.equal(Infinity);
  });

  it('is free once the foe is taken away, and shut where the player is met as it arrives', () => {
    expect(comesTo(past(['.....'], [[2, 0]], { sides: ['beside'] }), [4, 0])).to.be.lessThan(Infinity);
    const met = past(
      ['.....'],
      [
        [0, 0],
        [3, 0]
      ]
    );
    expect(met.isMetAtOnce).to.equal(true);
    expect(comesTo(met, [4, 0])).to.equal(Infinity);
  });
});

interface Alley {
  rows: string[];
  patrols: Record<Id, Partial<PlanPatrol> & { points: Cell[] }>;
  rules?: object[];
  lamps?: Cell[];
  numbers?: object;
}

/** A level seen from above, four cells a second: from its gate to the lamps, past moths. */
function alley({ rows, patrols, rules = [], lamps = [[rows[0]!.length - 1, 0]], numbers = {} }: Alley): FlowDocument {
  const things = { gate: { entry: 'gate', cell: [0, 0] }, lamps: { piece: 'lamp', cells: lamps } };
  const all = Object.entries(patrols).map(([id, patrol]) => [id, { piece: 'moth', turn: 'back', speed: 4, ...patrol }]);
  return flowOf({
    start: 'quay',
    numbers,
    places: {
      quay: {
        name: 'Alley',
        kind: 'level',
        entries: { gate: { name: 'Gate' } },
        pieces: { lamp: { name: 'Lamp', kind: 'pickup' }, moth: { name: 'Moth', kind: 'foe' } },
        plan: { view: 'above', rows, things, patrols: Object.fromEntries(all) as object },
        rules: [
          { id: 'w', when: { holds: 'all(lamp)' }, go: { place: 'end' }, result: 'won' },
          { id: 'l', when: { touch: 'moth' }, go: { move: 'again' }, result: 'lost' },
          ...rules
        ]
      },
      end: { name: 'End', kind: 'ending', outcome: 'won' }
    }
  });
}
const levelOf = (document: FlowDocument) => document.places.quay as Level & { plan: Plan };
const told = (document: FlowDocument, subject = 'quay/p') =>
  check(document).checks.find((each) => each.check === 'patrol-passable' && each.subject === subject);
const corridor: Cell[] = [
  [2, 0],
  [6, 0]
];

describe('a level with patrols', () => {
  it('has as many foes as patrol, to be touched from all ground that they come to or pass by', () => {
    const document = alley({ rows: ['...#..', '######', '......'], patrols: { p: { points: [[4, 0], [5, 0]] }, q: { points: [[1, 0]] } }, lamps: [] }); // prettier-ignore
    const { moth } = levelOf(document).pieces;
    expect(countOf(moth!)).to.equal(2);
    const [first, beyond] = Object.keys(levelOf(document).spots);
    // ground that the player never comes to is a spot of its own
    expect(moth!.at).to.deep.equal([
      { spots: [beyond], n: 1 },
      { spots: [first], n: 1 }
    ]);
    const wide = alley({ rows: ['..>.'], patrols: { p: { points: [[2, 0]] } }, lamps: [] });
    expect(levelOf(wide).pieces.moth!.at).to.deep.equal([{ spots: Object.keys(levelOf(wide).spots), n: 1 }]);
  });

  it('lets a foe be touched from wherever the player is where it goes', () => {
    let met = 0;
    for (const view of ['above', 'side'] as const)
      fc.assert(
        fc.property(
          randomPlan(view),
          fc.array(fc.tuple(fc.nat(4), fc.nat(3)), { minLength: 1, maxLength: 3 }),
          (drawn, points) => {
            const level = {
              name: 'L',
              kind: 'level',
              entries: {},
              spots: {},
              passages: {},
              objectives: {},
              rules: []
            } as unknown as Level;
            level.pieces = { moth: { name: 'Moth', kind: 'foe' } };
            level.plan = { ...drawn.plan, patrols: { p: { piece: 'moth', points, turn: 'back', speed: 1 } } };
            level.movement = drawn.movement as Level['movement'];
            for (const piece of ['key', 'boots', 'lamp']) level.pieces[piece] = { name: piece, kind: 'pickup' };
            for (const piece of acts) level.pieces[piece] = { name: piece, kind: 'switch' };
            const { spots, patrols } = derivedOf({ places: { l: level } } as unknown as FlowDocument, level)!;
            const [{ cells, spots: from }] = patrols as [(typeof patrols)[number]];
            for (const [id, spot] of Object.entries(spots)) {
              if (!spot.cells.some((cell) => cells.some((each) => isSame(each, cell)))) continue;
              met++;
              expect(from).to.include(id);
            }
          }
        ),
        { numRuns: 500, seed }
      );
    expect(met).to.be.greaterThan(300);
  });

  it('is written and read as it was, and a level made after it has patrols of its own', () => {
    const document = alley({ rows: ['.........'], patrols: { p: { points: corridor } } });
    expect(read(write(document)).document).to.deep.equal(document);
    expect(write(document)).to.include('"patrols"');
  });

  it('moves, is mirrored and loses points with the ground they are on', () => {
    const plan = withPatrol({ view: 'above', rows: ['....', '....'] }, 'moth', [[0, 0], [3, 0], [3, 1]], 'round'); // prettier-ignore
    const whole = { from: [0, 0] as Cell, to: [3, 1] as Cell };
    expect(mirrored(plan, whole).patrols!.moth_patrol!.points).to.deep.equal([[3, 0], [0, 0], [0, 1]]); // prettier-ignore
    expect(movedPart(plan, { from: [0, 0], to: [0, 0] }, [1, 1]).patrols!.moth_patrol!.points[0]).to.deep.equal([1, 1]);
    expect(resized(plan, 2, 2).patrols!.moth_patrol!.points).to.deep.equal([[0, 0]]);
    expect(withPatrol(plan, 'moth', [[0, 0]], 'back').patrols).to.have.keys('moth_patrol', 'moth_patrol_2');
  });

  it('changes by edits that can be taken back, and loses patrols with their piece', () => {
    const document = alley({ rows: ['.........'], patrols: { p: { points: corridor } } });
    for (const change of [
      setPatrol(document, 'quay', 'p', { turn: 'round', speed: 1 }, 'slower'),
      setPlan(document, 'quay', withPatrol(levelOf(document).plan, 'moth', corridor, 'back'), 'another'),
      removePiece(document, 'quay', 'moth')
    ]) {
      const after = grownFrom(document, apply(document, change.patch));
      expect(after).not.to.deep.equal(document);
      expect(write(apply(after, change.inverse))).to.equal(write(document));
    }
    const without = apply(document, removePiece(document, 'quay', 'moth').patch);
    expect(levelOf(without).plan.patrols).to.deep.equal({});
  });
});

describe('patrol-passable', () => {
  it('tells what lies behind a foe that fills its way, and offers a niche', () => {
    const document = alley({ rows: ['.........', '#########', '.........'], patrols: { p: { points: corridor } } });
    const verdict = told(document)!;
    expect(verdict).to.include({ outcome: 'fails', severity: 'warning' });
    expect(verdict.message).to.equal('Moth cannot be passed in Alley without meeting it: 1 Lamp is out of reach.');
    expect(verdict.why).to.deep.equal([{ text: 'Behind it: 1 Lamp at 8, 0.', cells: [[8, 0]] }]);
    const [niche, ...others] = repairsOf(document, verdict);
    expect(niche!.label).to.match(/^Open \d+, 1 for the player to wait in$/);
    expect(told(grownFrom(document, apply(document, niche!.patch)))!.outcome).to.equal('holds');
    expect(others.map(({ label }) => label)).to.deep.equal(['Take the patrol of Moth away']);
  });

  it('tells how it is passed, and where the player waits', () => {
    const points: Cell[] = [
      [4, 0],
      [4, 2]
    ];
    const document = alley({ rows: ['...#...', '.......', '...#...'], patrols: { p: { points, speed: 1 } } });
    const verdict = told(document)!;
    expect(verdict.outcome).to.equal('holds');
    expect(verdict.message).to.equal('Moth can be passed in Alley: 2.75 s after arrival, having waited 0.75 s at 3, 1.');
    const free = told(alley({ rows: ['.......', '.......'], patrols: { p: { points: [[3, 1], [4, 1]] } } })); // prettier-ignore
    expect(free!.message).to.equal('Nothing in Alley lies behind Moth.');
  });

  it('is slowed down where that is enough', () => {
    // the moth is at the mouth of the niche again before a slow player is past it
    const rows = ['.........', '####.####'];
    const quick = alley({ rows, patrols: { p: { points: corridor, speed: 16 } } });
    const verdict = told(quick)!;
    expect(verdict.outcome).to.equal('fails');
    const offered = repairsOf(quick, verdict);
    expect(offered[0]!.label).to.match(/^Let Moth go [\d.]+ cells a second instead of 16$/);
    expect(told(grownFrom(quick, apply(quick, offered[0]!.patch)))!.outcome).to.equal('holds');
  });

  it('does not count a foe that a touch takes away, or that is fought', () => {
    const rows = ['.........'];
    const taken = alley({ rows, patrols: { p: { points: corridor } }, rules: [{ id: 'd', when: { touch: 'moth' }, do: [{ defeat: 'moth' }] }] }); // prettier-ignore
    // the touch loses the level all the same
    expect(told(taken)!.outcome).to.equal('fails');
    levelOf(taken).rules.splice(1, 1);
    expect(told(taken)!.message).to.equal('Moth can be passed in Alley once it is defeated.');
    const fought = alley({ rows, patrols: { p: { points: corridor } }, rules: [{ id: 'f', when: { defeat: 'moth' } }] });
    expect(told(fought)!.message).to.equal('Moth can be passed in Alley once it is defeated.');
  });

  it('tells of a foe that is where the player arrives, and keeps to a named number', () => {
    const met = told(alley({ rows: ['.....'], patrols: { p: { points: [[0, 0], [3, 0]] } } })); // prettier-ignore
    expect(met!.message).to.equal('Moth is where the player arrives in Alley.');
    const numbers = { slow: { name: 'Slow', value: 1 } };
    const named = alley({ rows: ['.........', '####.####'], patrols: { p: { points: corridor, speed: 'slow' } }, numbers });
    expect(told(named)!.outcome).to.equal('holds');
    named.numbers.slow!.value = 0;
    expect(told(named)).to.equal(undefined);
  });

  it('looks at all patrols together where each alone can be passed', () => {
    // either can be waited for in the niche, but one of them is always there
    const rows = ['.........', '###...###', '####.####'];
    const both: Alley['patrols'] = { p: { points: [[2, 0], [6, 0]] }, q: { points: [[6, 0], [2, 0]] } }; // prettier-ignore
    const document = alley({ rows, patrols: both });
    expect([told(document)!.outcome, told(document, 'quay/q')!.outcome]).to.deep.equal(['holds', 'holds']);
    const together = told(document, 'quay')!;
    expect(together.message).to.match(/^The patrols together /);
    const long = alley({
      rows,
      patrols: {
        p: { ...both.p!, speed: 3.97 },
        q: {
          points: [
            [7, 0],
            [2, 0]
          ],
          speed: 3.89
        }
      }
    });
    expect(told(long, 'quay')).to.include({
      outcome: 'open',
      message:
        'Whether the patrols together can be passed in Alley is not settled: it takes too long until all foes are where they began.'
    });
    const cut = alley({ rows: ['.........', '####.####'], patrols: { p: { points: [[2, 0], [6, 0]] }, q: { points: [[4, 1]] } } }); // prettier-ignore
    expect(told(cut)!.outcome).to.equal('holds');
    const verdict = told(cut, 'quay')!;
    expect(verdict.message).to.equal(
      'The patrols together cannot be passed in Alley without meeting one: 1 Lamp is out of reach.'
    );
    expect(repairsOf(cut, verdict).length).to.be.greaterThan(0);
  });
});
