/** Which rules can lead to a place, as far as the document says so. */
import { findRule, ruleLists, targetsOf, type FlowDocument, type Id, type MoveTarget, type Rule } from '../document/types.ts';

const leading = new WeakMap<FlowDocument, Map<Id, Rule[]>>();

/** The rules that can lead to a place: by naming it, and for a level in an order by a relative move or a choice. */
export function rulesTo(document: FlowDocument, place: Id): Rule[] {
  let map = leading.get(document);
  if (!map) leading.set(document, (map = rulesByTarget(document)));
  return map.get(place) ?? [];
}

function rulesByTarget(document: FlowDocument): Map<Id, Rule[]> {
  const map = new Map<Id, Rule[]>();
  const add = (place: Id, rule: Rule) => {
    const list = map.get(place);
    if (!list) map.set(place, [rule]);
    else if (list.at(-1) !== rule) list.push(rule);
  };
  const listed = (order: Id | undefined) =>
    order === undefined ? Object.values(document.orders).flatMap(({ levels }) => levels) : (document.orders[order]?.levels ?? []);
  for (const { rules } of ruleLists(document)) {
    for (const rule of rules) {
      for (const target of rule.go ? targetsOf(rule.go) : []) {
        if ('place' in target) add(target.place, rule);
        else if (target.move === 'chosen')
          listed('choose' in rule.when ? rule.when.choose : '').forEach((level) => add(level, rule));
        else if (target.move === 'first' || target.move === 'last') listed(target.order).forEach((level) => add(level, rule));
        else if (target.move === 'next' || target.move === 'previous')
          followers(document, rule, target).forEach((level) => add(level, rule));
      }
    }
  }
  return map;
}

/** Where a rule's step along an order can lead: of a level's own rule its neighbour in a fixed order, else any level listed. */
function followers(document: FlowDocument, rule: Rule, target: MoveTarget): Id[] {
  const { owner } = findRule(document, rule.id)!;
  const orders =
    target.order === undefined
      ? Object.values(document.orders)
      : Object.hasOwn(document.orders, target.order)
        ? [document.orders[target.order]!]
        : [];
  return orders.flatMap(({ levels, draw }) => {
    const at = 'place' in owner ? levels.indexOf(owner.place) : -1;
    if (draw !== 'fixed' || at < 0) return levels;
    const neighbour = levels[target.move === 'next' ? at + 1 : at - 1];
    return neighbour === undefined ? [] : [neighbour];
  });
}
