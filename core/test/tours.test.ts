/** Shortest tours through plans, held against a search that knows nothing of bounds. */
import { expect } from 'chai';
import fc from 'fast-check';
import type { Cell, Id, Plan } from '../src/document/types.ts';
import { Automaton, out, type Place } from '../src/plan/automaton.ts';
import { Ground } from '../src/plan/ground.ts';
import type { Errand } from '../src/plan/moves.ts';
import { mostThings, shortest, type Bounds, type Tour } from '../src/plan/tours.ts';
import { usualMovement, type Drawn } from '../src/plan/types.ts';
import { finish } from '../src/check/check.ts';
import { seed } from './support/compare.ts';
import { acts, randomPlan } from './support/random-plan.ts';

const askedBy = (text: string): Map<Id, number> => {
  const [, piece, n] = /^taken\((\w+)\) >= (\d+)$/.exec(text)!;
  return new Map([[piece!, Number(n)]]);
};

/** The ticks of the shortest tour: every place with every set of things taken, the nearest first. */
function plainly(automaton: Automaton, { start, needs, ends, asked, shut }: Errand): number | undefined {
  const { ground } = automaton;
  const countIn = (taken: string[], piece: Id) => taken.filter((cell) => ground.pieces.get(Number(cell)) === piece).length;
  const has = (taken: string[], wanted: ReadonlyMap<Id, number>) => [...wanted].every(([piece, n]) => countIn(taken, piece) >= n);
  const waiting: { place: Place; taken: string[]; ticks: number }[] = [{ place: start, taken: [], ticks: 0 }];
  const seen = new Set<string>();
  while (waiting.length > 0) {
    waiting.sort((a, b) => a.ticks - b.ticks);
    const { place, taken: before, ticks } = waiting.shift()!;
    if (place.cell !== start.cell && shut?.has(place.cell) && !ends?.has(place.cell)) continue;
    const taken = ground.pieces.has(place.cell) ? [...new Set([...before, String(place.cell)])].sort() : before;
    const key = JSON.stringify([automaton.codeOf(place), taken]);
    if (seen.has(key)) continue;
    seen.add(key);
    if (has(taken, needs) && (ends === undefined || ends.has(place.cell))) return ticks;
    if (place.cell !== start.cell && shut?.has(place.cell)) continue;
    for (const move of automaton.movesFrom(place))
      if (move !== out && move.asks.every((text) => has(taken, asked(text))))
        waiting.push({ place: move.to, taken, ticks: ticks + move.ticks });
  }
  return undefined;
}

/** Walks a tour move by move, and gives its ticks; what is not open or is no move fails. */
function walked(automaton: Automaton, { start, needs, ends, asked }: Errand, { way }: Tour): number {
  const { ground } = automaton;
  const taken = new Set<number>();
  const take = ({ cell }: Place) => void (ground.pieces.has(cell) && taken.add(cell));
  const countOf = (piece: Id) => [...taken].filter((cell) => ground.pieces.get(cell) === piece).length;
  const has = (wanted: ReadonlyMap<Id, number>) => [...wanted].every(([piece, n]) => countOf(piece) >= n);
  let [at, ticks] = [start, 0];
  take(at);
  for (const next of way) {
    const moves = automaton.movesFrom(at).flatMap((move) => {
      const isIt = move !== out && automaton.codeOf(move.to) === automaton.codeOf(next);
      return isIt && move.asks.every((text) => has(asked(text))) ? [move.ticks] : [];
    });
    expect(moves.length, `a move to ${JSON.stringify(next)}`).to.be.greaterThan(0);
    ticks += Math.min(...moves);
    take((at = next));
  }
  expect(has(needs)).to.equal(true);
  if (ends) expect(ends.has(at.cell)).to.equal(true);
  return ticks;
}

const isTour = (found: Tour | Bounds): found is Tour => !('least' in found);

