/**
 * A trial: being the player, event by event, with everything that happens written down. Nothing of play is decided
 * here: each event is handled by `play`, and what it tells is kept as a line of the tape. Trials are never changed,
 * only continued, so that any line can be gone back to.
 */
import { same } from '../document/same.ts';
import { findRule, own, type FlowDocument, type Id, type Level, type Step, type Draw, type Event } from '../document/types.ts';
import type { Value } from '../language/evaluate.ts';
import { eventsIn, means } from '../play/events.ts';
import { prepare, type Flow } from '../play/flow.ts';
import { begin, beginOnce, handle, handleOnce, type Beginning, type Pick, type Result } from '../play/handle.ts';
import { active, bottom, copyState, type State } from '../play/state.ts';
import type { FittingRule } from '../play/fit.ts';
import { happen } from '../play/effects.ts';
import { leftMap, leftOf, Turn, valueOf, type Watcher } from '../play/turn.ts';
import { usedUp } from '../vocabulary/pieces.ts';
import { deedOf } from '../vocabulary/triggers.ts';
import { heapsOf } from '../document/ground.ts';
import { metIn } from './objectives.ts';
import { randomFrom } from '../document/random.ts';

export interface ValueChange {
  variable: Id;
  from: Value;
  to: Value;
}

export interface PieceChange {
  piece: Id;
  from: number;
  to: number;
}

/** One line of the tape: an event and all that came of it. */
export interface Line {
  step: Step;
  /** The active and the bottom place when it was done; undefined at the start. */
  place: Id | undefined;
  bottom: Id | undefined;
  /** The rules that fired, in order. */
  fired: Id[];
  /** The rules that listened and whose condition did not hold. */
  held: Id[];
  /** The rule that moved, and where to; null for back. `leaving` is what the player sees until the screen is covered. */
  moves: { rule: Id; to: Id | null; leaving: State }[];
  entered: Id[];
  /** What changed of the values, and of the pieces of the level when it is still the same. */
  values: ValueChange[];
  pieces: PieceChange[];
  /** The objectives of the level it began in that are newly met, also those that are so as it is won. */
  met: Id[];
  /** Where in the level the player is then, where that is another spot. */
  spot?: Id;
  /** What became of the saved game where a rule saved, or where it is gone: a rule can also find nothing further on. */
  save: 'saved' | 'kept' | 'gone' | undefined;
  /** The slot in which play goes on from here, where that is another. */
  slot: number | undefined;
  /** Rules whose target did not resolve. */
  stranded: Id[];
  /** The state after it; undefined where the event never settles and so has none. */
  state: State | undefined;
}

export interface Trial {
  flow: Flow;
  seed: number;
  lines: Line[];
  state: State;
  /** From which line on values were made up; undefined where a player can really have come here. */
  madeUp: number | undefined;
  /** How it was begun when not at the start of the flow by a new player. */
  from: Beginning | undefined;
}

/** Begins a trial at the start of the flow; undefined where there is no start place, or nothing settles. */
export function beginTrial(document: FlowDocument, seed = 1, forced?: Draw[]): Trial | undefined {
  const flow = prepare(document);
  if (!own(document.places, document.start)) return undefined;
  const run = (watch: () => Watcher) =>
    forced ? begin(flow, watch, forced)!.results : once((note) => beginOnce(flow, seeded(seed, 0), note, watch()));
  return begun(flow, seed, told(flow, undefined, { start: true }, run, forced), undefined);
}

/**
 * Begins in another place as if the game began there, or with what a returning player has kept and won: all else is as
 * it begins. Undefined where there is no such place, or nothing settles.
 */
export function beginFrom(document: FlowDocument, from: Beginning, seed = 1): Trial | undefined {
  const flow = prepare(document);
  if (!own(document.places, from.at ?? document.start)) return undefined;
  const run = (watch: () => Watcher) => once((note) => beginOnce(flow, seeded(seed, 0), note, watch(), from));
  return begun(flow, seed, told(flow, undefined, { start: true }, run), from);
}

function begun(flow: Flow, seed: number, line: Line, from: Beginning | undefined): Trial | undefined {
  return line.state && { flow, seed, lines: [line], state: line.state, madeUp: undefined, from };
}

