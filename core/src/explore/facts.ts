/**
 * What an exploration finds out, whoever explored: the verdicts are made of this and nothing else. States are numbers
 * in the order in which they were found, breadth first, so that what was seen first was seen on a shortest route.
 */
import type { Id, Step } from '../document/types.ts';
import type { Expression } from '../language/ast.ts';
import type { Value } from '../language/evaluate.ts';
import type { Flow } from '../play/flow.ts';
import type { Large } from '../report/report.ts';

/** An event from a state: `from` is the state's number, or -1 for the start. */
export interface Arrow {
  from: number;
  step: Step;
  /** What it leads to is only that the player comes to this spot, by however many passages. */
  to?: Id;
  /** It was looked for past the limit: a shorter route to it may have been missed. */
  sought?: true;
}

/** The values a term of a condition took while the condition was false: of a number the lowest and the highest. */
export class Seen {
  private low = Infinity;
  private high = -Infinity;
  private readonly others = new Set<Value>();

  constructor(readonly expression: Expression) {}

  /** Notes a value; whether it says something new. */
  note(value: Value): boolean {
    if (typeof value === 'number') {
      if (value >= this.low && value <= this.high) return false;
      this.low = Math.min(this.low, value);
      this.high = Math.max(this.high, value);
      return true;
    }
    if (this.others.has(value)) return false;
    this.others.add(value);
    return true;
  }

