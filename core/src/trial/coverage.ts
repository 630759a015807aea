/** What the recorded runs of a document have used, and runs that use what they have not. */
import { checking, type CheckOptions } from '../check/check.ts';
import type { Progress } from '../explore/facts.ts';
import { ruleId } from '../document/edits/ids.ts';
import {
  findRule,
  isLevel,
  levelsOfOwner,
  own,
  ruleLists,
  targetsOf,
  type FlowDocument,
  type Id,
  type Owner,
  type Rule,
  type Step
} from '../document/types.ts';
import { prepare } from '../play/flow.ts';
import { bottom } from '../play/state.ts';
import { metIn } from './objectives.ts';
import { trialOf } from './runs.ts';
import { playSteps } from './trial.ts';

/** A control of a place, or of all levels of a group or the flow. */
export interface Button {
  owner: Owner;
  label: string;
  /** The first rule that listens to it. */
  rule: Id;
}

/** A rule that leads from one level, by name, into another. */
export interface LevelMove {
  rule: Id;
  from: Id;
  to: Id;
}

/** What there is to use, and of that what no run uses as far as the runs go now. */
export interface Coverage {
  places: Id[];
  rules: Id[];
  buttons: Button[];
  doors: LevelMove[];
  /** By their keys, level/objective: those that fit. */
  objectives: Id[];
  /** By their keys, level/spot and level/passage: where the player can come to inside levels, and how. */
  spots: string[];
  passages: string[];
}

/** Everything that a run can use. */
export function usable(document: FlowDocument): Coverage {
  const found: Coverage = {
    places: Object.keys(document.places),
    rules: [],
    buttons: [],
    doors: [],
    objectives: [],
    spots: [],
    passages: []
  };
  for (const { owner, rules } of ruleLists(document)) {
    for (const rule of rules) {
      found.rules.push(rule.id);
      const { when } = rule;
      if ('press' in when && !found.buttons.some((each) => each.label === when.press && sameOwner(each.owner, owner)))
        found.buttons.push({ owner, label: when.press, rule: rule.id });
      for (const from of levelsOfOwner(document, owner) ?? [])
        for (const to of levelsNamed(document, rule)) if (to !== from) found.doors.push({ rule: rule.id, from, to });
    }
  }
  const { objectives, passages, levels } = prepare(document);
  found.objectives = objectives.map(({ key }) => key);
  found.passages = [...passages.keys()];
  found.spots = levels.flatMap(([level, { spots }]) => Object.keys(spots).map((spot) => `${level}/${spot}`));
  return found;
}

/** The levels that a rule leads to by name. */
const levelsNamed = (document: FlowDocument, { go }: Rule): Id[] =>
  go ? targetsOf(go).flatMap((target) => ('place' in target && isLevel(document, target.place) ? [target.place] : [])) : [];

const keyOfOwner = (owner: Owner): string =>
  'place' in owner ? `place ${owner.place}` : 'group' in owner ? `group ${owner.group}` : 'flow';
const sameOwner = (a: Owner, b: Owner) => keyOfOwner(a) === keyOfOwner(b);

/** Of everything that a run can use what none uses. */
export function uncovered(document: FlowDocument): Coverage {
  const flow = prepare(document);
  const [places, rules, buttons, doors] = [new Set<Id>(), new Set<Id>(), new Set<string>(), new Set<string>()];
  const [objectives, spots, passages] = [new Set<string>(), new Set<string>(), new Set<string>()];
  for (const run of Object.values(document.runs)) {
    for (const { step, bottom: level, entered, fired, moves, met, state } of trialOf(document, run)?.lines ?? []) {
      for (const place of entered) places.add(place);
      for (const rule of fired) {
        rules.add(rule);
        if ('press' in step) buttons.add(`${keyOfOwner(findRule(document, rule)!.owner)} ${step.press}`);
      }
      if ('walk' in step) passages.add(`${level}/${step.walk}`);
      if (state?.spot) spots.add(`${bottom(state).place}/${state.spot}`);
      for (const { rule, to } of moves) doors.add(`${rule} ${level} ${to}`);
      // also what is so on arrival, which no line is about
      for (const objective of met) objectives.add(`${level}/${objective}`);
      if (state) for (const objective of metIn(flow, state)) objectives.add(`${bottom(state).place}/${objective}`);
    }
  }
  const all = usable(document);
  return {
    places: all.places.filter((id) => !places.has(id)),
    rules: all.rules.filter((id) => !rules.has(id)),
    buttons: all.buttons.filter(({ owner, label }) => !buttons.has(`${keyOfOwner(owner)} ${label}`)),
    doors: all.doors.filter(({ rule, from, to }) => !doors.has(`${rule} ${from} ${to}`)),
    objectives: all.objectives.filter((key) => !objectives.has(key)),
    spots: all.spots.filter((key) => !spots.has(key)),
    passages: all.passages.filter((key) => !passages.has(key))
  };
}

/** What a run is asked to use: a place, if wanted where a condition holds, an objective that is met, a spot or a passage of a level, or a rule, if wanted while a certain level is played. */
export type RunUse =
  { place: Id; if?: string } | { objective: Id } | { spot: string } | { passage: string } | { rule: Id; level?: Id };

/**
 * A shortest route that uses something; undefined when there is none, or when none was found within the limit. That a
 * shared rule fires in one certain level is asked of a probe: a rule of that level with the same trigger and condition,
 * read last of its own, which does nothing; the route is then played to see that the shared rule itself fired.
 */
export function* routeToUse(
  document: FlowDocument,
  use: RunUse,
  options: CheckOptions = {}
): Generator<Progress, Step[] | undefined> {
  if ('place' in use && use.if !== undefined) {
    // a control that is not there asks, and is not used in the end
    const asking: Rule = { id: ruleId(document), when: { press: 'asked' }, if: use.if };
    const route = yield* routeOf(withRule(document, use.place, asking), 'rule-fires', asking.id, options);
    return route?.slice(0, -1);
  }
  if ('place' in use) return yield* routeOf(document, 'place-reached', use.place, options);
  if ('objective' in use) return yield* routeOf(document, 'objective-met', use.objective, options);
  if ('spot' in use) return yield* routeOf(document, 'spot-reached', use.spot, options);
  if ('passage' in use) return yield* routeOf(document, 'passage-walked', use.passage, options);
  const found = findRule(document, use.rule);
  if (!found) return undefined;
  const ofLevel = use.level === undefined || ('place' in found.owner && found.owner.place === use.level);
  if (ofLevel) return yield* routeOf(document, 'rule-fires', use.rule, options);
  const place = own(document.places, use.level!);
  if (!place) return undefined;
  const probe: Rule = { id: ruleId(document), when: found.rule.when, ...(found.rule.if ? { if: found.rule.if } : {}) };
  const route = yield* routeOf(withRule(document, use.level!, probe), 'rule-fires', probe.id, options);
  const last = route && playSteps(document, route)?.trial.lines.at(-1);
  return last?.fired.includes(use.rule) ? route : undefined;
}

/** The document with one rule more, read last of a place's own. */
const withRule = (document: FlowDocument, id: Id, rule: Rule): FlowDocument => {
  const place = document.places[id]!;
  return { ...document, places: { ...document.places, [id]: { ...place, rules: [...place.rules, rule] } } };
};

function* routeOf(document: FlowDocument, check: string, subject: Id, options: CheckOptions) {
  const { checks } = yield* checking(document, { ...options, firstGame: false });
  const verdict = checks.find((each) => each.check === check && each.subject === subject);
  return verdict?.outcome === 'holds' ? verdict.route : undefined;
}
