/** One event being handled: the state as it changes, the signals waiting, the draws made, and who watches. */
import type { Draw, Id, Level, Trigger, TriggerKind, With } from '../document/types.ts';
import type { Had } from '../language/ast.ts';
import type { Reading, Value } from '../language/evaluate.ts';
import type { FittingRule } from './fit.ts';
import { renewalOf, type Flow, type Listening } from './flow.ts';
import { along } from './orders.ts';
import { isUsed } from './slots.ts';
import { active, bottom, type Frame, type State } from './state.ts';
import { heapsOf, isAt, type Heap } from '../document/ground.ts';
import { usedUp, countOf } from '../vocabulary/pieces.ts';

/** Is told what happens while it happens; the turn's state is as it is at that moment and must not be changed. */
export interface Watcher {
  /** The trigger of these rules happened; they are about to be read in this order, until one leaves. */
  happens?(rules: FittingRule[], turn: Turn): void;
  /** A rule's trigger happened (or a `holds` rule was looked at) and its conditions were read, with this outcome. */
  read?(rule: FittingRule, truth: boolean, turn: Turn): void;
  /** A rule fires; its effects have not happened yet. */
  fired?(rule: FittingRule, turn: Turn): void;
  drawn?(draw: Draw, turn: Turn): void;
  /** A rule assigns a number beyond its variable's range; the nearer bound is kept. */
  clamped?(rule: FittingRule, variable: Id, turn: Turn): void;
  /** An effect `remove` has lowered how many of a pickup are left. */
  removed?(piece: Id, turn: Turn): void;
  /** A rule moves; the state is still as before the move. `afresh` when the move clears the stack. */
  moving?(rule: FittingRule, to: Id | null, afresh: boolean, turn: Turn): void;
  /** A place has been entered, afresh or opened over another; its arrive rules have not been read. */
  entered?(place: Id, afresh: boolean, turn: Turn): void;
  /** A passage of the bottom level is taken; the player is at its other end, and no rule has been read. */
  walks?(passage: Id, turn: Turn): void;
  /** A piece that cannot be avoided on it is touched; its rules are about to be read. */
  touchesOnWay?(piece: Id, turn: Turn): void;
  /** An effect begins a run; or erases all, or takes up another saved game, with which a run begins too. */
  undoes?(all: boolean): void;
  stranded?(rule: FittingRule, turn: Turn): void;
  /** A rule is about to go back to what was saved: `earlier` where that was in an earlier run. */
  resumes?(rule: FittingRule, earlier: boolean): void;
  /** A rule does something with the picked slot, whether or not one is picked. */
  usesSlot?(rule: FittingRule, turn: Turn): void;
  /** A 201st rule was about to fire. */
  unsettled?(rule: FittingRule, turn: Turn): void;
}

/** How the bottom place was entered afresh during this turn; undefined when it was not. */
export interface FreshArrival {
  rule?: FittingRule;
  /** By `again`, `resume` or `load`. */
  back: boolean;
  /** Where a level was entered and has settled: the run variables that were stale then. */
  stale: Id[];
}

export class Turn {
  /** What has happened and is still to be heard: signals that were raised, foes that rules have defeated. */
  readonly queue: ({ hear: Id } | { defeat: Id })[] = [];
  /** The frames made during this turn: who is still on the stack in the end was entered and has settled. */
  readonly frames = new Set<Frame>();
  fired = 0;
  arrival: FreshArrival | undefined;
  /** The checkpoint being touched, while no place has been entered afresh since (section 4, `save`). */
  checkpoint: Id | undefined;
  /** The candidate of the choice being made, and the order that it is of. */
  choice: { rule: Id; level: Id; order: Id } | undefined;

  constructor(
    readonly flow: Flow,
    readonly state: State,
    readonly watcher: Watcher,
    private readonly pick: (options: number) => number,
    private readonly note: (draw: Draw) => void
  ) {}

  /** Draws one of `options`; who explores asks for each in turn. */
  draw<T>(options: T[]): T {
    return options[options.length === 1 ? 0 : this.pick(options.length)]!;
  }

  /** A draw has been made and will be told. */
  drew(draw: Draw): void {
    this.note(draw);
    this.watcher.drawn?.(draw, this);
  }

  bottomLevel(): Level | undefined {
    const place = this.flow.document.places[bottom(this.state).place]!;
    return place.kind === 'level' ? place : undefined;
  }