/** What the player can do now. */
export function choicesOf({ flow, state }: Trial): Event[] {
  return eventsIn(flow, state);
}

/**
 * Does an event. Draws are made from the seed and the line, so that a trial repeats; `forced` draws instead what it
 * lists. An event that never settles is written down, and the trial stays where it was.
 */
export function act(trial: Trial, event: Event, forced?: Draw[]): Trial {
  const line = lineOf(trial, event, forced);
  return { ...trial, lines: [...trial.lines, line], state: line.state ?? trial.state };
}

/** What an event would come to now, without doing it. */
export function lineOf({ flow, state, seed, lines }: Trial, event: Event, forced?: Draw[]): Line {
  const run = (watch: () => Watcher) =>
    forced
      ? handle(flow, state, event, watch, forced).results
      : once((note) => handleOnce(flow, state, event, seeded(seed, lines.length), note, watch()));
  return told(flow, state, event, run, forced);
}

/** The different draws that an event can make now, at most `most`; none where there is nothing to draw. */
export function drawsOf({ flow, state }: Trial, event: Event, most = 100): Draw[][] {
  const { results } = handle(flow, state, event);
  return results.length < 2 ? [] : results.slice(0, most).map(({ draws }) => draws);
}

/** Goes back to just after a line; what came later is gone. */
export function rewind(trial: Trial, line: number): Trial {
  const lines = trial.lines.slice(0, line + 1);
  const state = lines.findLast((each) => each.state)?.state ?? trial.state;
  return { ...trial, lines, state, madeUp: trial.madeUp !== undefined && trial.madeUp <= line ? trial.madeUp : undefined };
}

/** Changes a value in the middle: from here on what happens is made up. */
export function withValue(trial: Trial, variable: Id, value: Value): Trial {
  const state = copyState(trial.state);
  state[trial.flow.document.variables[variable]!.scope][variable] = value;
  return { ...trial, state, madeUp: trial.madeUp ?? trial.lines.length - 1 };
}

/** The steps of a trial, as a route: playing them again leads to the same. */
export function stepsOf({ lines }: Trial): Step[] {
  return lines.map(({ step }) => step).filter((step, index) => index > 0 || step.draws);
}

/** Plays steps from the start; stops where one cannot happen, and tells how many could. */
export function playSteps(document: FlowDocument, steps: Step[], seed = 1): { trial: Trial; played: number } | undefined {
  const [first] = steps;
  const started = first && 'start' in first;
  let trial = beginTrial(document, seed, started ? first.draws : undefined);
  if (!trial) return undefined;
  const rest = started ? steps.slice(1) : steps;
  for (const [index, step] of rest.entries()) {
    const event = choicesOf(trial).find((each) => means(step, each));
    if (!event) return { trial, played: index };
    trial = act(trial, event, step.draws);
  }
  return { trial, played: rest.length };
}

/** One way, with the draws that were made on it. */
function once(run: (note: (draw: Draw) => void) => Omit<Result, 'draws'>): Result[] {
  const draws: Draw[] = [];
  return [{ ...run((draw) => draws.push(draw)), draws }];
}

/** The draws of one line: from the seed and where in the tape it stands. */
function seeded(seed: number, line: number): Pick {
  const random = randomFrom(seed * 7919 + line);
  return (options) => Math.floor(random() * options);
}

/** Writes down one way that an event goes: of several that with the draws that are wanted, else the first. */
function told(flow: Flow, before: State | undefined, step: Step, run: (watch: () => Watcher) => Result[], wanted?: Draw[]): Line {
  const lines: Line[] = [];
  const results = run(() => {
    const line = emptyLine(step, before);
    lines.push(line);
    return watcherOf(line);
  });
  const way = wanted ? results.findIndex(({ draws }) => same(draws, wanted)) : 0;
  const line = lines[Math.max(0, way)]!;
  const { state, draws } = results[Math.max(0, way)]!;
  line.state = state;
  if (draws.length > 0) line.step = { ...step, draws };
  if (before && state) noteChanges(flow, before, state, line);
  return line;
}

