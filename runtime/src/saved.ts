/**
 * What a game keeps between two times it is played, as JSON. It is taken up again on any version of the flow: what that no longer
 * has is left out, what it has besides is as it begins.
 */
import { spotOf } from '@crow-lane/core/document/ground';
import { own, type Id, type Level, type Variable } from '@crow-lane/core/document/types';
import type { Value } from '@crow-lane/core/language/evaluate';
import { heapsThatRenew, type Flow } from '@crow-lane/core/play/flow';
import { initialState } from '@crow-lane/core/play/handle';
import { initialOrders } from '@crow-lane/core/play/initial';
import { heldBy, slotsOf as slotCount } from '@crow-lane/core/play/slots';
import type { Bookmark, Frame, Left, OrderProgress, Progress, State } from '@crow-lane/core/play/state';
import { PlayError } from './errors.ts';

/** All of a game in the middle of it. */
export interface Saved {
  format: 'crow-lane-state';
  version: 1;
  /** The name of the flow that was played. */
  flow: string;
  state: State;
}

/** What outlasts a run: which slot was played, counted from 0, and what each that was used holds. */
export interface SavedSlots {
  format: 'crow-lane-slots';
  version: 1;
  flow: string;
  slot: number;
  slots: Record<number, Progress>;
}

/** The saved games of a state. */
export function slotsIn(flow: Flow, state: State): SavedSlots {
  const slots: Record<number, Progress> = {};
  for (let slot = 0; slot < slotCount(flow.document); slot++) {
    const held = heldBy(state, slot);
    if (held) slots[slot] = structuredClone(held);
  }
  return { format: 'crow-lane-slots', version: 1, flow: flow.document.name, slot: state.slot, slots };
}

/** With what a play begins that has saved games already. Throws a `PlayError` for what is none. */
export function returningWith(flow: Flow, saved: SavedSlots): Partial<State> {
  known(saved, 'crow-lane-slots');
  const first = initialState(flow);
  const held = Object.entries(asMap(saved.slots)).flatMap(([slot, progress]): [number, Progress][] =>
    Number(slot) < slotCount(flow.document) ? [[Number(slot), progressFrom(flow, first, progress)]] : []
  );
  const { [saved.slot]: inHand, ...slots } = Object.fromEntries(held);
  return { slot: own(Object.fromEntries(held), String(saved.slot)) ? saved.slot : 0, slots, ...inHand };
}

/** The state in which a saved game is taken up. Throws a `PlayError` for what is none, and where the player's place is gone. */
export function stateFrom(flow: Flow, saved: Saved): State {
  known(saved, 'crow-lane-state');
  const { document } = flow;
  const first = initialState(flow);
  const was = { ...first, ...asMap(saved.state) };
  const stack = (Array.isArray(was.stack) ? was.stack : []).map((frame) => frameFrom(flow, frame, saved.flow));
  const [lowest] = stack;
  if (!lowest) throw new PlayError(`the saved game of ${saved.flow} is in no place`);
  const level = document.places[lowest.place]!;
  const slots = Object.entries(asMap(was.slots)).map(([slot, progress]) => [slot, progressFrom(flow, first, progress)] as const);
  const isLevel = level.kind === 'level';
  return {
    ...first,
    ...progressFrom(flow, first, was),
    stack,
    attempt: valuesFrom(flow, first.attempt, was.attempt),
    run: valuesFrom(flow, first.run, was.run),
    runPieces: leftFrom(first.runPieces, was.runPieces),
    pieces: isLevel ? countsFrom(renewing(level, 'arrival', 'attempt'), was.pieces) : {},
    spot: isLevel ? (was.spot !== null && own(level.spots, was.spot) ? was.spot : spotOf(level, null)) : null,
    last: was.last === 'won' || was.last === 'lost' ? was.last : null,
    orders: ordersFrom(flow, was.orders),
    current: was.current !== null && own(document.orders, was.current) ? was.current : null,
    stale: kept(was.stale, (id) => own(first.run, id) !== undefined),
    slot: Number(was.slot) < slotCount(document) ? Number(was.slot) : 0,
    picked: was.picked !== null && was.picked < slotCount(document) ? was.picked : null,
    slots: Object.fromEntries(slots)
  };
}

function known({ format, version }: { format: unknown; version: unknown }, wanted: string): void {
  if (format !== wanted) throw new PlayError(`this is no "${wanted}": its format is ${JSON.stringify(format)}`);
  if (version !== 1) throw new PlayError(`version ${JSON.stringify(version)} of "${wanted}" is not known here: 1 is`);
}

