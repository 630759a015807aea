/**
 * The shortest tour through a plan: from where the player arrives past all that it needs to where it wins, in ticks of one cell
 * (docs/flow-format.md, section 13). Gates stay shut until what they ask for is taken on the way.
 */
import type { Id } from '../document/types.ts';
import { Numbers } from '../graph/numbers.ts';
import { Queue } from '../graph/queue.ts';
import { outside, type Automaton, type Place } from './automaton.ts';

/** What a tour is for. */
export interface Errand {
  start: Place;
  /** By piece how many of those in the plan have to be taken. */
  needs: ReadonlyMap<Id, number>;
  /** The cells in one of which it ends; undefined where it ends as soon as all is taken. */
  ends?: ReadonlySet<number>;
  /** Cells that are not passed: being in them ends the attempt, or leads out of the level. The tour may end in one. */
  shut?: ReadonlySet<number>;
  /** By piece how many have to be taken before a condition of the plan can hold. */
  asked: (condition: string) => ReadonlyMap<Id, number>;
}

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
const mostStates = 2_000_000;
const fewThings = 14;
const fewStates = 500_000;
/** A plan in which the player comes to more places than this is not looked at. */
const mostPlaces = 1_000_000;
/** So many conditions that ask for different things are told apart, each by a bit. */
const mostConditions = 30;
/** So many distances are kept; beyond, a thing counts as near to everything. */
const mostDistances = 20_000_000;

/**
 * Seeks the shortest tour, among at most so many states. Gives undefined where there is none. It yields now and then how many states it has looked at, so that
 * it can be stopped.
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

/** The moves of a plan, as far as the player comes with everything open; by number of the place, from 0 at the start. */
class Moves {
  readonly codes = new Numbers();
  readonly first = new Numbers();
  readonly to = new Numbers();
  /** What a move asks for, as a set of bits of `conditions`. */
  readonly asks: number[] = [];
  readonly ticks: number[] = [];
  /** The conditions that the plan knows and that ask for something to be taken. */
  readonly conditions: { needs: ReadonlyMap<Id, number> }[] = [];
  /** The cells whose pieces count. */
  readonly things: { cell: number; piece: Id }[] = [];
  /** By number of a place the thing that is taken there, or -1. */
  readonly thing: Int32Array;
  /** By number of a place whether the tour may end there. */
  readonly isEnd: Uint8Array;
  readonly isCut: boolean;

  constructor(
    readonly automaton: Automaton,
    errand: Errand,
    most: number
  ) {
    const { ground } = automaton;
    /** By what conditions ask for. */
    const bits = new Map<string, number>();
    const bitOf = (text: string): number => {
      const needs = errand.asked(text);
      if (needs.size === 0) return 0;
      const key = JSON.stringify([...needs].sort());
      let bit = bits.get(key);
      if (bit === undefined) bits.set(key, (bit = 2 ** (this.conditions.push({ needs }) - 1)));
      return bit;
    };
    const lists = new Map<number, number>();
    const asked = (list: number): number => {
      let found = lists.get(list);
      if (found === undefined) {
        found = [...new Set(automaton.conditions.names(list).map(bitOf))].reduce((sum, bit) => sum + bit, 0);
        lists.set(list, found);
      }
      return found;
    };
    const numbers = new Map<number, number>();
    const numbered = (code: number): number => {
      let number = numbers.get(code);
      if (number === undefined) {
        numbers.set(code, (number = this.codes.length));
        this.codes.push(code);
      }
      return number;
    };
    const isShut = (cell: number) => errand.shut?.has(cell) ?? false;
    numbered(automaton.codeOf(errand.start));
    for (let at = 0; at < this.codes.length && this.codes.length <= most; at++) {
      this.first.push(this.to.length);
      const cell = automaton.cellOf(this.codes.at(at));
      automaton.eachMove(this.codes.at(at), (to, asks, ticks) => {
        if (to === outside || (isShut(cell) && at > 0)) return;
        if (isShut(automaton.cellOf(to)) && !errand.ends?.has(automaton.cellOf(to))) return;
        this.to.push(numbered(to));
        this.asks.push(asked(asks));
        this.ticks.push(ticks);
      });
    }
    this.first.push(this.to.length);
    this.isCut = this.codes.length > most;
    const counts = new Set([...errand.needs.keys(), ...this.conditions.flatMap(({ needs }) => [...needs.keys()])]);
    const byCell = new Map<number, number>();
    for (let at = 0; at < this.codes.length; at++) {
      const cell = automaton.cellOf(this.codes.at(at));
      const piece = ground.pieces.get(cell);
      if (piece !== undefined && counts.has(piece) && !byCell.has(cell)) byCell.set(cell, this.things.push({ cell, piece }) - 1);
    }
    this.thing = new Int32Array(this.codes.length);
    this.isEnd = new Uint8Array(this.codes.length);
    for (let at = 0; at < this.codes.length; at++) {
      const cell = automaton.cellOf(this.codes.at(at));
      this.thing[at] = byCell.get(cell) ?? -1;
      this.isEnd[at] = errand.ends === undefined || errand.ends.has(cell) ? 1 : 0;
    }
  }

