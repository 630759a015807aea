/** Where a rule leads and what going there does (docs/flow-format.md, section 5). */
import { own, type Id, type Level, type MoveTarget, type Target } from '../document/types.ts';
import { spotOf } from '../document/ground.ts';
import { initialValues } from './initial.ts';
import { targetMisfit, type FittingRule } from './fit.ts';
import { defaultEntry, heapsThatRenew, type Flow } from './flow.ts';
import { along, rowOf, type Along } from './orders.ts';
import { bottom, copyLeft, copyOrders, type Bookmark, type State } from './state.ts';
import type { Turn } from './turn.ts';

/** A target that resolved. */
export type Destination =
  | { kind: 'back' }
  | { kind: 'over'; place: Id }
  | {
      kind: 'afresh';
      place: Id;
      entry: Id | null;
      /** The order in which a relative move or a choice moved, and, in a row, to which position. */
      order?: { id: Id; position?: number };
      saved?: { bookmark: Bookmark; load: boolean };
      word?: MoveTarget['move'];
    };

export const mostFrames = 4;

/** Resolves a target, else its otherwise; undefined when neither does. A draw from a bag is made here. */
export function resolve(turn: Turn, target: Target): Destination | undefined {
  const found = resolveOne(turn, target);
  if (found || !('else' in target) || !target.else) return found;
  return resolveOne(turn, target.else);
}

function resolveOne(turn: Turn, target: Target): Destination | undefined {
  const { flow, state } = turn;
  const { document } = flow;
  if (targetMisfit(document, target, '')) return undefined;
  if ('place' in target) {
    if (target.over) return state.stack.length < mostFrames ? { kind: 'over', place: target.place } : undefined;
    return afresh(flow, target.place, target.entry);
  }
  switch (target.move) {
    case 'back':
      return state.stack.length > 1 ? { kind: 'back' } : undefined;
    case 'again':
      return state.latest ? { kind: 'afresh', place: state.latest.level, entry: state.latest.entry, word: 'again' } : undefined;
    case 'resume':
    case 'load': {
      const { bookmark } = state;
      if (!bookmark) return undefined;
      return {
        kind: 'afresh',
        place: bookmark.level,
        entry: bookmark.entry,
        saved: { bookmark, load: target.move === 'load' },
        word: target.move
      };
    }
    case 'chosen': {
      if (!turn.choice) return undefined;
      const { level, order } = turn.choice;
      return { ...afresh(flow, level, target.entry), order: { id: order }, word: 'chosen' };
    }
    case 'next':
    case 'previous':
    case 'first':
    case 'last':
      return inOrder(turn, target);
  }
}

function afresh(flow: Flow, place: Id, entry?: Id) {
  const there = flow.document.places[place]!;
  if (there.kind !== 'level') return { kind: 'afresh' as const, place, entry: null };
  return {
    kind: 'afresh' as const,
    place,
    entry: entry !== undefined && own(there.entries, entry) ? entry : defaultEntry(there)
  };
}

function inOrder(turn: Turn, target: MoveTarget): Destination | undefined {
  const found = along(turn.flow, turn.state, target.move as Along, target.order);
  if (!found) return undefined;
  const { order: id } = found;
  if ('bag' in found) {
    const level = turn.draw(found.bag);
    turn.drew({ order: id, level });
    return { ...afresh(turn.flow, level, target.entry), order: { id }, word: target.move };
  }
  const { level, position } = found;
  return { ...afresh(turn.flow, level, target.entry), order: { id, position }, word: target.move };
}

/** Makes the move, up to and without the reading of arrive rules. Tells whether a place was entered (back only returns). */
export function go(turn: Turn, rule: FittingRule | undefined, destination: Destination): boolean {
  const { state } = turn;
  if (rule?.rule.result) {
    const from = bottom(state);
    if (rule.rule.result === 'won') state.won[from.place] = true;
    state.last = rule.rule.result;
    from.over = true;
  }
  if (destination.kind === 'back') {
    state.stack.pop();
    return false;
  }
  if (destination.kind === 'over') {
    const frame = { place: destination.place, phase: 0, ticks: {}, held: {}, over: false };
    turn.frames.add(frame);
    state.stack.push(frame);
    turn.watcher.entered?.(destination.place, false, turn);
    return true;
  }
  enterAfresh(turn, destination);
  turn.arrival = { rule, back: ['again', 'resume', 'load'].includes(destination.word ?? ''), stale: [] };
  turn.checkpoint = undefined;
  turn.watcher.entered?.(destination.place, true, turn);
  return true;
}

/** Clears the stack and enters a place; also at the very start. */
export function enterAfresh(turn: Turn, destination: Destination & { kind: 'afresh' }): void {
  const { flow, state } = turn;
  const { place: id, saved } = destination;
  const place = flow.document.places[id]!;
  const frame = { place: id, phase: 0, ticks: {}, held: {}, over: false };
  turn.frames.add(frame);
  state.stack = [frame];
  state.picked = null;
  state.pieces = {};
  state.spot = null;
  if (saved?.load) bringBack(state, saved.bookmark);
  if (place.kind === 'level') enterLevel(turn, place, destination);
  else if (place.kind === 'ending' || id === flow.home) markStale(flow, state);
}

function enterLevel(
  { flow, state }: Turn,
  level: Level,
  { place: id, entry, order, saved }: Destination & { kind: 'afresh' }
): void {
  state.attempt = saved ? { ...saved.bookmark.attempt } : initialValues(flow.document, 'attempt');
  for (const { key, n } of heapsThatRenew(level, 'attempt', 'arrival')) state.pieces[key] = n;
  state.spot = saved ? saved.bookmark.spot : spotOf(level, entry);
  if (saved) Object.assign(state.pieces, saved.bookmark.pieces);
  state.latest = { level: id, entry };
  if (order) state.current = order.id;
  for (const each in state.orders) {
    const progress = state.orders[each]!;
    if (progress.bag?.includes(id)) progress.bag = progress.bag.filter((other) => other !== id);
    const row = rowOf(flow, state, each);
    if (!row?.includes(id)) continue;
    if (order?.id === each && order.position !== undefined) progress.position = order.position;
    else if (row[progress.position] !== id) progress.position = row.indexOf(id);
  }
}

/** `load`: the run as it was saved; the bookmark then is of this run. */
function bringBack(state: State, bookmark: Bookmark): void {
  state.run = { ...bookmark.run };
  state.runPieces = copyLeft(bookmark.runPieces);
  state.orders = copyOrders(bookmark.orders);
  state.current = bookmark.current;
  state.stale = {};
  state.bookmark = { ...bookmark, thisRun: true };
}

/** An ending or home was entered afresh: what is not initial now stems from an earlier run (section 6). */
function markStale(flow: Flow, state: State): void {
  for (const id in state.run) if (state.run[id] !== flow.document.variables[id]!.initial) state.stale[id] ??= 'run';
}
