/** Handling an event (docs/flow-format.md, section 4). */
import { own, type Draw, type Event, type EventKind, type Id, type With } from '../document/types.ts';
import { comesTo, heapsOf, leadsTo } from '../document/ground.ts';
import { same } from '../document/same.ts';
import { secondsOf } from '../document/numbers.ts';
import { evaluate, type Value } from '../language/evaluate.ts';
import { happen } from './effects.ts';
import type { FittingRule } from './fit.ts';
import { defaultEntry, type Flow } from './flow.ts';
import { fullPieces, initialOrders, initialValues } from './initial.ts';
import { enterAfresh, go, resolve } from './move.ts';
import { asksFor, isUsed } from './slots.ts';
import { active, copyState, type State } from './state.ts';
import { leftMap, leftOf, Turn, type Watcher } from './turn.ts';
import { usedUp } from '../vocabulary/pieces.ts';
import { eventKind, waitsFor } from '../vocabulary/triggers.ts';

/** How many rules may fire for one event. */
export const mostFirings = 200;
/** More different series of draws than this are not followed up. */
export const mostDraws = 1000;

/** Thrown where too many rules have fired. One for all, as it is common and its stack tells nothing. */
const neverSettles = new Error('never settles');

/** One way an event can go: the settled state, or none when it never settles; and the draws made on the way. */
export interface Result {
  state: State | undefined;
  draws: Draw[];
  /** How the bottom place was entered afresh; undefined when it was not. */
  arrival: Turn['arrival'];
  /** The places entered during the event and still on the stack when it settled. */
  settledIn: Id[];
}

/**
 * All ways a play can begin, one for each series of draws; with `wanted` draws only those on the way to these. Undefined when
 * there is no start place.
 */
export function begin(flow: Flow, watch: () => Watcher = () => ({}), wanted?: Draw[]): Ways | undefined {
  if (!own(flow.document.places, flow.document.start)) return undefined;
  return everyDraw((pick, note) => beginOnce(flow, pick, note, watch()), wanted);
}

/**
 * All ways an event can go from a settled state; with `wanted` draws only those on the way to these, of which the last has
 * them where that can be. `watch` gives a watcher for each way.
 */
export function handle(flow: Flow, state: State, event: Event, watch: () => Watcher = () => ({}), wanted?: Draw[]): Ways {
  return everyDraw((pick, note) => handleOnce(flow, state, event, pick, note, watch()), wanted);
}

/** `cut` when there are more than `mostDraws`. */
export interface Ways {
  results: Result[];
  cut: boolean;
}

/** Chooses one of so many options, counted from 0: each draw asks once. */
export type Pick = (options: number) => number;

/** How else a play can begin: in another place, with what a returning player has kept and won. */
export interface Beginning {
  at?: Id;
  kept?: Record<Id, Value>;
  won?: Id[];
  /** With the saved games of earlier times, as slots hold them. */
  saved?: Partial<State>;
}

/** One way a play can begin, with the draws that `pick` makes. The place where it begins has to be there. */
export function beginOnce(
  flow: Flow,
  pick: Pick,
  note: (draw: Draw) => void,
  watcher: Watcher = {},
  { at: start = flow.document.start, kept = {}, won = [], saved = {} }: Beginning = {}
): Omit<Result, 'draws'> {
  const place = flow.document.places[start]!;
  const state = initialState(flow);
  Object.assign(state, saved);
  Object.assign(state.kept, kept);
  for (const level of won) state.won[level] = true;
  const turn = new Turn(flow, state, watcher, pick, note);
  return settled(turn, () => {
    const entry = place.kind === 'level' ? defaultEntry(place) : null;
    enterAfresh(turn, { kind: 'afresh', place: start, entry });
    turn.arrival = { back: false, stale: [] };
    turn.watcher.entered?.(start, true, turn);
    read(turn, turn.applying().by.arrive);
  });
}

/** One way an event can go, with the draws that `pick` makes. */
export function handleOnce(
  flow: Flow,
  state: State,
  event: Event,
  pick: Pick,
  note: (draw: Draw) => void,
  watcher: Watcher = {}
): Omit<Result, 'draws'> {
  const turn = new Turn(flow, copyState(state), watcher, pick, note);
  return settled(turn, () => {
    (respond[eventKind(event)] as (turn: Turn, event: Event) => void)(turn, event);
  });
}

/** The state before anything: section 3's first values, with no place entered yet. */
export function initialState(flow: Flow): State {
  const { document } = flow;
  return {
    stack: [],
    attempt: initialValues(document, 'attempt'),
    run: initialValues(document, 'run'),
    kept: initialValues(document, 'kept'),
    runPieces: fullPieces(flow, 'run'),
    keptPieces: fullPieces(flow, 'never'),
    pieces: {},
    spot: null,
    won: {},
    last: null,
    latest: null,
    orders: initialOrders(document),
    current: null,
    bookmark: null,
    stale: {},
    slot: 0,
    picked: null,
    slots: {}
  };
}

