/**
 * The plain exploration: every state that can be reached, breadth first, on `play` itself. Whatever is seen first is
 * seen on a shortest route. It is slow and obviously right.
 */
import type { Id } from '../document/types.ts';
import { parts, type Expression } from '../language/ast.ts';
import { print } from '../language/print.ts';
import { evaluate, type Value } from '../language/evaluate.ts';
import { eventsIn } from '../play/events.ts';
import type { FittingRule } from '../play/fit.ts';
import type { Flow } from '../play/flow.ts';
import { begin, handle, type Result } from '../play/handle.ts';
import { bottom, keyOf, type State } from '../play/state.ts';
import type { Event, Turn, Watcher } from '../play/turn.ts';
import type { Step } from './report.ts';

/** An event from a state: `from` is the state's index, or -1 for the start. */
export interface Arrow {
  from: number;
  step: Step;
}

/** The values a term of a condition took while the condition was false. */
export interface Seen {
  term: string;
  expression: Expression;
  values: Set<Value>;
}

/** What is known of a rule from all readings of it. */
export interface RuleFacts {
  /** A place in which it applies was entered. */
  present: boolean;
  /** Its trigger happened there. */
  happened: boolean;
  /** It was read, or offered, and what its conditions were. */
  wasTrue: boolean;
  wasFalse: boolean;
  seen: Map<string, Seen>;
}

export interface Exploration {
  flow: Flow;
  states: State[];
  /** By state: the event that led to it first. */
  parents: Arrow[];
  /** By state: the states that follow, one for each event and series of draws; undefined where the limit cut. */
  next: (number[] | undefined)[];
  /** By state: an event from it enters an ending. */
  entersEnding: boolean[];
  /** Nothing was cut. */
  complete: boolean;
  /** The first events at which something was seen. */
  entered: Map<Id, Arrow>;
  fired: Map<Id, Arrow>;
  won: Map<Id, Arrow>;
  left: Map<Id, Arrow>;
  stranded: Map<Id, Arrow>;
  rules: Map<Id, RuleFacts>;
}

export interface Progress {
  states: number;
  /** How many of them are still to be looked at. */
  waiting: number;
}

/** Explores up to `limit` states. A generator, so that its driver can show progress, pause or stop. */
export function* explore(flow: Flow, limit: number): Generator<Progress, Exploration> {
  const found: Exploration = {
    flow,
    states: [],
    parents: [],
    next: [],
    entersEnding: [],
    complete: true,
    entered: new Map(),
    fired: new Map(),
    won: new Map(),
    left: new Map(),
    stranded: new Map(),
    rules: new Map()
  };
  const index = new Map<string, number>();
  const add = ({ state, draws }: Result, arrow: Arrow): number => {
    const key = keyOf(state!);
    const known = index.get(key);
    if (known !== undefined) return known;
    const at = found.states.length;
    index.set(key, at);
    found.states.push(state!);
    found.parents.push(withDraws(arrow, draws));
    found.next.push(undefined);
    found.entersEnding.push(false);
    return at;
  };
  const follow = (from: number, run: (watch: () => Watcher) => { results: Result[]; cut: boolean } | undefined, step: Step) => {
    const notes: Note[] = [];
    const outcome = run(() => {
      const note = new Note(flow, found.rules);
      notes.push(note);
      return note;
    });
    if (!outcome) return;
    if (outcome.cut) found.complete = false;
    outcome.results.forEach((result, way) => {
      const arrow = withDraws({ from, step }, result.draws);
      notes[way]!.settle(found, arrow);
      if (result.state) {
        const at = add(result, { from, step });
        if (from >= 0) found.next[from]!.push(at);
      }
    });
  };

  follow(-1, (watch) => begin(flow, watch), { start: true });
  if (!Object.hasOwn(flow.document.places, flow.document.start)) found.complete = false;
  for (let at = 0; at < found.states.length; at++) {
    if (found.states.length >= limit) {
      found.complete = false;
      break;
    }
    const state = found.states[at]!;
    found.next[at] = [];
    const events = eventsIn(flow, state, (rule, _level, offered) => offerSeen(found.rules, rule, offered));
    for (const event of events) follow(at, (watch) => handle(flow, state, event, watch), stepOf(events, event));
    if (at % 256 === 255) yield { states: found.states.length, waiting: found.states.length - at };
  }
  return found;
}