  /** In one order, whichever was seen first: yes before no, choices by their ids. */
  get values(): Value[] {
    if (this.low <= this.high) return [this.low, this.high];
    return [...this.others].sort((a, b) => (a === b ? 0 : a === true || (b !== true && a < b) ? -1 : 1));
  }
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

/** Of a piece those that can be had from the same spots; where it is not kept where the player is, all that are in reach. */
export interface HeapFacts {
  /** The entries of the piece's `at` that these are of; 0 alone where it has none. */
  entries: number[];
  /** From where they can be had (`Facts.spotIn`), by a player who is up; wherever the player is where nothing is said. */
  spots?: readonly Id[] | undefined;
  /** Of a state in which the level is at the bottom, and of any where it is not renewed on arrival: how many are left. */
  left(state: number): number;
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
  enter: 8,
  /** Another place is the active one when all has settled; asked of menus and interludes alone. */
  moveOn: 16
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
  /** As many rules as fired for one event, at the most; where it is counted. */
  firings?: number;
  /** The places, by number; by state the number of the active and of the bottom one. */
  places: Id[];
  active(state: number): number;
  bottom(state: number): number;
  /** By state: whether the attempt at the bottom level is over. */
  over(state: number): boolean;
  /** The places on the stack, bottom first. */
  stack(state: number): Id[];
  /** By state: bits of `can`, by its settled and unsettled events. */
  can: Uint8Array;
  /** So many states were looked at, the first ones; what follows the others is not known. */
  looked: number;
  /** By state: bits of `mark`. */
  marks: Uint8Array;
  /**
   * The settled states that events lead to, by state that was looked at; one more says where the last ends. Those that
   * were found first from it have their numbers side by side: where these begin. The others as a list, and where its own
   * begin there: each is eight times the state's number, plus bits of `by` (see `goes`).
   */
  children: Int32Array;
  edges: Int32Array;
  edgeStarts: Int32Array;
  /** The first events at which something was seen, by place, rule, level or `place/index`. */
  entered: Map<Id, Arrow>;
  fired: Map<Id, Arrow>;
  completed: Map<Id, Arrow>;
  /** By level: an event that arrives in it afresh and then goes on to another place; by which rule. */
  passed: Map<Id, { arrow: Arrow; rule: Id }>;
  stranded: Map<Id, Arrow>;
  unsettled: Map<Id, { arrow: Arrow; rules: Id[] }>;
  unexpected: Map<string, Arrow>;
  /**
   * By `level/objective`: where it first held when all had settled there, or as the level was won; where a level was first won
   * without it, and by which rule; and those that some win there was held against.
   */
  met: Map<string, Arrow>;
  unmet: Map<string, { arrow: Arrow; rule: Id }>;
  judged: Set<string>;
  /** By rule: where it first won in an event in which an effect had removed a pickup that it counts. */
  wonByRemoval: Map<Id, Arrow>;
  /** The rules that went back to what was saved, and where one first did so to what an earlier run had saved. */
  resumed: Set<Id>;
  resumedEarlier: Map<Id, Arrow>;
  /** By rule: where it first did something with the picked slot while none was picked. */
  unpicked: Map<Id, Arrow>;
  carried: Map<Id, { arrow: Arrow; variables: Id[] }>;
  /**
   * By variable: by which rules a number beyond its range was assigned, and where first; not known of a number of which
   * the explorer took high values for one.
   */
  clamped: Map<Id, { arrow?: Arrow; rules: Set<Id> }>;
  /**
   * By `level/spot` and `level/passage`: where the player first came to it, and took it; and by `level/piece` those that were
   * touched on a passage.
   */
  stood: Map<string, Arrow>;
  walked: Map<string, Arrow>;
  touchedOnWay: Map<string, Arrow>;
  /** By rule, and by `level/passage`: whether the player was where it begins, and its condition was true. */
  rules: Map<string, RuleFacts>;
  /** What there is of a piece to be had, by the entries of its `at`. */
  heaps(level: Id, piece: Id): HeapFacts[];
  /** Of states in which a level is at the bottom: whether some player there is up; undefined where it has none to be defeated. */
  isUp(level: Id): ((state: number) => boolean) | undefined;
  /** The spot where the player is in a state, where that is kept. */
  spotIn(state: number): Id | undefined;
  /** By place: for every variable the values with which it was entered and settled. */
  arrivals: Map<Id, Map<Id, Set<Value> | { min: number; max: number }>>;
  /**
   * The first event, of all on shortest routes, that arrives afresh in a level and leads to one of some states. Undefined
   * where there is none that is known.
   */
  arrivalAt(wanted: (state: number) => boolean): Arrow | undefined;
  /** How many events the route to a state, or to what an arrow points at, has; and whether none is shorter. */
  lengthOf(at: Arrow | number): number;
  isShortest(at: Arrow | number): boolean;
  /** The steps to a state, and to what an arrow points at; a first step `start` only where something was drawn there. */
  routeToState(state: number): Step[];
  routeTo(arrow: Arrow): Step[];
}

export interface Progress {
  states: number;
  /** How many of them are still to be looked at. */
  waiting: number;
  /** Nothing has been cut so far. */
  complete: boolean;
  /** How many results of events were looked at, where each is by itself: an event with draws may have a thousand. */
  results?: number;
}

/** What is marked of a state; the lower bits are an explorer's own. */
export const mark = {
  /** It is the settled state right after a fresh arrival in its bottom level. */
  arrived: 16,
  /** From this bit on: bits of `by` of the event by which it was first found. */
  by: 32
} as const;

/** How an event leads to a state: it enters no place afresh; it begins a run; it erases all, or takes up another saved game. */
export const by = { within: 1, run: 2, all: 4 } as const;

/** Where an edge leads, its bits of `by`, and whether no place is entered afresh on the way. */
export const goes = (edge: number): number => edge >> 3;
export const goesBy = (edge: number): number => edge & 7;
export const staysWithin = (edge: number): boolean => (edge & by.within) !== 0;

/** After so many sweeps the rest is found from the goals backward, which takes more room but never longer. */
const mostSweeps = 12;
/** Which bits are asked for, and which of them only of what happens before a place is entered afresh, a run begins, all is erased. */
export interface Asked {
  all: number;
  within: number;
  run: number;
  erased: number;
}

const usual: Asked = {
  all: Object.values(can).reduce<number>((bits, bit) => bits | bit, 0),
  within: can.complete | can.leave,
  run: 0,
  erased: 0
};

/** By bits of `by`, which of the bits that are asked for go on over an edge. */
const passing = ({ within, run, erased }: Asked): number[] =>
  Array.from({ length: 8 }, (_, how) => {
    const lost = (how & by.within ? 0 : within) | (how & by.run ? run : 0) | (how & by.all ? erased : 0);
    return 255 & ~lost;
  });

/**
 * By state: what can happen from it or from some state that it leads to, as bits of `can` or others, given what can happen from
 * each itself. From states that were not looked at everything can, so that "not" is certain even when the exploration
 * was cut.
 */
export function reaching(facts: Facts, goals: Uint8Array, asked: Asked = usual): Uint8Array {
  const { looked, children, marks, edges, edgeStarts } = facts;
  const { all } = asked;
  const passes = passing(asked);
  const reached = goals.slice(0, facts.count).fill(255, looked);
  // what follows a state was mostly found after it: from the last to the first, a few sweeps settle nearly all
  for (let sweep = 0; sweep < mostSweeps; sweep++) {
    let found = 0;
    for (let state = looked - 1; state >= 0; state--) {
      const known = reached[state]!;
      let now = known;
      if ((known & all) === all) continue;
      const last = children[state + 1]!;
      for (let child = children[state]!; child < last && (now & all) !== all; child++) {
        now |= reached[child]! & passes[marks[child]! >> 5]!;
      }
      const end = edgeStarts[state + 1]!;
      for (let at = edgeStarts[state]!; at < end && (now & all) !== all; at++) {
        const edge = edges[at]!;
        now |= reached[goes(edge)]! & passes[goesBy(edge)]!;
      }
      reached[state] = now;
      found |= now & ~known;
    }
    if (found === 0) return reached;
  }
  return backward(facts, reached, passes);
}

/** The edges from a state that was looked at. */
export function* edgesFrom(
  { children, marks, edges, edgeStarts }: Pick<Facts, 'children' | 'marks' | 'edges' | 'edgeStarts'>,
  state: number
): Generator<number> {
  for (let child = children[state]!; child < children[state + 1]!; child++) {
    yield child * 8 + (marks[child]! >> 5);
  }
  yield* edges.subarray(edgeStarts[state], edgeStarts[state + 1]);
}

/** The same from what is known backward. */
function backward(facts: Facts, reached: Uint8Array, passes: number[]): Uint8Array {
  const { looked, children, edgeStarts } = facts;
  const starts = new Uint32Array(reached.length + 2);
  for (let from = 0; from < looked; from++) for (const edge of edgesFrom(facts, from)) starts[goes(edge) + 2]!++;
  for (let state = 2; state < starts.length; state++) starts[state]! += starts[state - 1]!;
  const sources = new Uint32Array(edgeStarts[looked]! + children[looked]! - children[0]!);
  for (let from = 0; from < looked; from++)
    for (const edge of edgesFrom(facts, from)) sources[starts[goes(edge) + 1]!++] = from * 8 + goesBy(edge);
  const waiting = Array.from(reached.keys());
  for (let state = waiting.pop(); state !== undefined; state = waiting.pop()) {
    for (let at = starts[state]!; at < starts[state + 1]!; at++) {
      const source = sources[at]!;
      const more = reached[state]! & passes[goesBy(source)]! & ~reached[goes(source)]!;
      if (more === 0) continue;
      reached[goes(source)]! |= more;
      waiting.push(goes(source));
    }
  }
  return reached;
}
