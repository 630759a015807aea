/**
 * The shortest tour through a plan: from where the player arrives past all that it needs to where it wins, in ticks of one cell
 * (docs/flow-format.md, section 13). Gates stay shut until what they ask for is taken on the way.
 */
import FlatQueue from 'flatqueue';
import type { Id } from '../document/types.ts';
import type { Automaton, Place } from './automaton.ts';
import { isWithin, Moves, type Errand } from './moves.ts';

/** The ticks of the shortest tour, and its places from the first one after the start on. */
export interface Tour {
  ticks: number;
  way: Place[];
}

/** Where the shortest is not known: no tour is shorter than `least`; one that was found takes as long as it says. */
export interface Bounds {
  least: number;
  found?: Tour;
}

/** Beyond so many things the shortest tour is not sought: each is a bit of what has been taken. */
export const mostThings = 30;
/** So many states of a tour are looked at before only bounds are given; fewer with many things, where more rarely helps. */
const mostStates = 1_000_000;
const fewThings = 14;
const fewStates = 500_000;
/** A plan in which the player comes to more places than this is not looked at. */
const mostPlaces = 1_000_000;
/** So many conditions that ask for different things are told apart, each by a bit. */
const mostConditions = 30;
/** So many distances are kept; beyond, a thing counts as near to everything. */
const mostDistances = 20_000_000;

/**
 * Seeks the shortest tour, among at most so many states. Gives undefined where there is none. It yields now and then how many
 * states it has looked at, so that it can be stopped.
 */
export function* shortest(
  automaton: Automaton,
  errand: Errand,
  most: { states?: number; places?: number } = {}
): Generator<number, Tour | Bounds | undefined> {
  const moves = new Moves(automaton, errand, most.places ?? mostPlaces);
  // of so large a plan nothing is known
  if (moves.isCut) return { least: 0 };
  yield 0;
  const search = new Search(moves, errand);
  yield* search.measure();
  if (!search.isPossible) return undefined;
  if (moves.things.length > mostThings || moves.conditions.length > mostConditions) return search.bounds();
  const found = yield* search.exact(most.states ?? (moves.things.length > fewThings ? fewStates : mostStates));
  return typeof found === 'number' ? search.bounds(found) : found;
}

/** What follows from what has been taken so far. */
interface Taken {
  /** The conditions that hold, as a set of bits. */
  open: number;
  /** Whether all that is needed has been taken. */
  isAll: boolean;
  /** By piece that is lacking: how many more are needed, of which things. */
  lacking: { n: number; things: number[] }[];
  /** The things of which each one is still needed, and so many ticks at least between them all. */
  surely: number[];
  span: number;
}

class Search {
  /** By thing the ticks from every place to its cell, with everything open; and those to the end. */
  private readonly toThing: Float64Array[] = [];
  private toEnd: Float64Array;
  /** By thing the places in its cell. */
  private readonly at: number[][];
  private readonly ends: number[] = [];
  private readonly known = new Map<number, Taken>();
  private readonly needs: [Id, number][];

  constructor(
    private readonly moves: Moves,
    private readonly errand: Errand
  ) {
    const { things, thing, isEnd, count } = moves;
    this.at = things.map(() => []);
    for (let place = 0; place < count; place++) {
      if (thing[place]! >= 0) this.at[thing[place]!]!.push(place);
      if (isEnd[place]) this.ends.push(place);
    }
    this.needs = [...errand.needs];
    this.toEnd = new Float64Array(count);
  }

  /** Works out how far everything is, a thing at a time; before that nothing can be asked. */
  *measure(): Generator<number, void> {
    const { moves, errand } = this;
    const near = new Float64Array(moves.count);
    let kept = 0;
    for (const [index, { piece }] of moves.things.entries()) {
      const isKept = errand.needs.has(piece) && kept + moves.count <= mostDistances;
      if (isKept) kept += moves.count;
      this.toThing.push(isKept ? moves.ticksTo(this.at[index]!) : near);
      yield 0;
    }
    if (errand.ends !== undefined) this.toEnd = moves.ticksTo(this.ends);
  }

  /** Whether there is enough of everything, and an end, with everything open. */
  get isPossible(): boolean {
    const { things } = this.moves;
    const isEnough = this.needs.every(([piece, n]) => things.filter((each) => each.piece === piece).length >= n);
    return isEnough && this.toEnd[0]! < Infinity;
  }

  /** What follows once some things are taken. */
  private taken(isTaken: (thing: number) => boolean): Taken {
    const { things, conditions } = this.moves;
    const counts = new Map<Id, number>();
    things.forEach(({ piece }, index) => {
      if (isTaken(index)) counts.set(piece, (counts.get(piece) ?? 0) + 1);
    });
    const had = (piece: Id) => counts.get(piece) ?? 0;
    const has = (needs: Iterable<[Id, number]>) => [...needs].every(([piece, n]) => had(piece) >= n);
    const lacking = this.needs
      .filter(([piece, n]) => had(piece) < n)
      .map(([piece, n]) => ({
        n: n - had(piece),
        things: things.flatMap((each, index) => (each.piece === piece && !isTaken(index) ? [index] : []))
      }));
    const surely = lacking.flatMap(({ n, things: left }) => (n === left.length ? left : []));
    return {
      open: conditions.reduce((sum, { needs }, bit) => sum + (has(needs) ? 2 ** bit : 0), 0),
      isAll: lacking.length === 0,
      lacking,
      surely,
      span: this.spanOf(surely)
    };
  }

  private of(mask: number): Taken {
    let found = this.known.get(mask);
    if (!found) this.known.set(mask, (found = this.taken((thing) => (mask & (1 << thing)) !== 0)));
    return found;
  }

