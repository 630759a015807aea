/** What the effects of a rule do (docs/flow-format.md, section 4). */
import { isLevel, own, type Act, type Effect, type EffectKind, type Id, type Level, type With } from '../document/types.ts';
import type { Expression } from '../language/ast.ts';
import { clamp, evaluate, type Value } from '../language/evaluate.ts';
import type { FittingRule } from './fit.ts';
import { piecesThatRenew, type Flow } from './flow.ts';
import { beginRun, fullPieces, initialValues } from './initial.ts';
import { clearSlot, playedHere, putSlot, takeSlot } from './slots.ts';
import { bottom, copyLeft, copyOrders, type State } from './state.ts';
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
  slot(turn, { slot }, rule) {
    turn.watcher.usesSlot?.(rule, turn);
    onSlot[slot](turn.flow, turn.state);
  },
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

/** What is done with the picked slot; where none is picked, nothing. */
const onSlot: Record<With<Act, 'slot'>['slot'], (flow: Flow, state: State) => void> = {
  take: takeSlot,
  put: (_, state) => putSlot(state),
  clear(flow, state) {
    if (state.picked === state.slot) erase(flow, state);
    else if (state.picked !== null) clearSlot(state, state.picked);
  }
};

function erase(flow: Flow, state: State): void {
  state.won = {};
  state.bookmark = null;
  if (!playedHere(state)) state.latest = null;
  state.kept = initialValues(flow.document, 'kept');
  state.keptPieces = fullPieces(flow, 'never');
  beginRun(flow, state);
}