/**
 * Runs one handling again and again, each time with the next series of draws, until all have been made; with `wanted`
 * draws, the first that is not as wanted is made anew each time, until all are.
 */
function everyDraw(run: (pick: Pick, note: (draw: Draw) => void) => Omit<Result, 'draws'>, wanted?: Draw[]): Ways {
  const results: Result[] = [];
  let series: number[] | undefined = [];
  while (series) {
    if (results.length === mostDraws) return { results, cut: true };
    const options: number[] = [];
    const made: number[] = [];
    /** By pick: which of the draws it decides; where there is one option only, nothing is picked. */
    const decides: number[] = [];
    const draws: Draw[] = [];
    const planned: number[] = series;
    const pick = (count: number) => {
      const choice = planned[made.length] ?? 0;
      options.push(count);
      made.push(choice);
      decides.push(draws.length);
      return choice;
    };
    results.push({ ...run(pick, (draw) => draws.push(draw)), draws });
    let last = made.length - 1;
    if (wanted) {
      last = decides.findIndex((at) => !same(draws[at], wanted[at]));
      if (last >= 0 && made[last] === options[last]! - 1) last = -1;
    } else while (last >= 0 && made[last] === options[last]! - 1) last--;
    series = last < 0 ? undefined : [...made.slice(0, last), made[last]! + 1];
  }
  return { results, cut: false };
}

function settled(turn: Turn, first: () => void): Omit<Result, 'draws'> {
  try {
    first();
    settle(turn);
  } catch (error) {
    if (error === neverSettles) return { state: undefined, arrival: turn.arrival, settledIn: [] };
    throw error;
  }
  const { state, arrival } = turn;
  // once a level has been entered afresh and has settled, nothing is stale any more (section 6)
  if (arrival && turn.bottomLevel()) {
    // who comes back to what was played has its values on purpose, unless they are another game's
    arrival.stale = Object.keys(state.stale).filter((id) => !arrival.back || state.stale[id] === 'slot');
    state.stale = {};
  }
  const settledIn = state.stack.filter((frame) => turn.frames.has(frame)).map(({ place }) => place);
  return { state, arrival, settledIn };
}

/** Steps 1 and 2: the event itself, then the rules that listen to it. */
const respond: { [K in EventKind]: (turn: Turn, event: With<Event, K>) => void } = {
  press: (turn, { press }) =>
    read(
      turn,
      turn.listening('press', (when) => when.press === press)
    ),
  touch(turn, event) {
    const { touch } = event;
    if (turn.bottomLevel()!.pieces[touch]!.kind === 'checkpoint') turn.checkpoint = touch;
    read(
      turn,
      turn.listening('touch', (when) => waitsFor(when, event))
    );
  },
  collect(turn, { collect, of }) {
    lower(turn, collect, of);
    read(
      turn,
      turn.listening('collect', (when) => when.collect === collect)
    );
  },
  defeat(turn, { defeat, of }) {
    lower(turn, defeat, of);
    read(
      turn,
      turn.listening('defeat', (when) => when.defeat === defeat)
    );
  },
  slot(turn, { slot }) {
    const { flow, state } = turn;
    const used = isUsed(flow, state, slot);
    state.picked = slot;
    read(
      turn,
      turn.listening('slot', (when) => asksFor(when.slot, used))
    );
  },
  walk(turn, { walk }) {
    const { flow, state } = turn;
    const level = turn.bottomLevel()!;
    const { pieces, passages } = level;
    const from = state.spot!;
    state.spot = leadsTo(passages[walk]!, from)!;
    turn.watcher.walks?.(walk, turn);
    for (const touch of passages[walk]!.through ?? []) {
      const { kind } = pieces[touch]!;
      if (usedUp(pieces[touch]!) && leftOf(flow, state, touch) === 0) continue;
      if (kind === 'checkpoint') turn.checkpoint = touch;
      turn.watcher.touchesOnWay?.(touch, turn);
      const touched = turn.listening('touch', (when) => waitsFor(when, { touch }));
      if (read(turn, touched)) return;
    }
    const walked = turn.listening('walk', (when) => when.walk === walk);
    if (read(turn, walked)) return;
    read(
      turn,
      turn.listening('reach', ({ reach }) => comesTo(level, reach, from, state.spot!))
    );
  },
  choose(turn, { choose, rule }) {
    const offering = turn.applying().by.choose.filter(({ id }) => id === rule);
    turn.choice = { rule, level: choose, order: offering[0]!.rule.when.choose };
    read(turn, offering);
    turn.choice = undefined;
  },
  every(turn, { every }) {
    const { document } = turn.flow;
    const wanted = secondsOf(document, every);
    const { seconds, due } = turn.applying().clocks.find((clock) => clock.seconds === wanted)!;
    const { phase, ticks } = active(turn.state);
    if (phase < due.length) ticks[seconds] = (ticks[seconds] ?? 0) + 1;
    read(
      turn,
      turn.listening('every', (when) => secondsOf(document, when.every) === seconds)
    );
  },
  time(turn) {
    const passed = turn.applying().deadlines[active(turn.state).phase++]!;
    read(
      turn,
      turn.listening('after', (when) => secondsOf(turn.flow.document, when.after) === passed)
    );
  }
};

