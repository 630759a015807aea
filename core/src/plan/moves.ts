/** The moves that a tour through a plan is made of: how far places are from each other, and what moves ask for. */
import FlatQueue from 'flatqueue';
import type { Id } from '../document/types.ts';
import { Numbers } from '../graph/numbers.ts';
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

/** The moves of a plan, as far as the player comes with everything open; by number of the place, from 0 at the start. */
export class Moves {
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
  ticksTo(targets: number[]): Float64Array {
    return this.spread(targets, (at, visit) => this.eachBefore(at, visit)).far;
  }

  /** The places from which a move leads to one, with its ticks. */
  eachBefore(at: number, visit: (from: number, ticks: number) => void): void {
    const { first, from, ticks } = (this.backward ??= this.turned());
    for (let move = first[at]!; move < first[at + 1]!; move++) visit(from[move]!, ticks[move]!);
  }

  /** Where moves lead from a place, with their ticks. */
  eachAfter(at: number, visit: (to: number, ticks: number) => void): void {
    for (let move = this.first.at(at); move < this.first.at(at + 1); move++) visit(this.to.at(move), this.ticks[move]!);
  }
  private backward: ReturnType<Moves['turned']> | undefined;

  /** The shortest way from a place to one that is looked for, by moves that are open: its ticks and its places after the start. */
  wayTo(start: number, open: number, isThere: (place: number) => boolean): { ticks: number; places: number[] } | undefined {
    const before = new Int32Array(this.count);
    const each = (at: number, visit: Visit) => {
      for (let move = this.first.at(at); move < this.first.at(at + 1); move++) {
        const to = this.to.at(move);
        if (isWithin(this.asks[move]!, open) && visit(to, this.ticks[move]!)) before[to] = at;
      }
    };
    const { far, found } = this.spread([start], each, isThere);
    if (found === undefined) return undefined;
    const places: number[] = [];
    for (let at = found; at !== start; at = before[at]!) places.unshift(at);
    return { ticks: far[found]!, places };
  }

  /** The nearest first: how far places are from some of them, up to the first that is looked for. */
  private spread(starts: number[], each: (at: number, visit: Visit) => void, isThere?: (place: number) => boolean) {
    const far = new Float64Array(this.count).fill(Infinity);
    const queue = new FlatQueue<number>();
    let near = 0;
    const visit: Visit = (next, ticks) => {
      const isNearer = near + ticks < far[next]!;
      if (isNearer) queue.push(next, (far[next] = near + ticks));
      return isNearer;
    };
    for (const at of starts) visit(at, 0);
    while (queue.length > 0) {
      near = queue.peekValue()!;
      const at = queue.pop()!;
      if (near > far[at]!) continue;
      if (isThere?.(at)) return { far, found: at };
      each(at, visit);
    }
    return { far };
  }

  /** By place the moves that lead there: those from one number to the next. */
  private turned() {
    const first = new Int32Array(this.count + 1);
    for (let move = 0; move < this.to.length; move++) first[this.to.at(move) + 1]!++;
    for (let at = 0; at < this.count; at++) first[at + 1]! += first[at]!;
    const next = first.slice();
    const from = new Int32Array(this.to.length);
    const ticks = new Float64Array(this.to.length);
    for (let at = 0; at < this.count; at++)
      for (let move = this.first.at(at); move < this.first.at(at + 1); move++) {
        const to = next[this.to.at(move)]!++;
        from[to] = at;
        ticks[to] = this.ticks[move]!;
      }
    return { first, from, ticks };
  }
}

/** Takes a place and the ticks to it; gives whether that is nearer than it was known to be. */
type Visit = (to: number, ticks: number) => boolean;

/** Whether all bits of one set are in another. */
export const isWithin = (one: number, other: number): boolean => one === 0 || (one & other) === one;