function emptyLine(step: Step, before: State | undefined): Line {
  return {
    step,
    place: before && active(before).place,
    bottom: before && bottom(before).place,
    fired: [],
    held: [],
    moves: [],
    entered: [],
    values: [],
    pieces: [],
    met: [],
    save: undefined,
    slot: undefined,
    stranded: [],
    state: undefined
  };
}

function watcherOf(line: Line): Watcher {
  let before: State | undefined;
  return {
    fired: ({ id, rule }, { state }) => {
      line.fired.push(id);
      before = rule.do?.some(({ at }) => at === 'hidden') ? copyState(state) : undefined;
    },
    // what becomes true is looked at all the time: only what listened to the event is worth a word
    read: ({ id, rule }, truth) => void (!truth && !('holds' in rule.when) && line.held.push(id)),
    moving: (rule, to, _, turn) => {
      line.moves.push({ rule: rule.id, to, leaving: leavingState(turn, rule, before) });
      if (rule.rule.result && bottom(turn.state).place === line.bottom) line.met.push(...metIn(turn.flow, turn.state));
    },
    entered: (place) => void line.entered.push(place),
    stranded: ({ id }) => void line.stranded.push(id)
  };
}

/** A state as its player sees it: of a rule that was about to fire, only what is not kept until the screen is covered. */
function leavingState(turn: Turn, rule: FittingRule, before: State | undefined): State {
  if (!before) return copyState(turn.state);
  // what it draws besides is drawn again, and not shown before the next place is
  const seen = new Turn(
    turn.flow,
    before,
    {},
    () => 0,
    () => {}
  );
  rule.rule.do?.forEach((effect, index) => {
    if (effect.at !== 'hidden') happen(seen, rule, effect, rule.expressions[index]);
  });
  return before;
}

function noteChanges(flow: Flow, before: State, state: State, line: Line): void {
  for (const variable of Object.keys(flow.document.variables)) {
    const [from, to] = [valueOf(flow, before, variable), valueOf(flow, state, variable)];
    if (from !== to) line.values.push({ variable, from, to });
  }
  line.save = saveOf(flow.document, before, state, line);
  if (before.slot !== state.slot) line.slot = state.slot;
  const stays = !line.entered.includes(bottom(state).place);
  const met = new Set(metIn(flow, before));
  line.met = [...new Set([...line.met, ...(stays ? metIn(flow, state) : [])])].filter((id) => !met.has(id));
  if (!stays) return;
  if (state.spot !== null && state.spot !== before.spot) line.spot = state.spot;
  const left = leftIn({ flow, state: before });
  for (const [piece, to] of Object.entries(leftIn({ flow, state })))
    if (left[piece] !== undefined && left[piece] !== to) line.pieces.push({ piece, from: left[piece], to });
}

function saveOf(document: FlowDocument, before: State, state: State, { fired }: Line): Line['save'] {
  // of another slot's nothing was lost or saved
  if (before.slot !== state.slot) return undefined;
  if (before.bookmark && !state.bookmark) return 'gone';
  const saves = fired.some((id) => findRule(document, id)?.rule.do?.some((effect) => 'save' in effect));
  if (!saves || !state.bookmark) return undefined;
  return state.bookmark === before.bookmark ? 'kept' : state.bookmark.thisRun ? 'saved' : undefined;
}

/** How many are left of what an event would use up, where the player is; 0 for what uses nothing up. */
export function leftFor({ flow, state }: { flow: Flow; state: State }, event: Event): number {
  const deed = deedOf(event);
  const map = deed && leftMap(flow, state, deed.piece);
  if (!map) return 0;
  const { pieces } = flow.document.places[bottom(state).place] as Level;
  return map[heapsOf(deed.piece, pieces[deed.piece]!)['of' in event ? (event.of ?? 0) : 0]!.key]!;
}

/** What is left of the used-up pieces of the bottom level, wherever they stand. */
export function leftIn({ flow, state }: { flow: Flow; state: State }): Record<Id, number> {
  const level = flow.document.places[bottom(state).place]!;
  if (level.kind !== 'level') return {};
  return Object.fromEntries(
    Object.entries(level.pieces).flatMap(([id, piece]) => (usedUp(piece) ? [[id, leftOf(flow, state, id)]] : []))
  );
}
