/** What an exploration says of where something can happen no more: completing, ending, leaving, getting on. */
import type { Id } from '../document/types.ts';
import { placeName } from '../words/words.ts';
import { can, edgesFrom, goes, mark, reaching, staysWithin, type Arrow, type Facts } from '../explore/facts.ts';
import type { CheckName, Reason, Verdict } from '../report/report.ts';
import { ruleNamed, verdict, withoutFault } from './verdict.ts';
import { placeKinds } from '../vocabulary/places.ts';

export function trapChecks(facts: Facts): Verdict[] {
  const bad = firstBad(facts);
  return [
    ...arrivalsCompletable(facts, bad),
    ...attemptsEnd(facts, bad.endless),
    ...neverStuck(facts, bad.stuck),
    ...movesOn(facts, bad.held),
    endingInReach(facts, bad.trapped)
  ];
}

/** The first states from which something can happen no more, by place; -1 where there is none. */
interface Bad {
  /** After arriving in a level: completing it; and of any state whether it is one of these. */
  hopeless: Int32Array;
  isHopeless(state: number): boolean;
  /** While an attempt at a level goes on: winning, losing or leaving it. In a level: entering any place. */
  endless: Int32Array;
  stuck: Int32Array;
  /** While a menu or an interlude is active: getting on from it. */
  held: Int32Array;
  /** Anywhere: reaching an ending. */
  trapped: number;
}

/** One look at all states for all questions: with many states it is the looking that takes the time. */
function firstBad(facts: Facts): Bad {
  const { flow, places, count, marks } = facts;
  const kinds = places.map((id) => flow.document.places[id]!.kind);
  const inLevel = Uint8Array.from(kinds, (kind) => Number(kind === 'level'));
  const screen = Uint8Array.from(kinds, (kind) => Number(placeKinds[kind].movesOn));
  const good = reaching(facts, goalsOf(facts, kinds));
  const none = () => new Int32Array(places.length).fill(-1);
  const isHopeless = (state: number) => (good[state]! & can.complete) === 0 && (marks[state]! & mark.arrived) !== 0;
  const bad: Bad = { hopeless: none(), isHopeless, endless: none(), stuck: none(), held: none(), trapped: -1 };
  const note = (states: Int32Array, place: number, state: number) => {
    if (states[place]! < 0) states[place] = state;
  };
  const all = can.complete | can.leave | can.enter | can.moveOn | can.end;
  for (let state = 0; state < count; state++) {
    const still = good[state]!;
    if ((still & all) === all) continue;
    const bottom = facts.bottom(state);
    if (inLevel[bottom] === 1) {
      if (isHopeless(state)) note(bad.hopeless, bottom, state);
      if ((still & can.leave) === 0 && !facts.over(state)) note(bad.endless, bottom, state);
      if ((still & can.enter) === 0) note(bad.stuck, bottom, state);
    }
    if ((still & can.moveOn) === 0) {
      const active = facts.active(state);
      if (screen[active] === 1) note(bad.held, active, state);
    }
    if ((still & can.end) === 0 && bad.trapped < 0) bad.trapped = state;
  }
  return bad;
}

/** By state: what can happen at once, with what explorers do not tell. What is not asked of it counts as possible. */
function goalsOf(facts: Facts, kinds: string[]): Uint8Array {
  const { count, looked } = facts;
  const here = Uint8Array.from(kinds, (kind) =>
    kind === 'level' ? 0 : can.complete | can.leave | (kind === 'ending' ? can.end : 0)
  );
  const goals = facts.can.slice(0, count);
  for (let state = 0; state < looked; state++) goals[state]! |= here[facts.bottom(state)]!;
  return goals;
}

function arrivalsCompletable(facts: Facts, { hopeless, isHopeless }: Bad): Verdict[] {
  return byLevel(facts, 'arrival-completable', hopeless, {
    // the same state can be come to within the level too, and sooner: the arrival itself is what is told
    at: (state) => {
      const place = facts.bottom(state);
      return facts.arrivalAt((other) => isHopeless(other) && facts.bottom(other) === place) ?? state;
    },
    fails: (name) => `After some arrivals, ${name} cannot be completed.`,
    holds: (name) => `${name} can be completed after every arrival.`,
    why: (_, level) => arrivalWhy(facts, level)
  });
}

function attemptsEnd(facts: Facts, bad: Int32Array): Verdict[] {
  return byLevel(facts, 'attempt-ends', bad, {
    fails: (name) => `In ${name} the player can reach a point from which its rules no longer win, lose or leave it.`,
    holds: (name) => `Wherever the player is in ${name}, its rules can still win, lose or leave it.`,
    why: (state) => trapWhy(facts, state, true)
  });
}

