/** Why something never happens, in the designer's words. */
import { findRule, type FlowDocument, type Id, type Owner, type Rule, type Variable } from '../document/types.ts';
import { rulesTo } from '../play/leading.ts';
import type { Value } from '../language/evaluate.ts';
import { valueNamed } from '../document/values.ts';
import { expressionWords, ownerWords, placeName, ruleWords, variableOf } from '../words/words.ts';
import type { Arrow, Facts, RuleFacts, Seen } from '../explore/facts.ts';
import type { Reason } from '../report/report.ts';
import { moves } from '../vocabulary/moves.ts';

/** Why a rule never fires; the four reasons of section 6. */
export function whyNever(facts: Facts, id: Id): Reason {
  const { document } = facts.flow;
  const { owner, rule } = findRule(document, id)!;
  const words = ruleWords(document, owner, rule);
  const read = facts.rules.get(id);
  if (!facts.flow.rules.has(id))
    return { text: `The rule ${words} is set aside, because something in it does not fit.`, rule: id };
  const stranded = facts.stranded.get(id);
  if (stranded) return strandedWhy(facts, id, stranded);
  if (!read?.present)
    return {
      text: `The rule ${words} is never read: ${ownerWords(document, owner)} is not reached.`,
      rule: id,
      never: 'place not reached'
    };
  if (!read.happened)
    return { text: `The rule ${words} waits for something that never happens.`, rule: id, never: 'trigger never happens' };
  if (read.wasFalse && !read.wasTrue) {
    const values = seenValues(document, owner, read);
    return {
      text: `The condition of the rule ${words} is never true${values ? ` (${values})` : ''}.`,
      rule: id,
      never: 'condition never true'
    };
  }
  return { text: `The rule ${words} is always overtaken: an earlier rule leaves first.`, rule: id, never: 'always overtaken' };
}

/** The values that the terms of a condition took while it was false: "Lamp collected: 0 to 7; Lives: always 3". */
export const seenValues = (document: FlowDocument, owner: Owner, { seen }: RuleFacts): string =>
  [...seen.values()].map((each) => seenWords(document, owner, each)).join('; ');

/** "Lamp collected: 0 to 7". */
function seenWords(document: FlowDocument, owner: Owner, { expression, values }: Seen): string {
  return `${expressionWords(document, owner, expression)}: ${seenValuesWords(values, variableOf(document, expression))}`;
}

export function seenValuesWords(values: Value[], variable?: Variable): string {
  if (values.every((value) => typeof value === 'number')) {
    const [low, high] = [Math.min(...values), Math.max(...values)];
    return low === high ? `always ${low}` : `${low} to ${high}`;
  }
  const names = values.map((value) => valueNamed(variable, value));
  return names.length === 1 ? `always ${names[0]}` : names.join(' or ');
}

/** Why a rule that fires leads nowhere. */
export function strandedWhy(facts: Facts, id: Id, arrow: Arrow): Reason {
  const { document } = facts.flow;
  const target = facts.flow.rules.get(id)!.rule.go!;
  const where = placeName(document, arrow.from < 0 ? document.start : facts.places[facts.bottom(arrow.from)]!);
  if ('move' in target) return { text: moves[target.move].stranded(where), rule: id };
  const over = target.over && Object.hasOwn(document.places, target.place);
  return {
    text: over ? 'Too many places are open over each other (4 at most).' : `It goes to "${target.place}", which is not a place.`,
    rule: id
  };
}

/** Why a place is never entered: nothing leads to it, or what does never fires. */
export function whyNotReached(facts: Facts, place: Id): Reason[] {
  const { document } = facts.flow;
  const leading = rulesTo(document, place);
  if (leading.length === 0) return [{ text: `No rule leads to ${placeName(document, place)}.` }];
  const reasons = leading
    .filter((rule) => !facts.fired.has(rule.id) || (facts.stranded.has(rule.id) && goesAlongDrawn(document, rule)))
    .map(({ id }) => whyNever(facts, id));
  // rules that fire but never come so far are moves along an order: what matters is where the player gets stuck in it
  if (reasons.length < leading.length) reasons.unshift(whyNotSoFar(facts, place));
  return reasons;
}

/** A rule that goes along an order which has to be drawn first. */
function goesAlongDrawn({ orders }: FlowDocument, { go }: Rule): boolean {
  if (!go || !('move' in go)) return false;
  const along = go.order === undefined ? Object.values(orders) : [orders[go.order]];
  return along.some((order) => order && order.draw !== 'fixed');
}

function whyNotSoFar(facts: Facts, place: Id): Reason {
  const { document } = facts.flow;
  for (const { name, levels } of Object.values(document.orders)) {
    const before = levels.slice(0, Math.max(0, levels.indexOf(place))).reverse();
    const last = before.find((id) => facts.entered.has(id));
    if (last !== undefined) {
      return {
        text: `It comes after ${placeName(document, last)} in ${name}, and the player never gets past it.`,
        places: [last]
      };
    }
  }
  // where a rule leads after the last level, the end of an order is what is never reached
  for (const { name, levels } of Object.values(document.orders)) {
    const last = levels.findLast((id) => facts.entered.has(id));
    const next = levels[levels.indexOf(last ?? '') + 1];
    if (last !== undefined && next !== undefined && !facts.completed.has(last))
      return {
        text: `It comes after the last level of ${name}, and the player never gets past ${placeName(document, last)}.`,
        places: [last]
      };
  }
  const otherwise = rulesTo(document, place).some(
    ({ go }) => go && 'else' in go && go.else && 'place' in go.else && go.else.place === place
  );
  return {
    text: otherwise
      ? 'A rule leads here only when there is no level to go to, and that never happens.'
      : 'The rules that could lead here always lead elsewhere.'
  };
}