/** One fewer of a heap of a piece. */
function lower(turn: Turn, piece: Id, of: number | undefined): void {
  const heap = heapsOf(piece, turn.bottomLevel()!.pieces[piece]!)[of ?? 0]!;
  leftMap(turn.flow, turn.state, piece)![heap.key]! -= 1;
}

/** Reads rules in order; those whose `if` holds fire. Tells whether one left. */
function read(turn: Turn, rules: FittingRule[]): boolean {
  turn.watcher.happens?.(rules, turn);
  for (const rule of rules) {
    const truth = ifHolds(turn, rule);
    turn.watcher.read?.(rule, truth, turn);
    if (truth && fire(turn, rule)) return true;
  }
  return false;
}

function ifHolds(turn: Turn, rule: FittingRule): boolean {
  if (!rule.condition) return true;
  const { choice } = turn;
  const candidate =
    choice && rule.id === choice.rule ? candidateOf(turn.flow, turn.state, choice.order, choice.level) : undefined;
  return evaluate(rule.condition, turn.reading(candidate)) as boolean;
}

/** What `won(it)`, `won(previous)` and `position` mean for a candidate of a choose rule. */
export function candidateOf(flow: Flow, state: State, order: Id, level: Id) {
  const { levels } = flow.document.orders[order]!;
  const index = levels.indexOf(level);
  return { it: level in state.won, previous: index === 0 || levels[index - 1]! in state.won, position: index + 1 };
}

/** A rule fires: its effects, then its move. Tells whether it left. */
function fire(turn: Turn, rule: FittingRule): boolean {
  if (turn.fired === mostFirings) {
    turn.watcher.unsettled?.(rule, turn);
    throw neverSettles;
  }
  turn.fired++;
  turn.watcher.fired?.(rule, turn);
  const waiting = turn.queue.length;
  rule.rule.do?.forEach((effect, index) => happen(turn, rule, effect, rule.expressions[index]));
  if (!rule.rule.go) return false;
  const destination = resolve(turn, rule.rule.go);
  if (!destination) {
    turn.watcher.stranded?.(rule, turn);
    return false;
  }
  turn.queue.splice(0, waiting);
  if (destination.kind === 'afresh' && destination.word === 'resume')
    turn.watcher.resumes?.(rule, !destination.saved!.bookmark.thisRun);
  turn.watcher.moving?.(rule, destination.kind === 'back' ? null : destination.place, destination.kind === 'afresh', turn);
  if (go(turn, rule, destination)) read(turn, turn.applying().by.arrive);
  return true;
}

/** Steps 3 and 4: signals, then `holds` rules, until nothing fires any more. */
function settle(turn: Turn): void {
  do hearAll(turn);
  while (passFires(turn));
}

/** Handles what waits to be heard, first in first out. Tells whether a rule left. */
function hearAll(turn: Turn): boolean {
  let left = false;
  for (let waits = turn.queue.shift(); waits !== undefined; waits = turn.queue.shift()) {
    const heard = waits;
    const rules =
      'hear' in heard
        ? turn.listening('hear', ({ hear }) => hear === heard.hear)
        : turn.listening('defeat', ({ defeat }) => defeat === heard.defeat);
    left = read(turn, rules) || left;
  }
  return left;
}

/** One pass over the `holds` rules of the active place. Tells whether another pass is needed. */
function passFires(turn: Turn): boolean {
  let fired = false;
  const frame = active(turn.state);
  for (const rule of turn.applying().by.holds) {
    const before = frame.held[rule.id] === true;
    const reading = turn.reading();
    const now =
      (evaluate(rule.holds!, reading) as boolean) && (!rule.condition || (evaluate(rule.condition, reading) as boolean));
    if (now) frame.held[rule.id] = true;
    else delete frame.held[rule.id];
    turn.watcher.read?.(rule, now, turn);
    if (!now || before) continue;
    fired = true;
    // who has left, by the rule itself or by what its signals led to, begins anew in the place then active
    if (fire(turn, rule)) return true;
    if (hearAll(turn)) return true;
  }
  return fired;
}
