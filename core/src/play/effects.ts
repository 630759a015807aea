/** What the effects of a rule do (docs/flow-format.md, section 4). */
import {
  isLevel,
  own,
  type Act,
  type Effect,
  type EffectKind,
  type FlowDocument,
  type Id,
  type Level,
  type With
} from '../document/types.ts';
import type { Expression } from '../language/ast.ts';
import { clamp, evaluate, type Value } from '../language/evaluate.ts';
import type { FittingRule } from './fit.ts';
import { piecesThatRenew, type Flow } from './flow.ts';
import { bottom, copyLeft, copyOrders, type Left, type OrderProgress, type State } from './state.ts';
import { leftMap, type Turn } from './turn.ts';
import { effectKind } from '../vocabulary/effects.ts';
import { countOf } from '../vocabulary/pieces.ts';

/** What an effect does, one at a time; of `set` the value's expression is given. */
export function happen(turn: Turn, rule: FittingRule, effect: Effect, expression: Expression | undefined): void {
  (effects[effectKind(effect)] as Happen<Effect>)(turn, effect, rule, expression);
}

type Happen<E> = (turn: Turn, effect: E, rule: FittingRule, expression: Expression | undefined) => void;

const effects: { [K in EffectKind]: Happen<With<Act, K>> } = {
  set: (turn, { set }, rule, expression) => assign(turn, rule, set, evaluate(expression!, turn.reading()) as Value),
  reset: (turn, { reset }, rule) => assign(turn, rule, reset, turn.flow.document.variables[reset]!.initial),
  raise: (turn, { raise }) => void turn.queue.push({ hear: raise }),
  remove(turn, { remove, by = 1 }) {
    if (!changeLeft(turn, remove, (left) => Math.max(0, left - by))) return;
    if (turn.bottomLevel()!.pieces[remove]!.kind === 'pickup') turn.watcher.removed?.(remove, turn);
  },
  restore: (turn, { restore }) => void changeLeft(turn, restore, (_, count) => count),
  defeat(turn, { defeat }) {
    if (changeLeft(turn, defeat, (left) => Math.max(0, left - 1))) turn.queue.push({ defeat });
  },
  draw: (turn, { draw }) => drawOrder(turn, draw),
  begin: ({ flow, state }) => beginRun(flow, state),
  save: (turn, { save: how }) => save(turn, how),
  forget: ({ state }) => void (state.bookmark = null),
  erase: ({ flow, state }) => erase(flow, state)
};

function assign(turn: Turn, rule: FittingRule, id: Id, value: Value | bigint): void {
  const { flow, state } = turn;
  const variable = flow.document.variables[id]!;
  const assigned = variable.type === 'number' ? clamp(value as number | bigint, variable.min, variable.max) : (value as Value);
  if (variable.type === 'number' && assigned !== value) turn.watcher.clamped?.(rule, id, turn);
  state[variable.scope][id] = assigned;
  delete state.stale[id];
}

/** Changes how many of a piece are left; whether there are fewer then. */
function changeLeft({ flow, state }: Turn, piece: Id, to: (left: number, count: number) => number): boolean {
  const map = leftMap(flow, state, piece);
  if (!map) return false;
  const before = map[piece]!;
  const level = flow.document.places[bottom(state).place] as Level;
  map[piece] = to(before, countOf(level.pieces[piece]!));
  return map[piece]! < before;
}

function drawOrder(turn: Turn, id: Id): void {
  const { flow, state } = turn;
  const order = flow.document.orders[id]!;
  const progress = state.orders[id]!;
  if (order.draw === 'table') {
    progress.row = turn.draw(order.rows.map((_, index) => index));
    progress.position = -1;
    turn.drew({ order: id, row: progress.row });
  } else if (order.draw === 'bag') {
    progress.bag = order.levels.filter((level) => isLevel(flow.document, level));
  }
}

/** All run variables get their initial value, run pieces are renewed, tables and bags are undrawn. */
export function beginRun(flow: Flow, state: State): void {
  state.run = initialValues(flow.document, 'run');
  state.runPieces = fullPieces(flow, 'run');
  state.orders = initialOrders(flow.document);
  state.current = null;
  state.last = null;
  state.stale = {};
  if (state.bookmark) state.bookmark = { ...state.bookmark, thisRun: false };
}

function save(turn: Turn, how: 'always' | 'forward'): void {
  const { state } = turn;
  const level = turn.bottomLevel();
  if (!level) return;
  const id = bottom(state).place;
  let progress = level.progress ?? 0;
  let entry = state.latest!.entry;
  if (turn.checkpoint !== undefined) {
    progress = level.pieces[turn.checkpoint]!.progress ?? progress;
    if (own(level.entries, turn.checkpoint)) entry = turn.checkpoint;
  }
  const { bookmark } = state;
  if (how === 'forward' && bookmark?.thisRun && bookmark.progress >= progress) return;
  state.bookmark = {
    level: id,
    entry,
    progress,
    thisRun: true,
    run: { ...state.run },
    attempt: { ...state.attempt },
    pieces: Object.fromEntries(piecesThatRenew(level, 'attempt').map(([piece]) => [piece, state.pieces[piece]!])),
    runPieces: copyLeft(state.runPieces),
    orders: copyOrders(state.orders),
    current: state.current
  };
}

function erase(flow: Flow, state: State): void {
  state.won = {};
  state.bookmark = null;
  if (state.latest && bottom(state).place !== state.latest.level) state.latest = null;
  state.kept = initialValues(flow.document, 'kept');
  state.keptPieces = fullPieces(flow, 'never');
  beginRun(flow, state);
}

export function initialValues(document: FlowDocument, scope: 'attempt' | 'run' | 'kept'): Record<Id, Value> {
  return Object.fromEntries(
    Object.entries(document.variables)
      .filter(([, variable]) => variable.scope === scope)
      .map(([id, variable]) => [id, variable.initial])
  );
}

export function fullPieces(flow: Flow, renew: 'run' | 'never'): Left {
  return Object.fromEntries(
    flow.levels.map(([id, level]) => [
      id,
      Object.fromEntries(piecesThatRenew(level, renew).map(([piece, value]) => [piece, countOf(value)]))
    ])
  );
}

export function initialOrders(document: FlowDocument): Record<Id, OrderProgress> {
  return Object.fromEntries(Object.keys(document.orders).map((id) => [id, { row: -1, position: -1 }]));
}
