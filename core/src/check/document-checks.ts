/** The checks that read the document only (docs/flow-format.md, section 6, second list). */
import { doorsOf } from '../document/doors.ts';
import { findRule, type FlowDocument, type Id, type Level } from '../document/types.ts';
import { piecesIn, variablesIn, type Expression } from '../language/ast.ts';
import { casesOf, valuesShown } from '../document/messages.ts';
import { type FittingRule } from '../play/fit.ts';
import { conditionAt } from '../play/scope.ts';
import { askedBeside, type Flow } from '../play/flow.ts';
import { placeName, ruleWords } from '../words/words.ts';
import { goalCounts, goalsPartial } from './goal-checks.ts';
import { gainsKept, lostElsewhere } from './loss-checks.ts';
import type { Reason, Verdict } from '../report/report.ts';
import {
  goodTargets,
  hidingRules,
  numbersSkipped,
  overtakenDeadlines,
  rulesHidden,
  sharedOverridden,
  waitsTooShort
} from './rule-checks.ts';
import { loads, nameNumbers, orders } from './order-checks.ts';
import { keptApart, plansFit } from './plan-checks.ts';
import { progressFalls } from './save-checks.ts';
import { plain, verdict } from './verdict.ts';
import { placeKinds } from '../vocabulary/places.ts';
import { deedOf } from '../vocabulary/triggers.ts';
import { rulesTo } from '../play/leading.ts';

/** All verdicts of the document checks. */
export function documentChecks(flow: Flow): Verdict[] {
  const hiding = hidingRules(flow);
  return [
    ...misfits(flow),
    ...signals(flow),
    ...piecesHandled(flow),
    ...entriesUsed(flow),
    ...waysBack(flow),
    ...orders(flow),
    ...nameNumbers(flow),
    ...progressFalls(flow),
    ...loads(flow),
    ...plansFit(flow),
    ...keptApart(flow),
    ...goalCounts(flow),
    ...goalsPartial(flow),
    ...variablesUsed(flow),
    ...namesUnique(flow),
    ...overtakenDeadlines(flow),
    ...rulesHidden(flow, hiding),
    ...sharedOverridden(flow, hiding),
    ...numbersSkipped(flow),
    ...waitsTooShort(flow),
    ...lostElsewhere(flow),
    ...gainsKept(flow)
  ];
}

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

function signals({ document, rules }: Flow): Verdict[] {
  const raised = new Set<Id>();
  const heard = new Set<Id>();
  for (const { rule } of rules.values()) {
    if ('hear' in rule.when) heard.add(rule.when.hear);
    for (const effect of rule.do ?? []) if ('raise' in effect) raised.add(effect.raise);
  }
  return Object.entries(document.signals).flatMap(([id, { name }]) => {
    const pointer = `/signals/${id}`;
    const [up, down] = [raised.has(id), heard.has(id)];
    return [
      plain(
        'signal-heard',
        id,
        up && !down ? `${name} is raised, but no rule hears it.` : undefined,
        `${name} is heard when it is raised.`,
        { pointer }
      ),
      plain(
        'signal-raised',
        id,
        down && !up ? `A rule waits for ${name}, but nothing raises it.` : undefined,
        `${name} is raised, and heard.`,
        { pointer }
      )
    ];
  });
}

function piecesHandled(flow: Flow): Verdict[] {
  return flow.levels.flatMap(([id, level]) => {
    const objectives = flow.objectives.filter(({ place }) => place === id);
    const handled = new Set([
      ...flow.applying(id, id).all.flatMap(piecesAsked),
      ...objectives.flatMap(({ condition }) => piecesIn(condition)),
      ...flow
        .passagesIn(id)
        .flatMap(({ condition, passage: { through = [] } }) => [...(condition ? piecesIn(condition) : []), ...through])
    ]);
    return Object.entries(level.pieces).map(([piece, { name }]) =>
      plain(
        'piece-handled',
        `${id}/${piece}`,
        handled.has(piece) ? undefined : `${name} is in ${level.name}, but no rule, objective or passage there uses it.`,
        `${level.name} uses ${name}.`,
        { pointer: `/places/${id}/pieces/${piece}` }
      )
    );
  });
}

/** The pieces in a rule's trigger and conditions. */
function piecesAsked({ rule: { when }, condition, holds }: FittingRule): Id[] {
  const deed = deedOf(when);
  return [...(deed ? [deed.piece] : []), ...[condition, holds].flatMap((text) => (text ? piecesIn(text) : []))];
}