  /** The ticks of the shortest tree over some things: no tour past all of them takes less. */
  private spanOf(some: number[]): number {
    const [one, ...others] = some;
    if (one === undefined) return 0;
    const far = new Map(others.map((other) => [other, this.between(one, other)]));
    let sum = 0;
    while (far.size > 0) {
      let [nearest, least] = [-1, Infinity];
      for (const [thing, ticks] of far) if (ticks < least) [nearest, least] = [thing, ticks];
      if (nearest < 0) return Infinity;
      sum += least;
      far.delete(nearest);
      for (const [thing, ticks] of far) far.set(thing, Math.min(ticks, this.between(nearest, thing)));
    }
    return sum;
  }

  /** The least ticks from one thing to another, either way, with everything open. */
  private between(one: number, other: number): number {
    const key = Math.min(one, other) * this.at.length + Math.max(one, other);
    let ticks = this.gaps.get(key);
    if (ticks === undefined) {
      ticks = Infinity;
      for (const at of this.at[one]!) ticks = Math.min(ticks, this.toThing[other]![at]!);
      for (const at of this.at[other]!) ticks = Math.min(ticks, this.toThing[one]![at]!);
      this.gaps.set(key, ticks);
    }
    return ticks;
  }
  private readonly gaps = new Map<number, number>();

  /** No tour from a place on takes less than this. */
  private least(place: number, { lacking, surely, span }: Taken): number {
    const { toThing } = this;
    let least = this.toEnd[place]!;
    for (const { n, things } of lacking) {
      // of those that are left as many as are needed have to be come to: the last of them is at least so far
      if (n === things.length) for (const thing of things) least = Math.max(least, toThing[thing]![place]!);
      else {
        const far = things.map((thing) => toThing[thing]![place]!).sort((a, b) => a - b);
        least = Math.max(least, far[n - 1] ?? Infinity);
      }
    }
    if (span > 0) {
      let nearest = Infinity;
      for (const thing of surely) nearest = Math.min(nearest, toThing[thing]![place]!);
      least = Math.max(least, nearest + span);
    }
    return least;
  }

  /**
   * The shortest tour, nearest first with what is surely still ahead added. Where there is too much to look at, the ticks that
   * none takes less than.
   */
  *exact(most: number): Generator<number, Tour | number | undefined> {
    const { count, first, to, asks, ticks, thing, isEnd } = this.moves;
    const far = new Map<number, number>();
    const before = new Map<number, number>();
    /** States that have been gone on from; one that is come to more quickly is gone on from again. */
    const done = new Set<number>();
    const queue = new FlatQueue<number>();
    const come = (place: number, mask: number, at: number, from?: number) => {
      const now = thing[place]! >= 0 ? mask | (1 << thing[place]!) : mask;
      const state = now * count + place;
      const known = far.get(state);
      if (known !== undefined && known <= at) return;
      const ahead = this.least(place, this.of(now));
      if (ahead === Infinity) return;
      far.set(state, at);
      if (from !== undefined) before.set(state, from);
      done.delete(state);
      queue.push(state, at + ahead);
    };
    come(0, 0, 0);
    for (let looked = 1; queue.length > 0; looked++) {
      const bound = queue.peekValue()!;
      const state = queue.pop()!;
      if (done.has(state)) continue;
      done.add(state);
      const mask = Math.floor(state / count);
      const place = state - mask * count;
      const at = far.get(state)!;
      const { open, isAll } = this.of(mask);
      if (isAll && isEnd[place]) return { ticks: at, way: this.wayTo(state, before) };
      // nothing that waits is nearer than this one
      if (far.size > most) return bound;
      if (looked % 20_000 === 0) yield looked;
      for (let move = first.at(place); move < first.at(place + 1); move++)
        if (isWithin(asks[move]!, open)) come(to.at(move), mask, at + ticks[move]!, state);
    }
    return undefined;
  }

  private wayTo(state: number, before: Map<number, number>): Place[] {
    const { count, codes, automaton } = this.moves;
    const way: Place[] = [];
    for (let at = state, from = before.get(at); from !== undefined; at = from, from = before.get(at))
      way.push(automaton.placeOf(codes.at(at % count)));
    return way.reverse();
  }

  /** A tour that always goes on to what is nearest of that which is needed, else to what may open something. */
  private greedy(): Tour | undefined {
    const { moves } = this;
    const { thing, isEnd, codes, automaton } = moves;
    const isTaken = new Set<number>();
    if (thing[0]! >= 0) isTaken.add(thing[0]!);
    let [place, ticks] = [0, 0];
    const way: Place[] = [];
    for (;;) {
      const { open, isAll, lacking } = this.taken((each) => isTaken.has(each));
      const wanted = new Set(lacking.flatMap(({ things }) => things));
      const isNew = (at: number) => thing[at]! >= 0 && !isTaken.has(thing[at]!);
      const leg = isAll
        ? moves.wayTo(place, open, (at) => isEnd[at] === 1)
        : (moves.wayTo(place, open, (at) => wanted.has(thing[at]!)) ?? moves.wayTo(place, open, isNew));
      if (!leg) return undefined;
      ticks += leg.ticks;
      for (const at of leg.places) {
        way.push(automaton.placeOf(codes.at(at)));
        if (thing[at]! >= 0) isTaken.add(thing[at]!);
      }
      place = leg.places.at(-1) ?? place;
      if (isAll) return { ticks, way };
    }
  }

  /** Bounds, where no tour is known to take less than so many ticks. */
  bounds(atLeast = 0): Bounds {
    // which of too many conditions hold is not known
    const found = this.moves.conditions.length > mostConditions ? undefined : this.greedy();
    const begun = this.taken((each) => this.moves.thing[0] === each);
    return { least: Math.max(atLeast, this.least(0, begun)), ...(found && { found }) };
  }
}