/** The shortest route to an event: the steps to its state, then the event itself. */
export function routeTo(found: Exploration, arrow: Arrow): Step[] {
  const steps = arrow.from < 0 && !arrow.step.draws ? [] : [arrow.step];
  for (let at = arrow.from; at >= 0; at = found.parents[at]!.from) {
    const parent = found.parents[at]!;
    if (parent.from >= 0 || parent.step.draws) steps.unshift(parent.step);
  }
  return steps;
}

/** The route to a state. */
export function routeToState(found: Exploration, at: number): Step[] {
  return routeTo(found, found.parents[at]!);
}

export function lengthOf(route: Step[]): number {
  return route.filter((step) => !('start' in step)).length;
}

function withDraws({ from, step }: Arrow, draws: Result['draws']): Arrow {
  return draws.length > 0 ? { from, step: { ...step, draws } } : { from, step };
}

/** The rule is named only where two rules offer the same level. */
function stepOf(events: Event[], event: Event): Step {
  if (!('choose' in event)) return event;
  const offers = events.filter((other) => 'choose' in other && other.choose === event.choose);
  return offers.length > 1 ? event : { choose: event.choose };
}

function factsOf(rules: Map<Id, RuleFacts>, id: Id): RuleFacts {
  let facts = rules.get(id);
  if (!facts) rules.set(id, (facts = { present: false, happened: false, wasTrue: false, wasFalse: false, seen: new Map() }));
  return facts;
}

function offerSeen(rules: Map<Id, RuleFacts>, rule: FittingRule, offered: boolean): void {
  const facts = factsOf(rules, rule.id);
  facts.happened = true;
  if (offered) facts.wasTrue = true;
  else facts.wasFalse = true;
}

/** Watches one way of one event. What it sees counts only once it is known which event it was. */
class Note implements Watcher {
  private readonly placesEntered: Id[] = [];
  private readonly rulesFired: Id[] = [];
  private readonly levelsWon: Id[] = [];
  private readonly levelsLeft: Id[] = [];
  private readonly rulesStranded: Id[] = [];

  constructor(
    private readonly flow: Flow,
    private readonly rules: Map<Id, RuleFacts>
  ) {}

  happens(rules: FittingRule[]): void {
    for (const { id } of rules) factsOf(this.rules, id).happened = true;
  }

  read(rule: FittingRule, truth: boolean, turn: Turn): void {
    const facts = factsOf(this.rules, rule.id);
    if (truth) facts.wasTrue = true;
    else {
      facts.wasFalse = true;
      if (!facts.wasTrue) noteValues(facts, rule, turn);
    }
  }

  fired({ id }: FittingRule): void {
    this.rulesFired.push(id);
  }

  moving(rule: FittingRule, to: Id | null, afresh: boolean, turn: Turn): void {
    if (rule.rule.result === 'won') this.levelsWon.push(bottom(turn.state).place);
    if (afresh && turn.state.stack.length === 1 && to !== bottom(turn.state).place)
      this.levelsLeft.push(bottom(turn.state).place);
  }

  entered(place: Id, _afresh: boolean, turn: Turn): void {
    this.placesEntered.push(place);
    for (const rule of turn.applying().all) {
      const facts = factsOf(this.rules, rule.id);
      facts.present = true;
      if (rule.holds) facts.happened = true;
    }
  }

  stranded({ id }: FittingRule): void {
    this.rulesStranded.push(id);
  }

  settle(found: Exploration, arrow: Arrow): void {
    const first = (map: Map<Id, Arrow>, ids: Id[]) => ids.forEach((id) => map.has(id) || map.set(id, arrow));
    first(found.entered, this.placesEntered);
    first(found.fired, this.rulesFired);
    first(found.won, this.levelsWon);
    first(found.left, this.levelsLeft);
    first(found.stranded, this.rulesStranded);
    if (arrow.from >= 0 && this.placesEntered.some((id) => this.flow.document.places[id]!.kind === 'ending'))
      found.entersEnding[arrow.from] = true;
  }
}

const mostValues = 64;

/** Notes what the terms of a false condition were, to be able to say later why it never held. */
function noteValues(facts: RuleFacts, rule: FittingRule, turn: Turn): void {
  for (const condition of [rule.condition, rule.holds]) {
    if (!condition) continue;
    for (const expression of parts(condition)) {
      if (!['variable', 'left', 'taken', 'won', 'wins'].includes(expression.kind)) continue;
      const term = print(expression);
      let seen = facts.seen.get(term);
      if (!seen) facts.seen.set(term, (seen = { term, expression, values: new Set() }));
      if (seen.values.size < mostValues) seen.values.add(evaluate(expression, turn.reading()) as Value);
    }
  }
}