function entriesUsed(flow: Flow): Verdict[] {
  return flow.levels.flatMap(([id, level]) => {
    const isUsed = usedEntries(flow, id);
    return Object.entries(level.entries).map(([entry, { name }]) =>
      plain(
        'entry-used',
        `${id}/${entry}`,
        isUsed(entry) ? undefined : `No rule enters ${level.name} at ${name}.`,
        `${name} of ${level.name} is used.`,
        { pointer: `/places/${id}/entries/${entry}` }
      )
    );
  });
}

/** Whether something leads to an entry of a level. */
export function usedEntries(flow: Flow, id: Id): (entry: Id) => boolean {
  const { document } = flow;
  const { entries, pieces } = document.places[id] as Level;
  const targets = [...flow.rules.values()].flatMap((rule) => goodTargets(flow, rule));
  const isVisited = document.start === id || rulesTo(document, id).length > 0;
  return (entry) => {
    const isNamed = targets.some((target) => target.entry === entry && (!('place' in target) || target.place === id));
    return isNamed || (isVisited && Object.keys(entries)[0] === entry) || pieces[entry]?.kind === 'checkpoint';
  };
}

/** Each door of a level has another side, which leads back to where it stands. */
function waysBack({ document, levels }: Flow): Verdict[] {
  return levels.map(([id, level]) => {
    const why = doorsOf(document, id).flatMap(({ side, other, wrong }): Reason[] => {
      if (other && wrong === undefined) return [];
      const there = placeName(document, side.to);
      const name = side.exit === undefined ? undefined : level.pieces[side.exit]!.name;
      const text = !other
        ? `${name ? `${name} of ${level.name}` : level.name} leads to ${there} with no way back.`
        : `The way back from ${there} through ${name} arrives at ${level.pieces[wrong!]!.name}.`;
      return [{ text, rule: side.rule.id, places: [side.to] }];
    });
    const failing =
      why.length === 0 ? undefined : why.length === 1 ? why[0]!.text : `${why.length} doors of ${level.name} do not lead back.`;
    return plain('way-back', id, failing, `Every door of ${level.name} leads back.`, {
      pointer: `/places/${id}`,
      ...(failing && { why })
    });
  });
}

function variablesUsed(flow: Flow): Verdict[] {
  const { document, rules } = flow;
  const read = new Set<Id>();
  const set = new Set<Id>();
  const note = (expression: Expression | undefined, besides?: Id) => {
    for (const id of expression ? variablesIn(expression) : []) if (id !== besides) read.add(id);
  };
  for (const { rule, condition, holds, expressions } of rules.values()) {
    note(condition);
    note(holds);
    rule.do?.forEach((effect, index) => {
      if (!('set' in effect)) return;
      set.add(effect.set);
      note(expressions[index], effect.set);
    });
  }
  for (const { condition } of [...askedBeside(flow), ...flow.passages.values()]) note(condition);
  for (const id of document.saves?.shows ?? []) read.add(id);
  for (const [place, shown] of Object.entries(document.places)) {
    for (const id of valuesShown(shown)) read.add(id);
    for (const { if: text } of casesOf(shown.message)) note(text === undefined ? text : conditionAt(document, { place }, text));
  }
  return Object.entries(document.variables).map(([id, { name }]) => {
    const faults = [read.has(id) ? '' : 'never read', set.has(id) ? '' : 'never set'].filter(Boolean);
    return plain(
      'variable-used',
      id,
      faults.length > 0 ? `${name} is ${faults.join(' and ')}.` : undefined,
      `${name} is set and read.`,
      { pointer: `/variables/${id}` }
    );
  });
}

function namesUnique({ document }: Flow): Verdict[] {
  const first = new Map<string, Id>();
  return Object.entries(document.places).map(([id, { name }]) => {
    const earlier = first.get(name);
    if (earlier === undefined) first.set(name, id);
    return plain(
      'name-unique',
      id,
      earlier === undefined ? undefined : `Two places are called ${name}.`,
      `No earlier place is called ${name}.`,
      {
        pointer: `/places/${id}`,
        ...(earlier === undefined
          ? {}
          : {
              why: [
                { text: `The ${placeKinds[document.places[earlier]!.kind].words} of this name comes first.`, places: [earlier] }
              ]
            })
      }
    );
  });
}
