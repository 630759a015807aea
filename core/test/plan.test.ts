/** Plans: what is derived from them says what playing them cell by cell says. */
import { expect } from 'chai';
import fc from 'fast-check';
import { components } from '../src/graph/components.ts';
import { Automaton, out, type Place } from '../src/plan/automaton.ts';
import { stamped } from '../src/plan/draw.ts';
import { derive, plot, type Derived, type Plotted } from '../src/plan/derive.ts';
import { Ground, oneWay } from '../src/plan/ground.ts';
import { apply, change } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import type { FlowDocument, Level, Plan, PlanThing } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { check } from '../src/check/check.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { decides, verdictKey } from '../src/report/report.ts';
import { countOf } from '../src/vocabulary/pieces.ts';
import { flowOf } from './support/flows.ts';
import { usualMovement, type Drawn } from '../src/plan/types.ts';
import { seed } from './support/compare.ts';
import { acts, randomPlan } from './support/random-plan.ts';
import { randoms } from './support/everyday.ts';

/** What has been taken, piece by piece, and what has been touched. */
type Had = Record<string, number>;
const holds = (conditions: readonly string[], had: Had) =>
  conditions.every((condition) => {
    const [, piece, n] = /^taken\((\w+)\) >= (\d+)$/.exec(condition)!;
    return (had[piece!] ?? 0) >= Number(n);
  });
const wordsOf = (had: Had) =>
  Object.entries(had)
    .map(([piece, n]) => `${piece} ${n}`)
    .sort()
    .join(', ');

/**
 * Plays all that can be played. For each state in which the player stands still: what has been had, and all that can still
 * come to be had from there.
 */
function outcomes<S>(
  start: S,
  keyOf: (state: S) => string,
  hadIn: (state: S) => Had,
  rests: (state: S) => boolean,
  next: (state: S) => S[]
): Set<string> {
  const states = [start];
  const index = new Map([[keyOf(start), 0]]);
  const edges: number[][] = [];
  for (let at = 0; at < states.length; at++)
    edges.push(
      next(states[at]!).map((state) => {
        const key = keyOf(state);
        if (!index.has(key)) index.set(key, states.push(state) - 1);
        return index.get(key)!;
      })
    );
  const { component, count } = components(states.length, (at, visit) => edges[at]!.forEach(visit));
  const later = Array.from({ length: count }, () => new Set<string>());
  const members = Array.from({ length: count }, () => [] as number[]);
  component.forEach((one, at) => members[one]!.push(at));
  members.forEach((all, one) => {
    for (const at of all) {
      later[one]!.add(wordsOf(hadIn(states[at]!)));
      for (const to of edges[at]!) for (const words of later[component[to]!]!) later[one]!.add(words);
    }
  });
  const found = new Set<string>();
  states.forEach((state, at) => {
    if (rests(state)) found.add(`${wordsOf(hadIn(state))} > ${[...later[component[at]!]!].sort().join('; ')}`);
  });
  return found;
}

/** Cell by cell. A fall out of the rows is the end. */
function played(drawn: Drawn, start: number): Set<string> {
  interface At {
    place: Place | undefined;
    taken: number[];
    had: Had;
  }
  const ground = new Ground(drawn);
  const automaton = new Automaton(ground);
  const { below } = drawn.plan;
  return outcomes<At>(
    { place: { cell: start }, taken: [], had: {} },
    ({ place, taken, had }) => `${place ? automaton.codeOf(place) : out}/${taken.join()}/${wordsOf(had)}`,
    ({ had }) => had,
    ({ place }) => place !== undefined && rests(ground, place),
    ({ place, taken, had }) => {
      if (!place) return [];
      const states: At[] = [];
      for (const move of automaton.movesFrom(place)) {
        if (move === out) {
          if (below !== undefined) states.push({ place: undefined, taken, had: { ...had, [below]: 1 } });
          continue;
        }
        if (!holds(move.asks, had)) continue;
        const piece = ground.acting.get(move.to.cell);
        states.push({ place: move.to, taken, had: piece === undefined ? had : { ...had, [piece]: 1 } });
      }
      const here = ground.pieces.get(place.cell);
      if (here !== undefined && !ground.acting.has(place.cell) && !taken.includes(place.cell))
        states.push({
          place,
          taken: [...taken, place.cell].sort((a, b) => a - b),
          had: { ...had, [here]: (had[here] ?? 0) + 1 }
        });
      return states;
    }
  );
}