  /** The rules that listen to a trigger of a kind, where it is one that `matches`. */
  listening<K extends TriggerKind>(kind: K, matches: (when: With<Trigger, K>) => boolean): FittingRule[] {
    const rules: Listening<K>[] = this.applying().by[kind];
    return rules.filter(({ rule }) => matches(rule.when));
  }

  applying() {
    return this.flow.applying(active(this.state).place, bottom(this.state).place);
  }

  reading(candidate?: Reading['candidate']): Reading {
    return readingOf(this.flow, this.state, candidate);
  }
}

/** What conditions read in a state. */
export function readingOf(flow: Flow, state: State, candidate?: Reading['candidate']): Reading {
  return new StateReading(flow, state, candidate);
}

class StateReading implements Reading {
  constructor(
    private readonly flow: Flow,
    private readonly state: State,
    readonly candidate: Reading['candidate']
  ) {}

  variable(id: Id): Value {
    return valueOf(this.flow, this.state, id);
  }
  left(piece: Id): number {
    return leftOf(this.flow, this.state, piece);
  }
  count(piece: Id): number {
    return countOf(pieceAt(this.flow, this.state, piece));
  }
  won(level: Id): boolean {
    return level in this.state.won;
  }
  wins(id: Id): number {
    const { document, levels } = this.flow;
    const counted = Object.hasOwn(document.groups, id)
      ? levels.filter(([, level]) => level.group === id).map(([level]) => level)
      : document.orders[id]!.levels;
    return counted.filter((level) => level in this.state.won).length;
  }
  has(what: Had, order?: Id): boolean {
    return had[what](this.flow, this.state, order);
  }
  get last() {
    return this.state.last;
  }
  get saved(): number {
    return this.state.bookmark?.progress ?? 0;
  }
  get spot(): Id | null {
    return this.state.spot;
  }
}

const had: Record<Had, (flow: Flow, state: State, order: Id | undefined) => boolean> = {
  next: (flow, state, order) => along(flow, state, 'next', order) !== undefined,
  previous: (flow, state, order) => along(flow, state, 'previous', order) !== undefined,
  save: (_, { bookmark }) => bookmark !== null,
  slot: (flow, state) => state.picked !== null && isUsed(flow, state, state.picked)
};

export function valueOf(flow: Flow, state: State, id: Id): Value {
  return state[flow.document.variables[id]!.scope][id]!;
}

/** The map that holds `left` of the heaps of a piece of the bottom level; undefined when it is not used up. */
export function leftMap(flow: Flow, state: State, piece: Id): Record<Id, number> | undefined {
  const level = bottom(state).place;
  const place = flow.document.places[level]!;
  if (place.kind !== 'level' || !Object.hasOwn(place.pieces, piece) || !usedUp(place.pieces[piece]!)) return undefined;
  switch (renewalOf(place.pieces[piece]!)) {
    case 'run':
      return state.runPieces[level];
    case 'never':
      return state.keptPieces[level];
    default:
      return state.pieces;
  }
}

/** `left` of a piece of the bottom level, of all its heaps: of those that are never used up always their count. */
export function leftOf(flow: Flow, state: State, piece: Id): number {
  const map = leftMap(flow, state, piece);
  const found = pieceAt(flow, state, piece);
  return map ? heapsOf(piece, found).reduce((sum, { key }) => sum + map[key]!, 0) : countOf(found);
}

const pieceAt = (flow: Flow, state: State, piece: Id) => (flow.document.places[bottom(state).place] as Level).pieces[piece]!;

/** The heaps of a piece of the bottom level that can be had where the player is; of what is used up, with some left. */
export function heapsHere(flow: Flow, state: State, piece: Id): Heap[] {
  const map = leftMap(flow, state, piece);
  return heapsOf(piece, pieceAt(flow, state, piece)).filter((heap) => isAt(heap, state.spot) && (!map || map[heap.key]! > 0));
}

/** Takes one of a used-up piece of the bottom level that is nearest: where the player is, else of the first heap that has some. */
export function takeOne(flow: Flow, state: State, piece: Id): boolean {
  const map = leftMap(flow, state, piece);
  if (!map) return false;
  const some = heapsOf(piece, pieceAt(flow, state, piece)).filter(({ key }) => map[key]! > 0);
  const heap = some.find((each) => isAt(each, state.spot)) ?? some[0];
  if (heap) map[heap.key]! -= 1;
  return heap !== undefined;
}
