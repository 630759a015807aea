/** Plans: what is derived from them says what playing them cell by cell says. */
import { expect } from 'chai';
import fc from 'fast-check';
import { components } from '../src/graph/components.ts';
import { Automaton, out, type Place } from '../src/plan/automaton.ts';
import { derive, type Derived } from '../src/plan/derive.ts';
import { Ground, oneWay } from '../src/plan/ground.ts';
import { usualMovement, type Drawn, type Plan, type Thing } from '../src/plan/types.ts';
import { seed } from './support/compare.ts';
import { acts, randomPlan } from './support/random-plan.ts';

/** What has been taken, piece by piece, and what has been touched. */
type Had = Record<string, number>;
const holds = (conditions: string[], had: Had) =>
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
    Object.entries(spots).map(([id, { cells, touches }]) => [
      id,
      touches === undefined && cells.some(([x, y]) => rests(ground, { cell: ground.at(x, y)! }))
    ])
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

const fixed = (
  view: Plan['view'],
  rows: string[],
  things: Record<string, Thing> = {},
  more: Partial<Drawn> & { plan?: Partial<Plan> } = {}
): Drawn => ({
  movement: usualMovement,
  acts,
  ...more,
  plan: { view, rows, things, links: {}, areas: {}, ...more.plan }
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
            const placed = Object.values(drawn.plan.things).find((thing) => 'entry' in thing);
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

  it('from above is one spot where all is open', () => {
    const derived = derive(fixed('above', ['...', '.#.', '...'], { l: { piece: 'lamp', cells: [[2, 2]] } }), {
      lamp: 'ferry lamp'
    });
    expect(derived.spots.s0_0!.name).to.equal('by the ferry lamp');
    expect(derived.at).to.deep.equal({ lamp: [{ spots: ['s0_0'], n: 1 }] });
    expect(derived.passages).to.deep.equal({});
  });
});
