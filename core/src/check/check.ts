/** All verdicts on a document (docs/flow-format.md, sections 6 and 8). */
import { findRule, levelsOf, own, rulePointer, type FlowDocument, type Id } from '../document/types.ts';
import { prepare, type Flow } from '../play/flow.ts';
import { bottom } from '../play/state.ts';
import { placeName, ruleWords } from '../words/words.ts';
import { explore, lengthOf, routeTo, routeToState, type Arrow, type Exploration, type Progress } from './explore.ts';
import { whyNever, whyNotReached } from './reasons.ts';
import { severities, type CheckName, type Reason, type Report, type Step, type Verdict } from './report.ts';

export interface CheckOptions {
  /** How many states to look at before verdicts that are not certain by then are left open. */
  limit?: number;
}

export const usualLimit = 200_000;

/** Checks a document of right shape. */
export function check(document: FlowDocument, options: CheckOptions = {}): Report {
  const run = checking(document, options);
  for (;;) {
    const { done, value } = run.next();
    if (done) return value;
  }
}

/** The same step by step: who drives it can show progress, pause, or stop by not going on. */
export function* checking(document: FlowDocument, { limit = usualLimit }: CheckOptions = {}): Generator<Progress, Report> {
  const flow = prepare(document);
  const checks = misfits(flow);
  const base = { format: 'crow-lane-report', version: 1, flow: document.name } as const;
  if (!own(document.places, document.start)) return { ...base, states: 0, complete: false, checks: accept(document, checks) };
  const found = yield* explore(flow, limit);
  checks.push(...placesReached(found), ...levelsCompletable(found), endingInReach(found), ...neverStranded(found));
  return { ...base, states: found.states.length, complete: found.complete, checks: accept(document, checks) };
}

function verdict(
  name: CheckName,
  subject: string,
  outcome: Verdict['outcome'],
  message: string,
  rest: Partial<Verdict> = {}
): Verdict {
  return { check: name, subject, outcome, severity: severities[name], message, ...rest };
}

function routed(route: Step[]): Pick<Verdict, 'route' | 'length'> {
  return { route, length: lengthOf(route) };
}

const evidence = (found: Exploration, arrow: Arrow) => routed(routeTo(found, arrow));

/** `reference` and `condition`: only failing verdicts, one a subject, its further misfits among the reasons. */
function misfits(flow: Flow): Verdict[] {
  const verdicts = new Map<string, Verdict>();
  for (const { check: name, subject, message, pointer, column } of flow.misfits) {
    const key = `${name} ${subject}`;
    const known = verdicts.get(key);
    if (known) known.why = [...(known.why ?? []), { text: message }];
    else verdicts.set(key, verdict(name, subject, 'fails', misfitWords(flow.document, subject, message), { pointer, column }));
  }
  return [...verdicts.values()];
}

