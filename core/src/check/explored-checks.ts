/** The verdicts that an exploration gives (docs/flow-format.md, section 6, the table). */
import { findRule, own, type FlowDocument, type Id } from '../document/types.ts';
import { termsIn, type Expression } from '../language/ast.ts';
import { evaluate, type Value } from '../language/evaluate.ts';
import type { FittingRule } from '../play/fit.ts';
import { watchLast } from '../play/replay.ts';
import type { Turn, Watcher } from '../play/turn.ts';
import { conditionWords, expressionWords, placeName, ruleWords } from '../words/words.ts';
import { can, edgesFrom, goes, mark, reaching, staysWithin, type Arrow, type Facts } from '../explore/facts.ts';
import { strandedWhy, valueWord, whyNever, whyNotReached } from './reasons.ts';
import type { Arrival, CheckName, Reason, Report, Verdict } from '../report/report.ts';
import { lengthOf, ruleNamed, verdict } from './verdict.ts';
import { placeKinds } from '../vocabulary/places.ts';

export function exploredChecks(facts: Facts): Verdict[] {
  const bad = firstBad(facts);
  return [
    ...placesReached(facts),
    ...levelsCompletable(facts),
    ...overAtOnce(facts),
    ...arrivalsCompletable(facts, bad),
    ...attemptsEnd(facts, bad.endless),
    ...neverStuck(facts, bad.stuck),
    ...movesOn(facts, bad.held),
    endingInReach(facts, bad.trapped),
    ...neverStranded(facts),
    ...alwaysSettles(facts),
    ...valueChecks(facts)
  ];
}

