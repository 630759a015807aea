/**
 * Whether the player gets past patrols: a search through the cells and the time in which patrols begin again, with everything
 * open (docs/flow-format.md, section 13). The player may wait wherever it can stand and nothing acts.
 */
import FlatQueue from 'flatqueue';
import type { Side } from '../document/types.ts';
import { Numbers } from '../graph/numbers.ts';
import type { Place } from './automaton.ts';
import { oneWay } from './ground.ts';
import type { Moves } from './moves.ts';
import type { Drawn } from './types.ts';
import { sideOf, type Beats } from './patrols.ts';

/** A part of a way in time: where the player is, from which step on, and how many steps it waits there before it goes on. */
export interface Timed {
  place: Place;
  step: number;
  waits: number;
}

/** More states than this, in and beside the runs, are not looked at. */
const mostStates = 4_000_000;

/** A step is a tick, or half of one where moves take halves; other times are rounded up. */
export function stepsOfTick({ plan, movement: { above, side, abilities } }: Drawn): number {
  const isDiagonal = plan.view === 'above' && (above.diagonal || Object.values(abilities).some(({ diagonal }) => diagonal));
  const { speed } = plan.view === 'above' ? above : side;
  const isWhole = Object.values(plan.links ?? {}).every(({ seconds = 0 }) => Number.isInteger(seconds * speed));
  return isDiagonal || !isWhole ? 2 : 1;
}

/** A way in time as the places at which the player is, one a move, and one more for each step that it waits. */
export const stepByStep = (way: Timed[]): Place[] =>
  way.flatMap(({ place, waits }) => Array.from({ length: waits + 1 }, () => place));

export class Passing {
  /** By place the step at which the player first can be there; Infinity where it never can without meeting a foe. */
  readonly earliest: Float64Array;
  /** The player meets a foe as it arrives. */
  isMetAtOnce = false;
  /** A foe can be taken out of the way: from there on it meets nobody. */
  isDefeated = false;
  /** Not all was looked at. */
  isCut = false;
  private readonly onRun: Uint8Array;
  private readonly waits: Uint8Array;
  /** Where it matters when the player is there: on a run, and where moves lead on to one without a rest. */
  private readonly timed: Uint8Array;
  /** States by number: place, step, and the state before. */
  private readonly places = new Numbers();
  private readonly steps: number[] = [];
  private readonly before = new Numbers();
  private readonly firstState: Int32Array;
  private readonly queue = new FlatQueue<number>();
  /** By place and step within the period the step at which the player comes there. */
  private readonly known = new Map<number, number>();

  constructor(
    readonly moves: Moves,
    private readonly beats: Beats,
    /** Whether a touch from a side takes the foe of a patrol away; of several patrols none counts. */
    private readonly defeats: (side: Side) => boolean,
    private readonly scale: number
  ) {
    const { count } = moves;
    this.earliest = new Float64Array(count).fill(Infinity);
    this.firstState = new Int32Array(count).fill(-1);
    this.onRun = new Uint8Array(count);
    this.waits = new Uint8Array(count);
    const { ground } = moves.automaton;
    const isAbove = ground.drawn.plan.view === 'above';
    for (let at = 0; at < count; at++) {
      const code = moves.codes.at(at);
      const cell = moves.automaton.cellOf(code);
      const [x, y] = ground.cellOf(cell);
      this.onRun[at] = Number(beats.passes([x, y]));
      const isPath = isAbove && oneWay[ground.char(x, y)] !== undefined;
      this.waits[at] = Number(
        moves.automaton.isStanding(code) && !isPath && ground.isFooting(x, y) && (at === 0 || !ground.acting.has(cell))
      );
    }
    this.timed = this.leadingToRuns();
  }

  private leadingToRuns(): Uint8Array {
    const { moves, onRun, waits } = this;
    const timed = onRun.slice();
    const queue = new Numbers();
    for (let at = 0; at < moves.count; at++) if (onRun[at]) queue.push(at);
    for (let index = 0; index < queue.length; index++)
      moves.eachBefore(queue.at(index), (from) => {
        if (timed[from] || waits[from]) return;
        timed[from] = 1;
        queue.push(from);
      });
    return timed;
  }

