/** A state of play (docs/flow-format.md, section 3), as plain objects. */
import type { Value } from '../language/evaluate.ts';
import type { Id } from '../document/types.ts';

export interface Frame {
  place: Id;
  /** How many of the place's deadlines have passed. */
  phase: number;
  /** By seconds of a clock how many of its ticks have happened before the last deadline; those of free clocks are not counted. */
  ticks: Record<string, number>;
  /** The `holds` rules that were true when last looked at. */
  held: Record<Id, true>;
  /** For a level: a rule with a result has moved from it. */
  over: boolean;
}

/** Where play is in an order: its drawn row (of a table) or what is left in it (of a bag), and the position in the row. */
export interface OrderProgress {
  /** Index of a table's drawn row; -1 while none is drawn and for the other kinds. */
  row: number;
  /** The levels still in a bag, in document order; undefined while it is not drawn and for the other kinds. */
  bag?: Id[];
  /** Counted from 0; -1 is before the first. */
  position: number;
}

/** What `left` is, by level and heap (`heapsOf`). */
export type Left = Record<Id, Record<Id, number>>;

/** What a slot of saved games holds: all that outlasts a run. */
export interface Progress {
  won: Record<Id, true>;
  bookmark: Bookmark | null;
  latest: State['latest'];
  kept: Record<Id, Value>;
  keptPieces: Left;
}

/** The values of a save: what `load` brings back. */
export interface Bookmark {
  level: Id;
  entry: Id | null;
  /** Where in the level the player was. */
  spot: Id | null;
  progress: number;
  thisRun: boolean;
  run: Record<Id, Value>;
  attempt: Record<Id, Value>;
  /** `left` of the level's heaps that renew with the attempt. */
  pieces: Record<Id, number>;
  runPieces: Left;
  orders: Record<Id, OrderProgress>;
  current: Id | null;
}

export interface State {
  /** Bottom first; the topmost is active. */
  stack: Frame[];
  attempt: Record<Id, Value>;
  run: Record<Id, Value>;
  kept: Record<Id, Value>;
  /** `left` of the pieces of all levels that renew with the run. */
  runPieces: Left;
  /** `left` of the pieces of all levels that never renew. */
  keptPieces: Left;
  /** `left` of the bottom level's heaps that renew on arrival or with the attempt: no other level's can be read. */
  pieces: Record<string, number>;
  /** Where the player is in the bottom level; null where that has no spots. */
  spot: Id | null;
  won: Record<Id, true>;
  /** How the attempt left last ended by a rule with a result; null where none has, and again with a new run. */
  last: 'won' | 'lost' | null;
  latest: { level: Id; entry: Id | null } | null;
  orders: Record<Id, OrderProgress>;
  current: Id | null;
  bookmark: Bookmark | null;
  /** Run variables whose value stems from an earlier run; `slot`: from that of another saved game. */
  stale: Record<Id, 'run' | 'slot'>;
  /** The slot that is played, which slot is picked (until a place is entered afresh), and what the slots that are not in hand hold. */
  slot: number;
  picked: number | null;
  slots: Record<number, Progress>;
}

export const active = (state: State): Frame => state.stack[state.stack.length - 1]!;
export const bottom = (state: State): Frame => state.stack[0]!;

export function copyLeft(left: Left): Left {
  const copy: Left = {};
  for (const level in left) copy[level] = { ...left[level] };
  return copy;
}

export function copyOrders(orders: Record<Id, OrderProgress>): Record<Id, OrderProgress> {
  const copy: Record<Id, OrderProgress> = {};
  for (const id in orders) copy[id] = { ...orders[id]! };
  return copy;
}

/** A copy that can be changed without touching the original. Bookmarks, slots and bags are never changed in place, so they are shared. */
export function copyState(state: State): State {
  return {
    stack: state.stack.map((frame) => ({ ...frame, ticks: { ...frame.ticks }, held: { ...frame.held } })),
    attempt: { ...state.attempt },
    run: { ...state.run },
    kept: { ...state.kept },
    runPieces: copyLeft(state.runPieces),
    keptPieces: copyLeft(state.keptPieces),
    pieces: { ...state.pieces },
    spot: state.spot,
    won: { ...state.won },
    last: state.last,
    latest: state.latest,
    orders: copyOrders(state.orders),
    current: state.current,
    bookmark: state.bookmark,
    stale: { ...state.stale },
    slot: state.slot,
    picked: state.picked,
    slots: state.slots
  };
}

/**
 * A text that two states share exactly when they are the same state. Maps that are filled once and for all keep their
 * key order; the sets grow in any order and are sorted. What slots hold that are not in hand is left out: of these the checks
 * take up only one that was never used (`isChecked`).
 */
export function keyOf(state: State): string {
  return JSON.stringify([
    state.stack.map((frame) => [
      frame.place,
      frame.phase,
      Object.entries(frame.ticks).sort(),
      Object.keys(frame.held).sort(),
      frame.over
    ]),
    Object.values(state.attempt),
    Object.values(state.run),
    Object.values(state.kept),
    leftKey(state.runPieces),
    leftKey(state.keptPieces),
    Object.values(state.pieces),
    state.spot,
    Object.keys(state.won).sort(),
    state.last,
    state.latest && [state.latest.level, state.latest.entry],
    ordersKey(state.orders),
    state.current,
    state.bookmark && [
      state.bookmark.level,
      state.bookmark.entry,
      state.bookmark.spot,
      state.bookmark.progress,
      state.bookmark.thisRun,
      Object.values(state.bookmark.run),
      Object.values(state.bookmark.attempt),
      Object.values(state.bookmark.pieces),
      leftKey(state.bookmark.runPieces),
      ordersKey(state.bookmark.orders),
      state.bookmark.current
    ],
    Object.entries(state.stale).sort(),
    state.slot,
    state.picked
  ]);
}

const leftKey = (left: Left) => Object.values(left).map((pieces) => Object.values(pieces));
const ordersKey = (orders: Record<Id, OrderProgress>) =>
  Object.values(orders).map(({ row, bag, position }) => [row, bag ?? null, position]);
