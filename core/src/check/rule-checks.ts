/** Checks of rules beside each other: deadlines, hidden rules, numbers that are jumped over, waits. */
import { secondsOf } from '../document/numbers.ts';
import {
  type FlowDocument,
  type Id,
  isLevel,
  type MoveTarget,
  own,
  type Seconds,
  type Target,
  targetsOf
} from '../document/types.ts';
import { same } from '../document/same.ts';
import { parts, type Expression } from '../language/ast.ts';
import { targetMisfit, type FittingRule } from '../play/fit.ts';
import type { Flow } from '../play/flow.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { placeName } from '../words/words.ts';
import { plain, ruleNamed } from './verdict.ts';

/** The targets of a rule that can resolve. */
export function goodTargets({ document }: Flow, { rule }: FittingRule): Target[] {
  return rule.go ? targetsOf(rule.go).filter((target) => !targetMisfit(document, target, '')) : [];
}

/** A deadline after which the player is surely gone hides every later one. */
export function overtakenDeadlines(flow: Flow): Verdict[] {
  const { document } = flow;
  return [...flow.rules.values()].flatMap((rule) => {
    const { when } = rule.rule;
    if (!('after' in when)) return [];
    const { owner, id } = rule;
    const seconds = ({ after }: { after: Seconds }) => secondsOf(document, after)!;
    const places =
      'place' in owner
        ? [owner.place]
        : flow.levels.map(([level]) => level).filter((level) => flow.applying(level, level).all.some((other) => other.id === id));
    const { words, pointer } = ruleNamed(document, id);
    const earlier = places.map((place) => {
      // over a level the same rules apply, save those that name pieces, which then only add to what leaves
      const bottom = place;
      return flow
        .applying(place, bottom)
        .by.after.find(
          (other) => seconds(other.rule.when as { after: Seconds }) < seconds(when) && !other.rule.if && surelyLeaves(flow, other)
        );
    });
    const failing = places.length > 0 && earlier.every((other) => other !== undefined);
    return plain(
      'overtaken-deadline',
      id,
      failing ? `The rule ${words} can never happen: the player has already left.` : undefined,
      `The rule ${words} can happen.`,
      {
        pointer,
        ...(failing
          ? { why: [{ text: `The rule ${ruleNamed(document, earlier[0]!.id).words} leaves earlier.`, rule: earlier[0]!.id }] }
          : {})
      }
    );
  });
}

/** The first or last level of a fixed order that is named is always there. */
function isEndOfFixed(document: FlowDocument, { move, order }: MoveTarget): boolean {
  const named = order === undefined ? undefined : own(document.orders, order);
  if (named?.draw !== 'fixed' || (move !== 'first' && move !== 'last')) return false;
  return isLevel(document, named.levels.at(move === 'first' ? 0 : -1)!);
}

/** Whether a rule that fires takes the player out of the place for good. */
function surelyLeaves({ document }: Flow, { rule, owner }: FittingRule): boolean {
  const sure = (target: Target | undefined): boolean => {
    if (!target || targetMisfit(document, target, '')) return false;
    if ('place' in target) return !target.over;
    // who is in a level has played one
    if (target.move === 'again' && (!('place' in owner) || isLevel(document, owner.place))) return true;
    if (isEndOfFixed(document, target)) return true;
    return sure(target.else);
  };
  return sure(rule.go);
}

/** Two rules on one event, of which the first always leaves: the second can never be read. */
export function rulesHidden(flow: Flow, hiding = hidingRules(flow)): Verdict[] {
  const { document } = flow;
  return [...flow.rules.values()].flatMap((rule) => {
    const { when } = rule.rule;
    // `holds` rules have each their own moment, and of choices only the one made is read
    if ('holds' in when || 'choose' in when) return [];
    const before = hiding.get(rule.id) ?? [];
    const first = before[0]?.by;
    const hidden = before.length > 0 && before.every(({ by }) => by !== undefined);
    const { words, pointer } = ruleNamed(document, rule.id);
    return plain(
      'rule-hidden',
      rule.id,
      hidden ? `The rule ${words} can never be read: an earlier one always leaves.` : undefined,
      `The rule ${words} is not hidden by an earlier one.`,
      {
        pointer,
        ...(hidden
          ? { why: [{ text: `The rule ${ruleNamed(document, first!.id).words} is read before it.`, rule: first!.id }] }
          : {})
      }
    );
  });
}

/** `shared-overridden`: in none of its levels a rule of the level or of its group is read before a shared one and leads away. */
export function sharedOverridden(flow: Flow, hiding = hidingRules(flow)): Verdict[] {
  const { document } = flow;
  return [...flow.rules.values()].flatMap(({ id, owner, rule: { when } }) => {
    if ('place' in owner || 'holds' in when || 'choose' in when) return [];
    const over = (hiding.get(id) ?? []).flatMap(({ place, by }) => (by && !same(by.owner, owner) ? [{ place, by }] : []));
    const { words, pointer } = ruleNamed(document, id);
    const count = `${over.length} ${over.length === 1 ? 'level' : 'levels'}`;
    const why = over.map(({ place, by }): Reason => {
      const text = `${placeName(document, place)}: the rule ${ruleNamed(document, by.id).words} is read before it and leads away.`;
      return { text, rule: by.id, places: [place] };
    });
    const failing = over.length > 0 ? `The rule ${words} is not read in ${count}.` : undefined;
    const more = { pointer, ...(over.length > 0 && { why }) };
    return plain('shared-overridden', id, failing, `The rule ${words} is read wherever it applies.`, more);
  });
}