  /** Looks at all that can be reached; yields how many states there are. */
  *search(): Generator<number, void> {
    const { beats, queue, moves, steps, places } = this;
    const start = this.cellAt(0);
    if (beats.in(start, 0) !== undefined) {
      this.isMetAtOnce = true;
      if (this.defeats('beside')) this.freed(0, 0, -1);
      return;
    }
    this.come(0, 0, -1);
    for (let looked = 0; queue.length > 0; looked++) {
      if (looked % 10_000 === 0) yield steps.length;
      if (steps.length > mostStates) {
        this.isCut = true;
        return;
      }
      const state = queue.pop()!;
      const [at, step] = [places.at(state), steps[state]!];
      if (step > this.knownAt(at, step)) continue;
      if (this.firstState[at]! < 0) {
        this.firstState[at] = state;
        this.earliest[at] = step;
      }
      const rests = this.waits[at] === 1;
      const waitsHere = rests && !this.timed[at];
      moves.eachAfter(at, (to, ticks) => {
        const lasts = this.stepsOf(ticks);
        // somewhere off the runs the player waits for the right moment; it is the same again after a period
        const most = waitsHere && this.timed[to] ? beats.period : 1;
        for (let wait = 0; wait < most; wait++) this.move(state, at, to, step + wait, lasts);
      });
      if (rests && this.timed[at]) this.move(state, at, at, step, 1);
    }
  }

  private move(state: number, at: number, to: number, step: number, lasts: number): void {
    const { beats } = this;
    if (!this.onRun[to]) return this.come(to, step + lasts, state);
    const [from, end] = [this.cellAt(at), this.cellAt(to)];
    const met = beats.meets(from, end, step % beats.period, lasts);
    if (met === undefined) return this.come(to, step + lasts, state);
    const heading = beats.heading(met, (step + lasts) % beats.period);
    if (!this.isDefeated && this.defeats(sideOf([end[0] - from[0], end[1] - from[1]], heading)))
      this.freed(to, step + lasts, state);
  }

  private come(at: number, step: number, before: number): void {
    if (step >= this.knownAt(at, step)) return;
    const state = this.steps.length;
    this.places.push(at);
    this.steps.push(step);
    this.before.push(before);
    this.known.set(this.keyOf(at, step), step);
    this.queue.push(state, step);
  }

  private keyOf(at: number, step: number): number {
    return this.timed[at] ? at * (this.beats.period + 1) + 1 + (step % this.beats.period) : at * (this.beats.period + 1);
  }

  private knownAt(at: number, step: number): number {
    return this.known.get(this.keyOf(at, step)) ?? Infinity;
  }

  /** The foe is gone: from here the player gets wherever moves lead. */
  private freed(at: number, step: number, before: number): void {
    this.isDefeated = true;
    const { moves, earliest, firstState } = this;
    const state = this.steps.length;
    this.places.push(at);
    this.steps.push(step);
    this.before.push(before);
    const seen = new Uint8Array(moves.count);
    seen[at] = 1;
    const queue = new Numbers();
    queue.push(at);
    for (let index = 0; index < queue.length; index++) {
      const here = queue.at(index);
      if (firstState[here]! < 0) {
        earliest[here] = step;
        firstState[here] = state;
      }
      moves.eachAfter(here, (to) => {
        if (seen[to]) return;
        seen[to] = 1;
        queue.push(to);
      });
    }
  }

  private cellAt(at: number) {
    const { automaton } = this.moves;
    return automaton.ground.cellOf(automaton.cellOf(this.moves.codes.at(at)));
  }

  isOnRun(at: number): boolean {
    return this.onRun[at] === 1;
  }

  /** How the player first comes to a place, that where it starts first. */
  wayTo(at: number): Timed[] {
    const { automaton, codes } = this.moves;
    const way: Timed[] = [];
    let next: number | undefined;
    for (let state = this.firstState[at]!; state >= 0; state = this.before.at(state)) {
      const step = this.steps[state]!;
      const last = way[0];
      const waits = next === undefined ? 0 : this.steps[next]! - step - this.lasts(state, next);
      // where it waits step by step it is once
      if (last && next !== undefined && this.places.at(next) === this.places.at(state))
        way[0] = { ...last, step, waits: last.waits + waits };
      else way.unshift({ place: automaton.placeOf(codes.at(this.places.at(state))), step, waits });
      next = state;
    }
    return way;
  }

  /** How many steps the quickest move from one state's place to another's takes. */
  private lasts(from: number, to: number): number {
    let least = Infinity;
    this.moves.eachAfter(this.places.at(from), (next, ticks) => {
      if (next === this.places.at(to)) least = Math.min(least, this.stepsOf(ticks));
    });
    return least === Infinity ? 0 : least;
  }

  private stepsOf(ticks: number): number {
    return Math.ceil(ticks * this.scale - 1e-9);
  }

  /** By place whether the player comes there without ever being where a run goes. */
  around(): Uint8Array {
    const { moves, onRun } = this;
    const seen = new Uint8Array(moves.count);
    if (onRun[0]) return seen;
    seen[0] = 1;
    const queue = new Numbers();
    queue.push(0);
    for (let index = 0; index < queue.length; index++)
      moves.eachAfter(queue.at(index), (to) => {
        if (seen[to] || onRun[to]) return;
        seen[to] = 1;
        queue.push(to);
      });
    return seen;
  }
}
