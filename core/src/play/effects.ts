/** What the effects of a rule do (docs/flow-format.md, section 4). */
import { isLevel, own, type Act, type Effect, type EffectKind, type Id, type Level, type With } from '../document/types.ts';
import { heapsOf } from '../document/ground.ts';
import type { Expression } from '../language/ast.ts';
import { clamp, evaluate, type Value } from '../language/evaluate.ts';
import type { FittingRule } from './fit.ts';
import { heapsThatRenew, type Flow } from './flow.ts';
import { beginRun, fullPieces, initialValues } from './initial.ts';
import { clearSlot, playedHere, putSlot, takeSlot } from './slots.ts';
import { bottom, copyLeft, copyOrders, type State } from './state.ts';
import { leftMap, takeOne, type Turn } from './turn.ts';
import { effectKind } from '../vocabulary/effects.ts';

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
    let taken = false;
    for (let n = 0; n < by && takeOne(turn.flow, turn.state, remove); n++) taken = true;
    if (!taken) return;
    if (turn.bottomLevel()!.pieces[remove]!.kind === 'pickup') turn.watcher.removed?.(remove, turn);
  },
  restore({ flow, state }, { restore }) {
    const map = leftMap(flow, state, restore);
    if (!map) return;
    const { pieces } = flow.document.places[bottom(state).place] as Level;
    for (const { key, n } of heapsOf(restore, pieces[restore]!)) map[key] = n;
  },
  defeat(turn, { defeat }) {
    if (takeOne(turn.flow, turn.state, defeat)) turn.queue.push({ defeat });
  },
  draw: (turn, { draw }) => drawOrder(turn, draw),
  begin({ flow, state, watcher }) {
    watcher.undoes?.(false);
    beginRun(flow, state);
  },
  save: (turn, { save: how }) => save(turn, how),
  forget: ({ state }) => void (state.bookmark = null),
  slot(turn, { slot }, rule) {
    const { flow, state, watcher } = turn;
    watcher.usesSlot?.(rule, turn);
    const isInHand = state.picked === state.slot;
    if (slot === 'clear' ? isInHand : slot === 'take' && state.picked !== null && !isInHand) watcher.undoes?.(true);
    onSlot[slot](flow, state);
  },
  erase({ flow, state, watcher }) {
    watcher.undoes?.(true);
    erase(flow, state);
  }
};

function assign(turn: Turn, rule: FittingRule, id: Id, value: Value | bigint): void {
  const { flow, state } = turn;
  const variable = flow.document.variables[id]!;
  const assigned = variable.type === 'number' ? clamp(value as number | bigint, variable.min, variable.max) : (value as Value);
  if (variable.type === 'number' && assigned !== value) turn.watcher.clamped?.(rule, id, turn);
  state[variable.scope][id] = assigned;
  delete state.stale[id];
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
    spot: state.spot,
    progress,
    thisRun: true,
    run: { ...state.run },
    attempt: { ...state.attempt },
    pieces: Object.fromEntries(heapsThatRenew(level, 'attempt').map(({ key }) => [key, state.pieces[key]!])),
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