/** Where the player can stay: nothing acts there, and it is not pushed on. */
function rests(ground: Ground, { cell, air }: Place): boolean {
  const [x, y] = ground.cellOf(cell);
  return (
    !air &&
    ground.isFooting(x, y) &&
    !ground.acting.has(cell) &&
    (ground.drawn.plan.view === 'side' || !oneWay[ground.char(x, y)])
  );
}

/** From spot to spot. */
function walked(drawn: Drawn, { spots, passages, at }: Derived, start: string): Set<string> {
  interface At {
    spot: string;
    taken: Record<string, number>;
    had: Had;
  }
  const ground = new Ground(drawn);
  const { below } = drawn.plan;
  const over = (had: Had) => below !== undefined && below in had;
  const stands = new Map(
    Object.entries(spots).map(([id, { cells }]) => [id, cells.some(([x, y]) => rests(ground, { cell: ground.at(x, y)! }))])
  );
  return outcomes<At>(
    { spot: start, taken: {}, had: {} },
    ({ spot, taken, had }) => `${spot}/${wordsOf(taken)}/${wordsOf(had)}`,
    ({ had }) => had,
    ({ spot, had }) => stands.get(spot)! && !over(had),
    ({ spot, taken, had }) => {
      if (over(had)) return [];
      const states: At[] = [];
      for (const { from, to, if: asks, through } of Object.values(passages))
        if (from === spot && holds(asks, had))
          states.push({ spot: to, taken, had: { ...had, ...Object.fromEntries(through.map((piece) => [piece, 1])) } });
      for (const [piece, standings] of Object.entries(at))
        standings.forEach(({ spots: from, n }, of) => {
          if (!from.includes(spot)) return;
          const key = `${piece}#${of}`;
          if (acts.has(piece) || piece === below) states.push({ spot, taken, had: { ...had, [piece]: 1 } });
          else if ((taken[key] ?? 0) < n)
            states.push({
              spot,
              taken: { ...taken, [key]: (taken[key] ?? 0) + 1 },
              had: { ...had, [piece]: (had[piece] ?? 0) + 1 }
            });
        });
      return states;
    }
  );
}

const fixed = (view: Plan['view'], rows: string[], things: Record<string, PlanThing> = {}, areas: Plan['areas'] = {}): Drawn => ({
  movement: usualMovement,
  acts,
  plan: { view, rows, things, areas }
});