  get count(): number {
    return this.codes.length;
  }

  /** By place the least ticks from it to one of those given, with everything open; Infinity where none leads there. */
  ticksTo(targets: Iterable<number>): Float64Array {
    const { first, from, ticks } = this.backward;
    const far = new Float64Array(this.count).fill(Infinity);
    const queue = new Queue();
    for (const at of targets) {
      far[at] = 0;
      queue.push(0, at);
    }
    for (let near = queue.nearest; near !== undefined; near = queue.nearest) {
      const at = queue.pop();
      if (near > far[at]!) continue;
      for (let move = first[at]!; move < first[at + 1]!; move++) {
        const [before, next] = [from[move]!, near + ticks[move]!];
        if (next >= far[before]!) continue;
        far[before] = next;
        queue.push(next, before);
      }
    }
    return far;
  }

  /** By place the moves that lead there. */
  get backward(): { first: Int32Array; from: Int32Array; ticks: Float64Array; asks: Float64Array } {
    return (this.back ??= this.turned());
  }
  private back: Moves['backward'] | undefined;

  private turned(): Moves['backward'] {
    const first = new Int32Array(this.count + 1);
    for (let move = 0; move < this.to.length; move++) first[this.to.at(move) + 1]!++;
    for (let at = 0; at < this.count; at++) first[at + 1]! += first[at]!;
    const next = first.slice();
    const from = new Int32Array(this.to.length);
    const ticks = new Float64Array(this.to.length);
    const asks = new Float64Array(this.to.length);
    for (let at = 0; at < this.count; at++)
      for (let move = this.first.at(at); move < this.first.at(at + 1); move++) {
        const to = next[this.to.at(move)]!++;
        from[to] = at;
        ticks[to] = this.ticks[move]!;
        asks[to] = this.asks[move]!;
      }
    return { first, from, ticks, asks };
  }
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
    const { moves } = this;
    const { count, first, to, asks, ticks, thing, isEnd } = moves;
    const far = new Map<number, number>();
    const queue = new Queue();
    const come = (place: number, mask: number, at: number) => {
      const now = thing[place]! >= 0 ? mask | (1 << thing[place]!) : mask;
      const state = now * count + place;
      const known = far.get(state);
      if (known !== undefined && known <= at) return;
      const ahead = this.least(place, this.of(now));
      if (ahead === Infinity) return;
      far.set(state, at);
      queue.push(at + ahead, state);
    };
    come(0, 0, 0);
    /** With how many ticks a state has been gone on from. */
    const done = new Map<number, number>();
    for (let looked = 1; queue.nearest !== undefined; looked++) {
      const state = queue.pop();
      const mask = Math.floor(state / count);
      const place = state - mask * count;
      const at = far.get(state)!;
      const { open, isAll } = this.of(mask);
      if (isAll && isEnd[place]) return { ticks: at, way: this.wayTo(state, far) };
      if (done.get(state) === at) continue;
      done.set(state, at);
      // nothing that waits is nearer than this one
      if (far.size > most) return at + this.least(place, this.of(mask));
      if (looked % 20_000 === 0) yield looked;
      for (let move = first.at(place); move < first.at(place + 1); move++)
        if (isWithin(asks[move]!, open)) come(to.at(move), mask, at + ticks[move]!);
    }
    return undefined;
  }

  /** The places of the way to a state, found backward: from each the one before it that is nearer by its move. */
  private wayTo(state: number, far: Map<number, number>): Place[] {
    const { moves } = this;
    const { count, thing, codes, automaton } = moves;
    const { first, from, ticks, asks } = moves.backward;
    const way: Place[] = [];
    const seen = new Set([state]);
    const isStart = (each: number) => each % count === 0 && far.get(each) === 0 && (each === 0 || thing[0]! >= 0);
    const trail: number[] = [];
    // moves without ticks may lead round: what was seen is not gone back to
    const back = (at: number): number | undefined => {
      const mask = Math.floor(at / count);
      const place = at - mask * count;
      const took = far.get(at)!;
      for (let move = first[place]!; move < first[place + 1]!; move++) {
        const masks = thing[place]! >= 0 ? [mask, mask & ~(1 << thing[place]!)] : [mask];
        for (const before of masks) {
          const one = before * count + from[move]!;
          const reached = far.get(one);
          if (reached === undefined || seen.has(one) || reached + ticks[move]! !== took) continue;
          if (isWithin(asks[move]!, this.of(before).open)) return one;
        }
      }
      return undefined;
    };
    for (let at = state; !isStart(at);) {
      const before = back(at);
      if (before === undefined) {
        const last = trail.pop();
        if (last === undefined) break;
        at = last;
        continue;
      }
      trail.push(at);
      seen.add(before);
      at = before;
    }
    for (const each of trail) way.unshift(automaton.placeOf(codes.at(each % count)));
    return way;
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
        ? this.leg(place, open, (at) => isEnd[at] === 1)
        : (this.leg(place, open, (at) => wanted.has(thing[at]!)) ?? this.leg(place, open, isNew));
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

  /** The shortest way from a place to one that is looked for, by moves that are open. */
  private leg(start: number, open: number, isThere: (place: number) => boolean) {
    const { first, to, asks, ticks, count } = this.moves;
    const far = new Float64Array(count).fill(Infinity);
    const before = new Int32Array(count).fill(-1);
    const queue = new Queue();
    far[start] = 0;
    queue.push(0, start);
    for (let near = queue.nearest; near !== undefined; near = queue.nearest) {
      const at = queue.pop();
      if (near > far[at]!) continue;
      if (isThere(at)) {
        const places: number[] = [];
        for (let each = at; each !== start; each = before[each]!) places.unshift(each);
        return { ticks: near, places };
      }
      for (let move = first.at(at); move < first.at(at + 1); move++) {
        const [next, then] = [to.at(move), near + ticks[move]!];
        if (then >= far[next]! || !isWithin(asks[move]!, open)) continue;
        far[next] = then;
        before[next] = at;
        queue.push(then, next);
      }
    }
    return undefined;
  }

  /** Bounds, where no tour is known to take less than so many ticks. */
  bounds(atLeast = 0): Bounds {
    // which of too many conditions hold is not known
    const found = this.moves.conditions.length > mostConditions ? undefined : this.greedy();
    const begun = this.taken((each) => this.moves.thing[0] === each);
    return { least: Math.max(atLeast, this.least(0, begun)), ...(found && { found }) };
  }
}

/** Whether all bits of one set are in another. */
const isWithin = (one: number, other: number): boolean => one === 0 || (one & other) === one;