function drawn(view: Plan['view'], rows: string[], things: Plan['things'] = {}, more: Partial<Plan> = {}): Drawn {
  return { plan: { view, rows, things, ...more }, movement: usualMovement, acts };
}

function errandIn(automaton: Automaton, start: Cell, needs: Record<Id, number>, ends?: Id): Errand {
  const { ground } = automaton;
  const cells = [...ground.pieces].flatMap(([cell, piece]) => (piece === ends ? [cell] : []));
  return {
    start: { cell: ground.at(...start)! },
    needs: new Map(Object.entries(needs)),
    ...(ends !== undefined && { ends: new Set(cells) }),
    asked: askedBy
  };
}

const ticksOf = (plan: Drawn, start: Cell, needs: Record<Id, number>, ends?: Id): number | undefined => {
  const automaton = new Automaton(new Ground(plan));
  const errand = errandIn(automaton, start, needs, ends);
  const found = finish(shortest(automaton, errand));
  if (!found) return undefined;
  expect(isTour(found)).to.equal(true);
  expect(walked(automaton, errand, found as Tour)).to.equal((found as Tour).ticks);
  return (found as Tour).ticks;
};

describe('the shortest tour through a plan', () => {
  for (const view of ['above', 'side'] as const)
    it(`is as short as a search without bounds finds it, seen from ${view === 'above' ? 'above' : 'the side'}`, () => {
      const seen = { none: 0, tours: 0, gated: 0 };
      fc.assert(
        fc.property(randomPlan(view), fc.array(fc.nat(60), { minLength: 5, maxLength: 5 }), (plan, [first, ...chosen]) => {
          const ground = new Ground(plan);
          const all = ground.width * ground.height;
          const cells = Array.from({ length: all }, (_, cell) => (cell + first!) % all);
          const start = cells.find((cell) => ground.isFooting(...ground.cellOf(cell)));
          const placed = [...ground.pieces.values()];
          if (start === undefined || placed.length === 0) return;
          const pick = (n: number) => placed[chosen[n]! % placed.length]!;
          const needs = { [pick(0)]: 1, ...(chosen[1]! % 2 && { [pick(2)]: 1 }) };
          for (const piece of Object.keys(needs))
            if (placed.filter((each) => each === piece).length > 1 && chosen[1]! % 3 > 0) needs[piece] = 2;
          const automaton = new Automaton(ground);
          const errand = errandIn(automaton, ground.cellOf(start), needs, chosen[3]! % 2 ? pick(3) : undefined);
          errand.shut = new Set([...ground.pieces].flatMap(([cell, piece]) => (piece === 'spikes' ? [cell] : [])));
          const found = finish(shortest(automaton, errand));
          const ticks = plainly(automaton, errand);
          if (!found) expect(ticks).to.equal(undefined);
          else {
            expect(isTour(found)).to.equal(true);
            expect((found as Tour).ticks).to.equal(ticks);
            expect(walked(automaton, errand, found as Tour)).to.equal(ticks);
          }
          if (ticks === undefined) seen.none++;
          else if (ticks > 0) seen.tours++;
          if (ticks && Object.values(plan.plan.things!).some((thing) => 'gate' in thing)) seen.gated++;
        }),
        { numRuns: 1000, seed }
      );
      expect(Math.min(seen.none, seen.tours)).to.be.greaterThan(100);
      expect(seen.gated).to.be.greaterThan(50);
    });

  it('counts ticks as the player moves: along, up and down, in a jump, over a ledge, by a link', () => {
    const lamp = (x: number, y: number): Plan['things'] => ({ a: { piece: 'lamp', cells: [[x, y]] } });
    expect(ticksOf(drawn('above', ['...', '.#.', '...'], lamp(2, 2)), [0, 0], { lamp: 1 })).to.equal(4);
    const diagonal = drawn('above', ['...', '...', '...'], lamp(2, 2));
    diagonal.movement = { ...usualMovement, above: { speed: 4, diagonal: true } };
    expect(ticksOf(diagonal, [0, 0], { lamp: 1 })).to.equal(3);
    // two up, and across: what is beside is in the way of going up and across at once
    expect(ticksOf(drawn('side', ['...', '.#.', '.#.', '###'], lamp(1, 0)), [0, 2], { lamp: 1 })).to.equal(3);
    expect(ticksOf(drawn('side', ['|', '-', '|', '#'], lamp(0, 0)), [0, 2], { lamp: 1 })).to.equal(2);
    const link = { links: { l: { from: [0, 0] as Cell, to: [9, 0] as Cell, seconds: 0.5 } } };
    expect(ticksOf(drawn('above', ['....#.....'], lamp(9, 0), link), [0, 0], { lamp: 1 })).to.equal(2);
  });

  it('fetches what a gate asks for first', () => {
    const things: Plan['things'] = {
      k: { piece: 'key', cells: [[0, 0]] },
      g: { gate: 'taken(key) >= 1', cells: [[4, 0]] },
      l: { piece: 'lamp', cells: [[5, 0]] }
    };
    expect(ticksOf(drawn('above', ['......'], things), [2, 0], { lamp: 1 })).to.equal(7);
    expect(
      ticksOf(drawn('above', ['......'], { ...things, k: { piece: 'key', cells: [[5, 0]] } }), [2, 0], { lamp: 1 })
    ).to.equal(undefined);
  });

  it('says nothing of a plan in which the player comes to too many places', () => {
    const rows = Array.from({ length: 40 }, (_, y) => (y === 39 ? '#' : '.').repeat(60));
    const far = drawn('side', rows, { a: { piece: 'lamp', cells: [[50, 38]] } });
    far.movement = { ...usualMovement, side: { speed: 4, up: 20, across: 20, drop: 20, tall: 1 } };
    const automaton = new Automaton(new Ground(far));
    expect(finish(shortest(automaton, errandIn(automaton, [1, 38], { lamp: 1 }), { places: 20_000 }))).to.deep.equal({
      least: 0
    });
  });

  it('gives bounds beyond so many things, with a tour that can be walked', () => {
    const cells = Array.from({ length: mostThings + 6 }, (_, n): Cell => [(n * 7) % 20, (n % 2) + 2 * Math.floor(n / 20)]);
    const plan = drawn('above', Array(5).fill('.'.repeat(20)) as string[], { a: { piece: 'lamp', cells } });
    const automaton = new Automaton(new Ground(plan));
    const errand = errandIn(automaton, [0, 0], { lamp: cells.length });
    const found = finish(shortest(automaton, errand)) as Bounds;
    expect(isTour(found)).to.equal(false);
    expect(found.least).to.be.greaterThan(cells.length - 2);
    expect(walked(automaton, errand, found.found!))
      .to.equal(found.found!.ticks)
      .and.to.be.at.least(found.least);
    // that nothing is shorter than the lower bound is seen where both can be had
    // nor is the lower bound, where the search was given up, above what is found with more of it
    const some = { ...plan, plan: { ...plan.plan, things: { a: { piece: 'lamp', cells: cells.slice(0, 12) } } } } satisfies Drawn;
    const around = new Automaton(new Ground(some));
    const exact = finish(shortest(around, errandIn(around, [0, 0], { lamp: 12 }))) as Tour;
    for (const most of [2, 10, 40]) {
      const cut = finish(shortest(around, errandIn(around, [0, 0], { lamp: 12 }), { states: most })) as Bounds;
      expect(isTour(cut)).to.equal(false);
      expect(cut.least).to.be.at.most(exact.ticks);
      expect(cut.found!.ticks).to.be.at.least(exact.ticks);
    }
    const few = { ...plan.plan, things: { a: { piece: 'lamp', cells: cells.slice(0, 6) } } };
    const ticks = ticksOf({ ...plan, plan: few }, [0, 0], { lamp: 6 })!;
    expect(ticks).to.be.at.most(found.found!.ticks);
  });
});