const asMap = <T extends object>(value: T): T => (typeof value === 'object' && value !== null ? value : ({} as T));

const kept = <T>(map: Record<Id, T>, stays: (id: Id) => boolean): Record<Id, T> =>
  Object.fromEntries(Object.entries(asMap(map)).filter(([id]) => stays(id)));

function frameFrom(flow: Flow, { place, phase, ticks, held, over }: Frame, of: string): Frame {
  if (!own(flow.document.places, place))
    throw new PlayError(`the saved game of ${of} is in "${place}", and ${flow.document.name} has no such place`);
  return {
    place,
    phase: Number(phase) || 0,
    ticks: { ...asMap(ticks) },
    held: kept(held, (rule) => flow.rules.has(rule)),
    over: over === true
  };
}

const valuesFrom = (flow: Flow, first: Record<Id, Value>, was: Record<Id, Value>): Record<Id, Value> =>
  Object.fromEntries(
    Object.entries(first).map(([id, initial]) => {
      const value = own(asMap(was), id);
      return [id, value !== undefined && canBe(flow.document.variables[id]!, value) ? value : initial];
    })
  );

function canBe(variable: Variable, value: Value): boolean {
  switch (variable.type) {
    case 'number':
      return Number.isInteger(value) && Number(value) >= variable.min && Number(value) <= variable.max;
    case 'flag':
      return typeof value === 'boolean';
    case 'choice':
      return variable.choices.includes(String(value));
  }
}

/** How many are left of what there is now: never more than that. */
const countsFrom = (full: Record<Id, number>, was: Record<Id, number>): Record<Id, number> =>
  Object.fromEntries(
    Object.entries(full).map(([key, n]) => {
      const left = own(asMap(was), key);
      return [key, Number.isInteger(left) ? Math.max(0, Math.min(n, left!)) : n];
    })
  );

const leftFrom = (full: Left, was: Left): Left =>
  Object.fromEntries(Object.entries(full).map(([level, pieces]) => [level, countsFrom(pieces, own(asMap(was), level) ?? {})]));

const renewing = (level: Level, ...ways: Parameters<typeof heapsThatRenew>[1][]): Record<Id, number> =>
  Object.fromEntries(heapsThatRenew(level, ...ways).map(({ key, n }) => [key, n]));

function ordersFrom(flow: Flow, was: Record<Id, OrderProgress>): Record<Id, OrderProgress> {
  const { orders } = flow.document;
  return Object.fromEntries(
    Object.entries(initialOrders(flow.document)).map(([id, first]) => {
      const order = orders[id]!;
      const { row = -1, position = -1, bag } = own(asMap(was), id) ?? first;
      const levels = order.draw === 'table' ? order.rows[row] : order.levels;
      if (!levels || position >= levels.length) return [id, first];
      return [id, { row, position, ...(bag && { bag: bag.filter((level) => order.levels.includes(level)) }) }];
    })
  );
}

/** Where the player has been, where the flow still has it. */
function whereFrom(flow: Flow, was: State['latest']): State['latest'] {
  const level = was === null ? undefined : own(flow.document.places, was.level);
  if (was === null || level?.kind !== 'level') return null;
  return { level: was.level, entry: was.entry !== null && own(level.entries, was.entry) ? was.entry : null };
}

function progressFrom(flow: Flow, first: State, was: Progress): Progress {
  return {
    won: kept(was.won, (level) => own(flow.document.places, level)?.kind === 'level'),
    bookmark: bookmarkFrom(flow, first, was.bookmark),
    latest: whereFrom(flow, was.latest),
    kept: valuesFrom(flow, first.kept, was.kept),
    keptPieces: leftFrom(first.keptPieces, was.keptPieces)
  };
}

function bookmarkFrom(flow: Flow, first: State, was: Bookmark | null): Bookmark | null {
  const where = whereFrom(flow, was);
  if (was === null || where === null) return null;
  const level = flow.document.places[where.level] as Level;
  return {
    ...where,
    spot: was.spot !== null && own(level.spots, was.spot) ? was.spot : spotOf(level, where.entry),
    progress: Number(was.progress) || 0,
    thisRun: was.thisRun === true,
    run: valuesFrom(flow, first.run, was.run),
    attempt: valuesFrom(flow, first.attempt, was.attempt),
    pieces: countsFrom(renewing(level, 'attempt'), was.pieces),
    runPieces: leftFrom(first.runPieces, was.runPieces),
    orders: ordersFrom(flow, was.orders),
    current: was.current !== null && own(flow.document.orders, was.current) ? was.current : null
  };
}