/** A place in which a rule is read, and the first rule before it there on the same event that always leaves, if any. */
export interface ReadBehind {
  place: Id;
  by: FittingRule | undefined;
}

/** By rule the places in which it is read. */
export function hidingRules(flow: Flow): Map<Id, ReadBehind[]> {
  const hiding = new Map<Id, ReadBehind[]>();
  const triggers = new Map<string, string>();
  const triggerOf = ({ id, rule }: FittingRule, anySide = false) => {
    const key = `${id} ${anySide}`;
    let trigger = triggers.get(key);
    if (trigger === undefined)
      triggers.set(
        key,
        (trigger = JSON.stringify({ ...rule.when, key: undefined, idle: undefined, ...(anySide && { side: undefined }) }))
      );
    return trigger;
  };
  for (const place of Object.keys(flow.document.places)) {
    const leaves = new Map<string, FittingRule>();
    for (const rule of flow.applying(place, place).all) {
      const trigger = triggerOf(rule);
      // a touch from any side is one from each
      const anySide = 'side' in rule.rule.when ? leaves.get(triggerOf(rule, true)) : undefined;
      hiding.set(rule.id, [...(hiding.get(rule.id) ?? []), { place, by: leaves.get(trigger) ?? anySide }]);
      if (!rule.rule.if && !leaves.has(trigger) && surelyLeaves(flow, rule)) leaves.set(trigger, rule);
    }
  }
  return hiding;
}

/** A counter compared by "=" while its steps are too large to be sure of meeting the number. */
export function numbersSkipped(flow: Flow): Verdict[] {
  const { document } = flow;
  const steps = new Map<Id, number[]>();
  for (const { rule, expressions } of flow.rules.values()) {
    rule.do?.forEach((effect, index) => {
      const step = 'set' in effect ? stepOf(effect.set, expressions[index]!) : undefined;
      if (step) steps.set((effect as { set: Id }).set, [...(steps.get((effect as { set: Id }).set) ?? []), Math.abs(step)]);
    });
  }
  return [...flow.rules.values()].flatMap((rule) => {
    const compared = [rule.holds, rule.condition]
      .flatMap((text) => (text ? equalities(text) : []))
      .filter(({ id }) => steps.has(id));
    if (compared.length === 0) return [];
    const { words, pointer } = ruleNamed(document, rule.id);
    const why = compared.flatMap(({ id, value }): Reason[] => {
      const variable = document.variables[id]!;
      const sizes = [...new Set(steps.get(id))];
      const met = sizes.length === 1 && variable.type === 'number' && (value - variable.initial) % sizes[0]! === 0;
      return met
        ? []
        : [
            {
              text: `${variable.name} goes by ${sizes.sort((a, b) => a - b).join(' or ')} and can pass ${value} without being it; at least or at most would catch it.`
            }
          ];
    });
    return plain(
      'number-skipped',
      rule.id,
      why.length > 0 ? `The rule ${words} waits for a number that can be skipped.` : undefined,
      `The rule ${words} meets its numbers.`,
      {
        pointer,
        ...(why.length > 0 ? { why } : {})
      }
    );
  });
}

/** The step by which an expression changes its own variable: 2 for "score + 2". */
function stepOf(variable: Id, expression: Expression): number | undefined {
  if (expression.kind !== 'arithmetic' || expression.operator === '*') return undefined;
  const { left, right, operator } = expression;
  if (left.kind !== 'variable' || left.id !== variable || right.kind !== 'integer') return undefined;
  return operator === '+' ? Number(right.value) : -Number(right.value);
}

function equalities(expression: Expression): { id: Id; value: number }[] {
  return parts(expression).flatMap((part) => {
    if (part.kind !== 'compare' || part.operator !== '=') return [];
    const { left, right } = part;
    if (left.kind === 'variable' && right.kind === 'integer') return [{ id: left.id, value: Number(right.value) }];
    return right.kind === 'variable' && left.kind === 'integer' ? [{ id: right.id, value: Number(left.value) }] : [];
  });
}

/** A wait that is over before the transition that brought the player there has ended. */
export function waitsTooShort(flow: Flow): Verdict[] {
  const { document } = flow;
  const longest = new Map<Id, { seconds: number; rule: Id }>();
  for (const rule of flow.rules.values()) {
    const seconds = secondsOf(document, rule.rule.by?.in ?? 0)!;
    for (const target of goodTargets(flow, rule)) {
      if ('place' in target && seconds > (longest.get(target.place)?.seconds ?? 0))
        longest.set(target.place, { seconds, rule: rule.id });
    }
  }
  return [...flow.rules.values()].flatMap((rule) => {
    const { when } = rule.rule;
    if (!('after' in when) || !('place' in rule.owner) || !rule.rule.go) return [];
    const { words, pointer } = ruleNamed(document, rule.id);
    const found = longest.get(rule.owner.place);
    const short = found !== undefined && secondsOf(document, when.after)! < found.seconds;
    return plain(
      'wait-too-short',
      rule.id,
      short ? `The rule ${words} leaves while the place is still fading in.` : undefined,
      `The rule ${words} waits until the place is seen.`,
      {
        pointer,
        ...(short
          ? {
              why: [
                {
                  text: `The rule ${ruleNamed(document, found.rule).words} takes ${found.seconds} s to show it.`,
                  rule: found.rule
                }
              ]
            }
          : {})
      }
    );
  });
}