function neverStuck(facts: Facts, bad: Int32Array): Verdict[] {
  return byLevel(facts, 'never-stuck', bad, {
    fails: (name) => `The player can get stuck in ${name}: nothing leads out of it.`,
    holds: (name) => `The player never gets stuck in ${name}.`,
    why: (state) => trapWhy(facts, state)
  });
}

interface Words {
  /** What is shown of a bad state; the state itself where nothing is said. */
  at?(state: number): Arrow | number;
  fails(name: string): string;
  holds(name: string): string;
  why(state: number, level: Id): Reason[];
}

function byLevel(facts: Facts, check: CheckName, bad: Int32Array, words: Words): Verdict[] {
  const numbers = new Map(facts.places.map((id, number) => [id, number]));
  return facts.flow.levels.map(([id, { name }]) => {
    const pointer = `/places/${id}`;
    const state = bad[numbers.get(id)!]!;
    if (state >= 0)
      return verdict(check, id, 'fails', words.fails(name), {
        pointer,
        why: words.why(state, id),
        facts,
        at: words.at ? words.at(state) : state
      });
    return verdict(check, id, withoutFault(facts, facts.entered.has(id)), words.holds(name), { pointer });
  });
}

/** What the ways to complete a level say after a hopeless arrival: each with what its condition asks for. */
function arrivalWhy({ flow }: Facts, level: Id): Reason[] {
  const { goal } = flow.document.places[level] as { goal?: string };
  const completing = flow.applying(level, level).all.filter(({ rule }) => (goal === 'leave' ? rule.go : rule.result === 'won'));
  if (completing.length === 0) return [{ text: 'No rule completes it.' }];
  return completing.map(({ id }) => ({
    text: `After this arrival the rule ${ruleNamed(flow.document, id).words} can no longer fire.`,
    rule: id
  }));
}

/** The places between which the player then goes to and fro. */
export function trapWhy(facts: Facts, state: number, within = false): Reason[] {
  const places = placesFrom(facts, state, within);
  return [
    {
      text: `From there only these places can be reached: ${places.map((id) => placeName(facts.flow.document, id)).join(', ')}.`,
      places
    }
  ];
}

/** The places that are on the stack in the states that follow from one, by edges that stay `within` or by all. */
function placesFrom(facts: Facts, start: number, within: boolean): Id[] {
  const places = new Set<Id>();
  for (const state of statesFrom(facts, start, within)) for (const place of facts.stack(state)) places.add(place);
  // as they stand, not as they were found: which comes first depends on who explores
  return Object.keys(facts.flow.document.places).filter((id) => places.has(id));
}

/** The states that follow from one, itself first. */
export function statesFrom(facts: Facts, start: number, within: boolean): Set<number> {
  const seen = new Set([start]);
  for (const state of seen) {
    if (state >= facts.looked) continue;
    for (const edge of edgesFrom(facts, state)) if (!within || staysWithin(edge)) seen.add(goes(edge));
  }
  return seen;
}

function movesOn(facts: Facts, bad: Int32Array): Verdict[] {
  const { document } = facts.flow;
  return facts.places.flatMap((id, number) => {
    const { kind, name } = document.places[id]!;
    if (!placeKinds[kind].movesOn) return [];
    const pointer = `/places/${id}`;
    const state = bad[number]!;
    if (state >= 0)
      return verdict('moves-on', id, 'fails', `The player can get stuck in ${name}.`, {
        pointer,
        facts,
        at: state
      });
    return verdict('moves-on', id, withoutFault(facts, facts.entered.has(id)), `${name} always leads on.`, { pointer });
  });
}

function endingInReach(facts: Facts, trapped: number): Verdict {
  const { document } = facts.flow;
  const name: CheckName = 'ending-in-reach';
  if (facts.places.every((id) => document.places[id]!.kind !== 'ending'))
    return verdict(name, 'flow', 'fails', 'The game has no ending.');
  if (trapped >= 0) {
    const message = `From some moment in ${placeName(document, facts.places[facts.bottom(trapped)]!)} on, no ending can be reached.`;
    return verdict(name, 'flow', 'fails', message, { why: trapWhy(facts, trapped), facts, at: trapped });
  }
  if (!facts.complete) return verdict(name, 'flow', 'open', 'It is not settled whether an ending can always be reached.');
  return verdict(name, 'flow', 'holds', 'An ending can always be reached.');
}