describe('a plan', () => {
  for (const view of ['above', 'side'] as const)
    for (const plain of [false, true])
      it(`derived is played as cell by cell: ${view}${plain ? ', with falls out of the rows' : ''}`, () => {
        let [looked, spots, conditional, touching] = [0, 0, 0, 0];
        fc.assert(
          fc.property(randomPlan(view, { plain }), (drawn) => {
            const ground = new Ground(drawn);
            const derived = derive(drawn);
            const placed = Object.values(drawn.plan.things!).find((thing) => 'entry' in thing);
            const entry = placed && 'cell' in placed && ground.isFooting(...placed.cell) ? placed.cell : undefined;
            const first = ground.drawn.plan.rows
              .flatMap((row, y) => [...row].map((_, x) => [x, y] as const))
              .find(([x, y]) => ground.isFooting(x, y));
            const start = entry ?? first;
            if (!start) return;
            const cell = ground.at(start[0], start[1])!;
            if (ground.acting.has(cell)) return;
            const spot = derived.entries.start ?? Object.keys(derived.spots)[0]!;
            expect([...walked(drawn, derived, spot)].sort()).to.deep.equal([...played(drawn, cell)].sort());
            looked++;
            spots += Object.keys(derived.spots).length;
            conditional += Object.values(derived.passages).some(({ if: asks }) => asks.length > 0) ? 1 : 0;
            touching += Object.values(derived.passages).some(({ through }) => through.length > 0) ? 1 : 0;
          }),
          { numRuns: plain ? 200 : 500, seed }
        );
        expect(looked).to.be.greaterThan(plain ? 150 : 350);
        expect(spots).to.be.greaterThan(looked * 1.5);
        if (plain) return;
        expect(conditional).to.be.greaterThan(looked / 20);
        expect(touching).to.be.greaterThan(looked / 20);
      }).timeout(60 * 60_000);

  for (const view of ['above', 'side'] as const)
    it(`derived after an edit is what is derived from nothing: ${view}`, () => {
      let [edits, taken] = [0, 0];
      const things = [...acts, 'lamp'].map((piece) => ({ piece }));
      const gates = ['key', 'boots'].map((piece) => ({ gate: `taken(${piece}) >= 1` }));
      const stamps = [...'##...-|<>'].map((ground) => ({ ground }));
      const edit = fc.tuple(fc.nat(5), fc.nat(4), fc.constantFrom(...stamps, ...things, ...gates), fc.nat(3));
      fc.assert(
        fc.property(randomPlan(view), fc.array(edit, { minLength: 6, maxLength: 6 }), (drawn, all) => {
          const first = plot(drawn);
          let last = first;
          for (const [x, y, stamp, from] of all) {
            // now and then another edit of the plan that all began with, as after undo
            const before: Plotted = from === 0 ? first : last;
            const next = { ...drawn, plan: stamped(before.ground.drawn.plan, [[x, y]], stamp) };
            last = plot(next, {}, undefined, before);
            expect(last.derived).to.deep.equal(derive(next));
            edits++;
            if (last.graph.earlier) taken++;
          }
        }),
        { numRuns: randoms(300), seed }
      );
      expect(taken).to.be.greaterThan(edits * 0.8);
    }).timeout(60 * 60_000);

  it('keeps the player who goes round and round, through two areas too', () => {
    const areas: Plan['areas'] = {
      west: { name: 'West', from: [0, 0], to: [1, 2] },
      east: { name: 'East', from: [2, 0], to: [3, 2] }
    };
    const round = ['.>v#', '#^v#', '#^<#'];
    const { spots, passages } = derive(fixed('above', round, { e: { entry: 'front', cell: [0, 0] } }, areas));
    expect(Object.keys(spots).length).to.be.greaterThan(1);
    expect(Object.values(passages).some(({ from }) => from === 's0_0')).to.equal(true);
    expect(Object.values(passages).every(({ to }) => to !== 's0_0')).to.equal(true);
  });

  it('from above is one spot where all is open', () => {
    const derived = derive(fixed('above', ['...', '.#.', '...'], { l: { piece: 'lamp', cells: [[2, 2]] } }), {
      lamp: 'ferry lamp'
    });
    expect(derived.spots.s0_0!.name).to.equal('ferry lamp ground');
    expect(derived.at).to.deep.equal({ lamp: [{ spots: ['s0_0'], n: 1 }] });
    expect(derived.passages).to.deep.equal({});
  });
});

