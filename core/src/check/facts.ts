/**
 * What an exploration finds out, whoever explored: the verdicts are made of this and nothing else. States are numbers
 * in the order in which they were found, breadth first, so that what was seen first was seen on a shortest route.
 */
import type { Id } from '../document/types.ts';
import type { Expression } from '../language/ast.ts';
import type { Value } from '../language/evaluate.ts';
import type { Flow } from '../play/flow.ts';
import type { Large, Step } from './report.ts';

/** An event from a state: `from` is the state's number, or -1 for the start. */
export interface Arrow {
  from: number;
  step: Step;
  /** It was looked for past the limit: a shorter route to it may have been missed. */
  sought?: true;
}

/** The values a term of a condition took while the condition was false. */
export interface Seen {
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
  /** By term, printed. */
  seen: Map<string, Seen>;
}

/** What can happen from a state, by some event; bits of `Facts.can`. */
export const can = {
  /** An ending is entered. */
  end: 1,
  /** The bottom level is completed before any place is entered afresh. */
  complete: 2,
  /** A rule of the bottom level wins or loses it or enters another place afresh, before any place is entered afresh. */
  leave: 4,
  /** Some place is entered afresh. */
  enter: 8
} as const;

export interface Facts {
  flow: Flow;
  /** Nothing was cut. */
  complete: boolean;
  /** What makes there be so many, where it was cut. */
  large: Large[];
  /** How many states there are, and how many bytes they, their parents and their edges take; 0 where nobody counts. */
  count: number;
  bytes: number;
  /** How many events were run, once for each series of draws. */
  moves: number;
  /** By state: the active place, the bottom place, and whether the attempt at the bottom level is over. */
  active(state: number): Id;
  bottom(state: number): Id;
  over(state: number): boolean;
  /** The places on the stack, bottom first. */
  stack(state: number): Id[];
  /** By state: bits of `can`, by its settled and unsettled events. */
  can: Uint8Array;
  /** By state: it was looked at; what follows the others is not known. */
  expanded(state: number): boolean;
  /** By state: it is the settled state right after a fresh arrival in its bottom level. */
  arrived: Uint8Array;
  /** Calls back for every event that leads from a state to a settled one; `within`: no place was entered afresh. */
  eachEdge(visit: (from: number, to: number, within: boolean) => void): void;
  /** The first events at which something was seen, by place, rule, level or `place/index`. */
  entered: Map<Id, Arrow>;
  fired: Map<Id, Arrow>;
  completed: Map<Id, Arrow>;
  stranded: Map<Id, Arrow>;
  unsettled: Map<Id, { arrow: Arrow; rules: Id[] }>;
  unexpected: Map<string, Arrow>;
  carried: Map<Id, { arrow: Arrow; variables: Id[] }>;
  /**
   * By variable: by which rules a number beyond its range was assigned, and where first; not known of a number of which
   * the explorer took high values for one.
   */
  clamped: Map<Id, { arrow?: Arrow; rules: Set<Id> }>;
  rules: Map<Id, RuleFacts>;
  /** By place: for every variable the values with which it was entered and settled. */
  arrivals: Map<Id, Map<Id, Set<Value> | { min: number; max: number }>>;
  /** How many events the shortest route to a state, or to what an arrow points at, has. */
  lengthOf(state: number): number;
  /** The steps to a state, and to what an arrow points at; a first step `start` only where something was drawn there. */
  routeToState(state: number): Step[];
  routeTo(arrow: Arrow): Step[];
}

/** The number of events up to and with what an arrow points at. */
export function lengthTo(facts: Facts, { from }: Arrow): number {
  return from < 0 ? 0 : facts.lengthOf(from) + 1;
}

export interface Progress {
  states: number;
  /** How many of them are still to be looked at. */
  waiting: number;
  /** Nothing has been cut so far. */
  complete: boolean;
}

/**
 * By state: whether a goal is reached from it by some sequence of edges. States that were not looked at count as goals,
 * so that "not" is certain even when the exploration was cut.
 */
export function reaching(
  facts: Facts,
  goal: (state: number) => boolean,
  through: (from: number, to: number, within: boolean) => boolean = () => true
): Uint8Array {
  const { count } = facts;
  const reached = new Uint8Array(count);
  const waiting: number[] = [];
  for (let state = 0; state < count; state++) {
    if (!facts.expanded(state) || goal(state)) {
      reached[state] = 1;
      waiting.push(state);
    }
  }
  const { starts, sources } = predecessors(facts, through);
  for (let state = waiting.pop(); state !== undefined; state = waiting.pop()) {
    for (let at = starts[state]!; at < starts[state + 1]!; at++) {
      const from = sources[at]!;
      if (reached[from]) continue;
      reached[from] = 1;
      waiting.push(from);
    }
  }
  return reached;
}

/** For every state the states before it, in one array with the place where each list begins. */
function predecessors(facts: Facts, through: (from: number, to: number, within: boolean) => boolean) {
  const starts = new Uint32Array(facts.count + 2);
  facts.eachEdge((from, to, within) => {
    if (through(from, to, within)) starts[to + 2]!++;
  });
  for (let state = 2; state < starts.length; state++) starts[state]! += starts[state - 1]!;
  const sources = new Uint32Array(starts[facts.count + 1]!);
  facts.eachEdge((from, to, within) => {
    if (through(from, to, within)) sources[starts[to + 1]!++] = from;
  });
  return { starts, sources };
}