/** A misfit of a rule says first which rule it is. */
function misfitWords(document: FlowDocument, subject: string, message: string): string {
  const found = findRule(document, subject.replace(/^rule\//, ''));
  return found ? `The rule ${ruleWords(document, found.owner, found.rule)} does not fit: ${message}` : message;
}

function placesReached(found: Exploration): Verdict[] {
  const { document } = found.flow;
  return Object.entries(document.places).map(([id, place]) => {
    const pointer = `/places/${id}`;
    const arrow = found.entered.get(id);
    if (arrow) {
      const ways = evidence(found, arrow);
      const steps = ways.length === 0 ? 'at the very start' : `in ${ways.length} ${ways.length === 1 ? 'step' : 'steps'}`;
      return verdict('place-reached', id, 'holds', `${place.name} is reached ${steps}.`, { pointer, ...ways });
    }
    if (!found.complete)
      return verdict('place-reached', id, 'open', `Not settled yet whether ${place.name} can be reached.`, { pointer });
    return verdict('place-reached', id, 'fails', `${place.name} is never reached.`, { pointer, why: whyNotReached(found, id) });
  });
}

function levelsCompletable(found: Exploration): Verdict[] {
  const { document } = found.flow;
  return levelsOf(document).map(([id, level]) => {
    const name: CheckName = 'level-completable';
    const pointer = `/places/${id}`;
    const leave = level.goal === 'leave';
    const arrow = (leave ? found.left : found.won).get(id);
    if (arrow) {
      const ways = evidence(found, arrow);
      return verdict(
        name,
        id,
        'holds',
        `${level.name} can be ${leave ? 'left' : 'won'}, at the soonest ${ways.length} steps from the start.`,
        { pointer, ...ways }
      );
    }
    const rules = found.flow.applying(id, id).all.filter(({ rule }) => (leave ? rule.go !== undefined : rule.result === 'won'));
    if (!leave && rules.length === 0) {
      const why = asideRules(found.flow, id);
      return verdict(name, id, 'fails', `${level.name} cannot be won: no rule wins it.`, { pointer, why });
    }
    if (!found.complete) return verdict(name, id, 'open', `Not settled yet whether ${level.name} can be completed.`, { pointer });
    if (!found.entered.has(id))
      return verdict(name, id, 'unreached', `${level.name} is never reached, so nobody can complete it.`, { pointer });
    const why: Reason[] = rules.map(({ id: rule }) =>
      found.stranded.has(rule) ? strandedReason(found, rule) : whyNever(found, rule)
    );
    if (why.length === 0) why.push({ text: 'No rule leads out of it.' });
    return verdict(name, id, 'fails', `${level.name} can never be ${leave ? 'left' : 'won'}.`, { pointer, why });
  });
}

/** Rules that would win a level, were they not set aside. */
function asideRules(flow: Flow, level: Id): Reason[] | undefined {
  const place = flow.document.places[level]!;
  const group = place.kind === 'level' && place.group ? (own(flow.document.groups, place.group)?.rules ?? []) : [];
  const aside = [...place.rules, ...group, ...flow.document.rules].filter((rule) => rule.result === 'won');
  if (aside.length === 0) return undefined;
  return aside.map((rule) => ({
    text: flow.rules.has(rule.id)
      ? `The rule ${ruleWords(flow.document, { place: level }, rule)} does not apply here: it names a piece that ${place.name} lacks.`
      : `The rule ${ruleWords(flow.document, { place: level }, rule)} is set aside, because something in it does not fit.`,
    rule: rule.id
  }));
}

function strandedReason(found: Exploration, id: Id): Reason {
  const { rule, owner } = found.flow.rules.get(id)!;
  return { text: `The rule ${ruleWords(found.flow.document, owner, rule)} fires, but leads nowhere.`, rule: id };
}

function endingInReach(found: Exploration): Verdict {
  const { document } = found.flow;
  const endings = Object.entries(document.places).filter(([, place]) => place.kind === 'ending');
  const name: CheckName = 'ending-in-reach';
  if (endings.length === 0) return verdict(name, 'flow', 'fails', 'The game has no ending.');
  const reaching = backward(found, (at) => {
    const place = document.places[bottom(found.states[at]!).place]!;
    return place.kind === 'ending' || found.entersEnding[at]!;
  });
  const trapped = found.states.findIndex((_, at) => !reaching[at]);
  if (trapped >= 0) {
    const places = placesFrom(found, trapped);
    const names = places.map((id) => placeName(document, id)).join(', ');
    return verdict(
      name,
      'flow',
      'fails',
      `Once in ${placeName(document, bottom(found.states[trapped]!).place)}, no ending can be reached any more.`,
      {
        why: [{ text: `From there the player only ever comes to: ${names}.`, places }],
        ...routed(routeToState(found, trapped))
      }
    );
  }
  if (!found.complete) return verdict(name, 'flow', 'open', 'Not settled yet whether an ending can always be reached.');
  return verdict(name, 'flow', 'holds', 'From everywhere in the game an ending can be reached.');
}

/**
 * By state: whether a goal is reached from it by some sequence. States that were not looked at count as goals, so that
 * "not" is certain even when the exploration was cut.
 */
function backward(found: Exploration, goal: (at: number) => boolean): Uint8Array {
  const before: number[][] = found.states.map(() => []);
  found.next.forEach((next, at) => next?.forEach((to) => before[to]!.push(at)));
  const reaching = new Uint8Array(found.states.length);
  const waiting: number[] = [];
  found.states.forEach((_, at) => {
    if (found.next[at] === undefined || goal(at)) {
      reaching[at] = 1;
      waiting.push(at);
    }
  });
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
    for (const from of before[at]!) {
      if (reaching[from]) continue;
      reaching[from] = 1;
      waiting.push(from);
    }
  }
  return reaching;
}

/** The places that are on the stack in the states that follow from one. */
function placesFrom(found: Exploration, start: number): Id[] {
  const places = new Set<Id>();
  const seen = new Set([start]);
  for (const at of seen) {
    for (const { place } of found.states[at]!.stack) places.add(place);
    for (const to of found.next[at] ?? []) seen.add(to);
  }
  return [...places];
}

function neverStranded(found: Exploration): Verdict[] {
  const { document } = found.flow;
  const name: CheckName = 'never-stranded';
  return [...found.flow.rules.values()].flatMap(({ id, rule, owner }) => {
    if (!rule.go) return [];
    const words = ruleWords(document, owner, rule);
    const pointer = pointerOf(document, id);
    const arrow = found.stranded.get(id);
    if (arrow) {
      const why = [strandedWhy(found, id, arrow)];
      return verdict(name, id, 'fails', `The rule ${words} leads nowhere.`, { pointer, why, ...evidence(found, arrow) });
    }
    if (!found.complete)
      return verdict(name, id, 'open', `Not settled yet whether the rule ${words} always leads somewhere.`, { pointer });
    if (!found.fired.has(id)) return verdict(name, id, 'unreached', `The rule ${words} never fires.`, { pointer });
    return verdict(name, id, 'holds', `The rule ${words} always leads somewhere.`, { pointer });
  });
}

function pointerOf(document: FlowDocument, rule: Id): string {
  const { owner, index } = findRule(document, rule)!;
  return `${rulePointer(owner)}/${index}`;
}

function strandedWhy(found: Exploration, id: Id, arrow: Arrow): Reason {
  const { document } = found.flow;
  const { rule } = found.flow.rules.get(id)!;
  const from = arrow.from < 0 ? document.start : bottom(found.states[arrow.from]!).place;
  const where = placeName(document, from);
  const target = rule.go!;
  const words: Record<string, string> = {
    next: `After ${where} there is no next level. Say where to go then.`,
    previous: `Before ${where} there is no level. Say where to go then.`,
    first: `The order has no first level, or nothing has been drawn.`,
    last: `The order has no last level, or nothing has been drawn.`,
    again: 'No level has been played yet that could be played again.',
    back: 'There is nothing below to go back to.',
    resume: 'Nothing has been saved yet.',
    load: 'Nothing has been saved yet.'
  };
  if ('move' in target) return { text: words[target.move] ?? 'What it names cannot be gone to.', rule: id };
  const there = own(document.places, target.place);
  return {
    text:
      there && target.over
        ? 'Too many places are open over each other (4 at most).'
        : `It goes to "${target.place}", which cannot be gone to.`,
    rule: id
  };
}

/** Marks the verdicts that the designer means to keep. */
function accept(document: FlowDocument, checks: Verdict[]): Verdict[] {
  for (const { check: name, subject, reason } of document.accepted) {
    const found = checks.find((each) => each.check === name && each.subject === subject && each.outcome === 'fails');
    if (found) found.accepted = reason;
  }
  return checks;
}