describe('a level with a plan', () => {
  /** Two rooms with a gate between them: the key lies on the right of the gate, or on its left. */
  const gated = (key: [number, number]) => ({
    orders: { main: { name: 'Main', draw: 'fixed', levels: ['yard'] } },
    places: {
      title: {
        name: 'Title',
        kind: 'menu',
        rules: [{ id: 'b', when: { press: 'Begin' }, go: { move: 'first', order: 'main' } }]
      },
      yard: {
        name: 'Yard',
        kind: 'level',
        entries: { front: { name: 'the front' } },
        pieces: {
          key: { name: 'Key', kind: 'pickup', count: 9 },
          lamp: { name: 'Lamp', kind: 'pickup' },
          door: { name: 'Door', kind: 'exit' }
        },
        plan: {
          view: 'above',
          rows: ['.......', '...#...'],
          things: {
            front: { entry: 'front', cell: [0, 0] },
            key: { piece: 'key', cells: [key] },
            lamps: {
              piece: 'lamp',
              cells: [
                [1, 1],
                [6, 1]
              ]
            },
            gate: { gate: 'taken(key) >= 1', cells: [[3, 0]] },
            door: { piece: 'door', cells: [[6, 0]] }
          }
        },
        rules: [{ id: 'w', when: { touch: 'door' }, if: 'left(lamp) = 0', go: { place: 'end' }, result: 'won' }]
      },
      end: { name: 'End', kind: 'ending', outcome: 'won', rules: [{ id: 'm', when: { press: 'Menu' }, go: { place: 'title' } }] }
    }
  });
  const level = (document: FlowDocument) => document.places.yard as Level;
  const failing = (document: FlowDocument) => check(document).checks.filter(decides).map(verdictKey);

  it('has the spots, passages, counts and entries that follow from it', () => {
    const yard = level(flowOf(gated([2, 1])));
    expect(Object.keys(yard.spots)).to.deep.equal(['s0_0', 's4_0']);
    expect(yard.passages).to.deep.equal({
      s0_0_s4_0: { from: 's0_0', to: 's4_0', if: 'taken(key) >= 1' },
      s4_0_s0_0: { from: 's4_0', to: 's0_0', if: 'taken(key) >= 1' }
    });
    expect(yard.entries.front!.spot).to.equal('s0_0');
    expect([countOf(yard.pieces.key!), countOf(yard.pieces.lamp!)]).to.deep.equal([1, 2]);
    expect(yard.pieces.door!.at).to.deep.equal([{ spots: ['s4_0'], n: 1 }]);
  });

  it('can be completed where the key is on this side of its gate, and says why not where it is on the other', () => {
    expect(failing(flowOf(gated([2, 1])))).to.deep.equal([]);
    const shut = flowOf(gated([5, 1]));
    expect(failing(shut)).to.include.members(['level-completable yard', 'spot-reached yard/s4_0']);
    for (const verdict of check(shut).checks) for (const { patch } of repairsOf(shut, verdict)) apply(shut, patch);
  });

  it('is written without what follows from it, and read as it was', () => {
    const document = flowOf(gated([2, 1]));
    const text = write(document);
    expect(text).to.not.include('s0_0').and.not.include('"count"');
    expect(read(text).document).to.deep.equal(document);
    expect(document.version).to.equal(2);
    // what a program hands on as it is in memory is read too
    expect(validate(structuredClone(document)).document).to.deep.equal(document);
  });

  it('cannot say beside it what does not follow from it', () => {
    const parts = gated([2, 1]);
    Object.assign(parts.places.yard, { spots: { hall: { name: 'Hall' } } });
    const { errors } = validate({ format: 'crow-lane', version: 2, name: 'Test', start: 'title', ...parts });
    expect(errors).to.deep.equal([
      { pointer: '/places/yard/spots', message: 'cannot be said beside a plan, from which it follows' }
    ]);
  });

  it('follows its plan as that is edited, and back', () => {
    const document = flowOf(gated([2, 1]));
    const wider = change(document, 'A wall', [{ op: 'replace', path: '/places/yard/plan/rows/0', value: '.#.....' }]);
    const now = apply(document, wider.patch);
    expect(Object.keys(level(now).spots)).to.deep.equal(['s0_0', 's4_0']);
    expect(level(now).passages).to.not.have.property('s0_0_s1_0');
    const walled = change(now, 'Another', [{ op: 'replace', path: '/places/yard/plan/rows/1', value: '#..#...' }]);
    const apart = apply(now, walled.patch);
    expect(level(apart).entries.front!.spot).to.equal('s0_0');
    expect(Object.keys(level(apart).spots)).to.deep.equal(['s0_0', 's2_0']);
    expect(apply(apply(apart, walled.inverse), wider.inverse)).to.deep.equal(document);
    // how the player moves belongs to it
    const steep = change(document, 'Diagonal', [{ op: 'add', path: '/movement', value: { above: { diagonal: true } } }]);
    expect(apply(apply(document, steep.patch), steep.inverse)).to.deep.equal(document);
  });

  it('is taken away and brought back whole', () => {
    const document = flowOf(gated([2, 1]));
    const gone = change(document, 'Away', [{ op: 'remove', path: '/places/yard' }]);
    expect(apply(apply(document, gone.patch), gone.inverse)).to.deep.equal(document);
    const copy = structuredClone(level(document));
    const added = change(document, 'Another', [{ op: 'add', path: '/places/copy', value: { ...copy, spots: {}, rules: [] } }]);
    const two = apply(document, added.patch);
    expect((two.places.copy as Level).spots).to.deep.equal(level(document).spots);
    expect(apply(two, added.inverse)).to.deep.equal(document);
  });

  it('touches what stands in a pit that leads nowhere, and is told that nobody gets out', () => {
    const document = flowOf({
      places: {
        title: {
          name: 'Ledge',
          kind: 'level',
          pieces: { spikes: { name: 'Spikes', kind: 'hazard' } },
          plan: {
            view: 'side',
            rows: ['......', '###...', '###...', '###...', '###...', '######'],
            things: {
              t: {
                piece: 'spikes',
                cells: [
                  [3, 4],
                  [4, 4],
                  [5, 4]
                ]
              }
            }
          },
          rules: [
            { id: 'w', when: { press: 'Win' }, go: { place: 'end' }, result: 'won' },
            { id: 'l', when: { touch: 'spikes' }, go: { move: 'again' }, result: 'lost' }
          ]
        },
        end: {
          name: 'End',
          kind: 'ending',
          outcome: 'won',
          rules: [{ id: 'm', when: { press: 'Menu' }, go: { place: 'title' } }]
        }
      }
    });
    const { spots, passages } = document.places.title as Level;
    expect(Object.keys(spots)).to.have.length(2);
    expect(Object.values(passages)).to.deep.equal([{ from: 's0_0', to: 's3_4', through: ['spikes'] }]);
    // the player comes there, though not to stay
    expect(failing(document)).to.deep.equal([]);
  });

  it('has one spot where there would be too many, and loses nothing of what was drawn', () => {
    const rows = Array.from({ length: 40 }, (_, y) => (y % 2 === 0 ? '.#'.repeat(20) : '#'.repeat(40)));
    const cells = Array.from({ length: 400 }, (_, n) => [(n % 20) * 2, Math.floor(n / 20) * 2]);
    const parts = gated([2, 1]);
    const things = { lamps: { piece: 'lamp', cells } };
    Object.assign(parts.places.yard, { plan: { view: 'above', rows, things } });
    const document = flowOf(parts);
    expect(level(document).spots).to.deep.equal({ s0_0: { name: 'All ground' } });
    expect(level(document).pieces.lamp!.at).to.deep.equal([{ spots: ['s0_0'], n: 400 }]);
    expect(level(document).plan!.things).to.deep.equal(things);
  });

  it('is read, checked and written whatever was drawn', () => {
    const cell = fc.tuple(fc.nat(8), fc.nat(6));
    const name = fc.constantFrom('key', 'lamp', 'door', 'none');
    const condition = fc.constantFrom('taken(key) >= 1', 'left(', 'taken(none) = 1', 'won(yard) or taken(lamp) = 1', '1');
    const thing = fc.oneof(
      fc.record({ piece: name, cells: fc.array(cell, { maxLength: 4 }) }),
      fc.record({ entry: fc.constantFrom('front', 'back'), cell }),
      fc.record({ gate: condition, cells: fc.array(cell, { maxLength: 3 }) })
    );
    const drawn = fc.record(
      {
        view: fc.constantFrom('above', 'side'),
        rows: fc.array(fc.string({ unit: fc.constantFrom(...'##....--||<>v^?'), maxLength: 7 }), { minLength: 1, maxLength: 5 }),
        things: fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd', 'e'), thing),
        links: fc.dictionary(
          fc.constantFrom('a', 'b'),
          fc.record({ from: cell, to: cell, if: condition, both: fc.constant(true) }, { requiredKeys: ['from', 'to'] })
        ),
        areas: fc.dictionary(fc.constantFrom('a', 'b'), fc.record({ name: fc.constant('Area'), from: cell, to: cell })),
        below: name
      },
      { requiredKeys: ['view', 'rows'] }
    );
    const movement = fc.record(
      {
        side: fc.record({ up: fc.nat(3), tall: fc.constantFrom(1, 2) }),
        abilities: fc.constant({ fly: { name: 'Fly', if: 'bad (', up: 4 } })
      },
      { requiredKeys: [] }
    );
    let spotted = 0;
    fc.assert(
      fc.property(drawn, movement, (plan, moves) => {
        const parts = gated([2, 1]);
        Object.assign(parts.places.yard, { plan, movement: moves });
        const document = flowOf(parts);
        if (Object.keys(level(document).spots).length > 1) spotted++;
        expect(read(write(document)).document).to.deep.equal(document);
        const report = check(document, { limit: 300 });
        for (const verdict of report.checks.filter(({ outcome }) => outcome === 'fails'))
          for (const { patch, inverse } of repairsOf(document, verdict)) {
            const next = apply(document, patch);
            expect(validate(next).errors, verdictKey(verdict)).to.equal(undefined);
            expect(apply(next, inverse)).to.deep.equal(document);
          }
      }),
      { numRuns: randoms(150), seed }
    );
    expect(spotted).to.be.greaterThan(randoms(40, 3));
  }).timeout(60 * 60_000);
});
