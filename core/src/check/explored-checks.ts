/** The verdicts that an exploration gives (docs/flow-format.md, section 6, the table). */
import { own, type FlowDocument, type Id } from '../document/types.ts';
import { conditionWords, placeName, ruleWords } from '../words/words.ts';
import type { Arrow, Facts } from '../explore/facts.ts';
import { mostTicks } from '../play/flow.ts';
import { objectivesMet, objectivesNeeded, wonByRemoval } from './objective-checks.ts';
import { groundChecks } from './ground-checks.ts';
import { pieceChecks } from './piece-checks.ts';
import { freshSaves, slotsPicked } from './save-checks.ts';
import { overAtOnce } from './over-at-once.ts';
import { trapChecks } from './trap-checks.ts';
import { strandedWhy, whyNever, whyNotReached } from './reasons.ts';
import type { Arrival, CheckName, Reason, Report, Verdict } from '../report/report.ts';
import { ruleNamed, verdict, withoutFault } from './verdict.ts';

export function exploredChecks(facts: Facts): Verdict[] {
  return [
    ...placesReached(facts),
    ...levelsCompletable(facts),
    ...overAtOnce(facts),
    ...objectivesMet(facts),
    ...objectivesNeeded(facts),
    ...wonByRemoval(facts),
    ...trapChecks(facts),
    ...neverStranded(facts),
    ...alwaysSettles(facts),
    ...freshSaves(facts),
    ...slotsPicked(facts),
    ...groundChecks(facts),
    ...valueChecks(facts)
  ];
}

/** Those of them that ask for values and pieces, and for rules that do not move the player. */
export function valueChecks(facts: Facts): Verdict[] {
  return [...rulesFire(facts), ...expectations(facts), ...freshStarts(facts), ...valuesClamped(facts), ...pieceChecks(facts)];
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
      const message = `${place.name} is reached ${steps(facts.lengthOf(arrow))}.`;
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
      const length = facts.lengthOf(arrow);
      const soonest = facts.isShortest(arrow) ? 'at the soonest ' : '';
      const message = `${level.name} can be ${leave ? 'left' : 'won'}, ${soonest}${length} steps from the start.`;
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
    const outcome = withoutFault(facts, facts.fired.has(id));
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
    const free = facts.flow.applying(id, id).ticksFree
      ? ` Its clocks tick at any time: more than ${mostTicks} ticks lie before its last deadline.`
      : '';
    const message = `In ${name}, all rules come to rest.${free}`;
    return verdict('always-settles', id, withoutFault(facts, facts.entered.has(id)), message, { pointer });
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
      withoutFault(facts, facts.entered.has(place)),
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