/** Those of them that ask for values, and for rules that do not move the player. */
export function valueChecks(facts: Facts): Verdict[] {
  return [...rulesFire(facts), ...expectations(facts), ...freshStarts(facts), ...valuesClamped(facts)];
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

const levelsOf = (facts: Facts) => facts.flow.levels;
const steps = (length: number | undefined) =>
  length === 0 ? 'at the very start' : `in ${length} ${length === 1 ? 'step' : 'steps'}`;

function placesReached(facts: Facts): Verdict[] {
  const { document } = facts.flow;
  return Object.entries(document.places).map(([id, place]) => {
    const pointer = `/places/${id}`;
    const arrow = facts.entered.get(id);
    if (arrow) {
      const message = `${place.name} is reached ${steps(lengthOf(facts, arrow))}.`;
      return verdict('place-reached', id, 'holds', message, { pointer, facts, at: arrow });
    }
    if (!facts.complete)
      return verdict('place-reached', id, 'open', `It is not settled whether ${place.name} can be reached.`, { pointer });
    return verdict('place-reached', id, 'fails', `${place.name} is never reached.`, { pointer, why: whyNotReached(facts, id) });
  });
}

function levelsCompletable(facts: Facts): Verdict[] {
  const { flow } = facts;
  return levelsOf(facts).map(([id, level]) => {
    const name: CheckName = 'level-completable';
    const pointer = `/places/${id}`;
    const leave = level.goal === 'leave';
    const arrow = facts.completed.get(id);
    if (arrow) {
      const length = lengthOf(facts, arrow);
      const message = `${level.name} can be ${leave ? 'left' : 'won'}, at the soonest ${length} steps from the start.`;
      return verdict(name, id, 'holds', message, { pointer, facts, at: arrow });
    }
    const rules = flow.applying(id, id).all.filter(({ rule }) => (leave ? rule.go !== undefined : rule.result === 'won'));
    if (!leave && rules.length === 0) {
      return verdict(name, id, 'fails', `${level.name} cannot be won: no rule wins it.`, { pointer, why: asideRules(facts, id) });
    }
    if (!facts.complete)
      return verdict(name, id, 'open', `It is not settled whether ${level.name} can be completed.`, { pointer });
    if (!facts.entered.has(id))
      return verdict(name, id, 'unreached', `${level.name} is never reached, so it cannot be completed.`, { pointer });
    const why: Reason[] = rules.map(({ id: rule }) => whyNever(facts, rule));
    if (why.length === 0) why.push({ text: 'No rule leads out of it.' });
    return verdict(name, id, 'fails', `${level.name} can never be ${leave ? 'left' : 'won'}.`, { pointer, why });
  });
}

/** Rules that would win a level, were they not set aside or about pieces that it lacks. */
function asideRules({ flow }: Facts, level: Id): Reason[] | undefined {
  const { document } = flow;
  const place = document.places[level]!;
  const group = place.kind === 'level' && place.group ? (own(document.groups, place.group)?.rules ?? []) : [];
  const aside = [...place.rules, ...group, ...document.rules].filter((rule) => rule.result === 'won');
  if (aside.length === 0) return undefined;
  return aside.map((rule) => {
    const words = ruleWords(document, { place: level }, rule);
    const text = flow.rules.has(rule.id)
      ? `The rule ${words} does not apply here: it names a piece that ${place.name} lacks.`
      : `The rule ${words} is set aside, because something in it does not fit.`;
    return { text, rule: rule.id };
  });
}

/** Levels that are left in the event that enters them: with the rule, and the values that made it so. */
function overAtOnce(facts: Facts): Verdict[] {
  const { document } = facts.flow;
  return levelsOf(facts).map(([id, { name }]) => {
    const pointer = `/places/${id}`;
    const found = facts.passed.get(id);
    if (!found) {
      const outcome = otherwise(facts, facts.entered.has(id));
      return verdict('over-at-once', id, outcome, `${name} is still to be played after every arrival.`, { pointer });
    }
    const never = facts.complete && !facts.arrivals.has(id);
    const { words } = ruleNamed(document, found.rule);
    const values = valuesWhenFired(facts, found);
    const message = `${name} is over as soon as it is entered: the rule ${words} fires at once.`;
    const why = [
      { text: values ? `${values} on arrival.` : 'Nothing keeps this rule from firing on arrival.', rule: found.rule }
    ];
    return verdict('over-at-once', id, 'fails', message, {
      pointer,
      why,
      facts,
      at: found.arrow,
      ...(never && { severity: 'error' as const })
    });
  });
}

/** What the terms of a rule's conditions were when it fired at the end of the way there: "Score is 15". */
function valuesWhenFired({ flow, routeTo }: Facts, { arrow, rule: id }: { arrow: Arrow; rule: Id }): string {
  const { owner } = findRule(flow.document, id)!;
  const { holds, condition } = flow.rules.get(id)!;
  const words = watchLast(flow, routeTo(arrow), () => new TermsWhenFired(id, [holds, condition]))?.values ?? new Map();
  return [...words].map(([term, value]) => `${expressionWords(flow.document, owner, term)} is ${valueWord(value)}`).join(', ');
}

class TermsWhenFired implements Watcher {
  readonly values = new Map<Expression, Value>();

  constructor(
    private readonly id: Id,
    private readonly conditions: (Expression | undefined)[]
  ) {}

  fired({ id }: FittingRule, turn: Turn): void {
    if (id !== this.id) return;
    for (const condition of this.conditions)
      for (const term of condition ? termsIn(condition) : []) this.values.set(term, evaluate(term, turn.reading()) as Value);
  }
}

/** The outcome where no bad state was found. */
function otherwise(facts: Facts, entered: boolean): 'holds' | 'open' | 'unreached' {
  return !facts.complete ? 'open' : entered ? 'holds' : 'unreached';
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
  return levelsOf(facts).map(([id, { name }]) => {
    const pointer = `/places/${id}`;
    const state = bad[numbers.get(id)!]!;
    if (state >= 0)
      return verdict(check, id, 'fails', words.fails(name), {
        pointer,
        why: words.why(state, id),
        facts,
        at: words.at ? words.at(state) : state
      });
    return verdict(check, id, otherwise(facts, facts.entered.has(id)), words.holds(name), { pointer });
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
function trapWhy(facts: Facts, state: number, within = false): Reason[] {
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
  const seen = new Set([start]);
  for (const state of seen) {
    for (const place of facts.stack(state)) places.add(place);
    if (state >= facts.looked) continue;
    for (const edge of edgesFrom(facts, state)) if (!within || staysWithin(edge)) seen.add(goes(edge));
  }
  return [...places];
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
    return verdict('moves-on', id, otherwise(facts, facts.entered.has(id)), `${name} always leads on.`, { pointer });
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

function rulesFire(facts: Facts): Verdict[] {
  const { flow } = facts;
  return [...flow.rules.keys()].map((id) => {
    const { words, pointer } = ruleNamed(flow.document, id);
    const arrow = facts.fired.get(id);
    if (arrow) return verdict('rule-fires', id, 'holds', `The rule ${words} fires.`, { pointer, facts, at: arrow });
    if (!facts.complete)
      return verdict('rule-fires', id, 'open', `It is not settled whether the rule ${words} ever fires.`, { pointer });
    return verdict('rule-fires', id, 'fails', `The rule ${words} never fires.`, { pointer, why: [whyNever(facts, id)] });
  });
}

/** A verdict on a rule with a target that fails where an event showed it. */
function byMovingRule(
  facts: Facts,
  check: CheckName,
  fault: (id: Id) => { arrow: Arrow; why: Reason[]; variables?: Id[] } | undefined,
  fails: string,
  holds: string
): Verdict[] {
  const { flow } = facts;
  return [...flow.rules.values()].flatMap(({ id, rule }) => {
    if (!rule.go) return [];
    const { words, pointer } = ruleNamed(flow.document, id);
    const found = fault(id);
    if (found) {
      const { arrow, ...rest } = found;
      return verdict(check, id, 'fails', `The rule ${words} ${fails}.`, { pointer, ...rest, facts, at: arrow });
    }
    const outcome = otherwise(facts, facts.fired.has(id));
    return verdict(
      check,
      id,
      outcome,
      outcome === 'unreached' ? `The rule ${words} never fires.` : `The rule ${words} ${holds}.`,
      { pointer }
    );
  });
}

function neverStranded(facts: Facts): Verdict[] {
  const fault = (id: Id) => {
    const arrow = facts.stranded.get(id);
    return arrow && { arrow, why: [strandedWhy(facts, id, arrow)] };
  };
  return byMovingRule(facts, 'never-stranded', fault, 'leads nowhere', 'always leads somewhere');
}

function freshStarts(facts: Facts): Verdict[] {
  const { document } = facts.flow;
  const fault = (id: Id) => {
    const found = facts.carried.get(id);
    if (!found) return undefined;
    const why = found.variables.map((variable) => ({
      text: `${document.variables[variable]!.name} is carried over from an earlier run.`
    }));
    return { ...found, why };
  };
  return byMovingRule(
    facts,
    'fresh-start',
    fault,
    'begins a run with values left from an earlier one',
    'begins with fresh values'
  );
}

/** A score that stops counting at its bound is often meant, and sometimes the fault that nobody sees. */
function valuesClamped(facts: Facts): Verdict[] {
  const { document } = facts.flow;
  return Object.entries(document.variables).flatMap(([id, variable]) => {
    if (variable.type !== 'number') return [];
    const pointer = `/variables/${id}`;
    const found = facts.clamped.get(id);
    if (!found) {
      const outcome = facts.complete ? 'holds' : 'open';
      return verdict('value-clamped', id, outcome, `${variable.name} never leaves ${variable.min} to ${variable.max}.`, {
        pointer
      });
    }
    // as they stand, not as they were seen: which comes first depends on who explores
    const rules = [...facts.flow.rules.keys()].filter((rule) => found.rules.has(rule));
    const why = rules.map((rule) => ({ text: `The rule ${ruleNamed(document, rule).words} sets it outside this range.`, rule }));
    const message = `${variable.name} is stopped at a limit: it would leave ${variable.min} to ${variable.max}.`;
    return verdict('value-clamped', id, 'fails', message, { pointer, why, ...(found.arrow && { facts, at: found.arrow }) });
  });
}

function alwaysSettles(facts: Facts): Verdict[] {
  const { document } = facts.flow;
  return Object.entries(document.places).map(([id, { name }]) => {
    const pointer = `/places/${id}`;
    const found = facts.unsettled.get(id);
    if (found) {
      const why = found.rules.map((rule) => ({
        text: `The rule ${ruleNamed(document, rule).words} fires again and again.`,
        rule
      }));
      return verdict('always-settles', id, 'fails', `In ${name}, rules trigger each other without end.`, {
        pointer,
        why,
        facts,
        at: found.arrow
      });
    }
    return verdict('always-settles', id, otherwise(facts, facts.entered.has(id)), `In ${name}, all rules come to rest.`, {
      pointer
    });
  });
}

function expectations(facts: Facts): Verdict[] {
  const { document } = facts.flow;
  return facts.flow.expectations.map(({ place, index }) => {
    const subject = `${place}/${index}`;
    const pointer = `/places/${place}/expects/${index}`;
    const text = conditionWords(document, { place }, document.places[place]!.expects[index]!);
    const arrow = facts.unexpected.get(subject);
    if (arrow)
      return verdict('expectation', subject, 'fails', `In ${placeName(document, place)} “${text}” does not always hold.`, {
        pointer,
        facts,
        at: arrow
      });
    return verdict(
      'expectation',
      subject,
      otherwise(facts, facts.entered.has(place)),
      `In ${placeName(document, place)} “${text}” holds.`,
      { pointer }
    );
  });
}

/** With which values each place is entered: the report's `arrivals`. */
export function arrivalsOf({ arrivals, flow }: Facts): Report['arrivals'] {
  const choicesOf = (document: FlowDocument, id: Id) => (document.variables[id] as { choices?: Id[] }).choices ?? [false, true];
  return Object.fromEntries(
    Object.keys(flow.document.places)
      .filter((id) => arrivals.has(id))
      .map((place) => [
        place,
        Object.fromEntries(
          [...arrivals.get(place)!].map(([id, values]): [Id, Arrival] => [
            id,
            // in the order of the choices, so that two explorations that found the same say the same
            values instanceof Set ? { values: choicesOf(flow.document, id).filter((value) => values.has(value)) } : values
          ])
        )
      ])
  );
}
