/** Which levels a relative move may lead to, as far as the document alone tells: play decides among them. */
import {
  isLevel,
  levelsOfOwner,
  own,
  ruleLists,
  targetsOf,
  type FlowDocument,
  type Id,
  type MoveTarget,
  type Owner,
  type Rule
} from '../document/types.ts';

/**
 * For each place the levels that may have been the latest when it is active: a level itself, and for a screen those from
 * which one comes to it over other screens alone.
 */
function latestLevels(document: FlowDocument): Map<Id, Set<Id>> {
  const latest = new Map<Id, Set<Id>>();
  const onward = new Map<Id, Id[]>();
  const waiting: Id[] = [];
  const add = (place: Id, levels: Iterable<Id>) => {
    const known = latest.get(place) ?? new Set();
    const before = known.size;
    for (const level of levels) known.add(level);
    latest.set(place, known);
    if (known.size > before) waiting.push(place);
  };
  for (const { owner, rules } of ruleLists(document)) {
    const sources = levelsOfOwner(document, owner);
    for (const { go } of rules) {
      for (const target of go ? targetsOf(go) : []) {
        if (!('place' in target) || !Object.hasOwn(document.places, target.place) || isLevel(document, target.place)) continue;
        if (sources) add(target.place, sources);
        else if ('place' in owner) onward.set(owner.place, [...(onward.get(owner.place) ?? []), target.place]);
      }
    }
  }
  for (let place = waiting.pop(); place !== undefined; place = waiting.pop())
    for (const next of onward.get(place) ?? []) add(next, latest.get(place)!);
  for (const id of Object.keys(document.places)) if (isLevel(document, id)) latest.set(id, new Set([id]));
  return latest;
}

/** Finds the levels a relative move of an owner's rule may lead to, in the order of the document. */
export function levelsAhead(document: FlowDocument): (owner: Owner, rule: Rule, target: MoveTarget) => Id[] {
  const latest = latestLevels(document);
  const firstOrder = Object.keys(document.orders)[0];
  const orderOf = new Map<Id, Id>();
  for (const [order, { levels }] of Object.entries(document.orders))
    for (const level of levels) if (!orderOf.has(level)) orderOf.set(level, order);
  const rank = new Map(Object.keys(document.places).map((id, index) => [id, index]));

  function along(found: Set<Id>, { move, order: named }: MoveTarget, level: Id | undefined): void {
    const order = own(document.orders, named ?? (level === undefined ? undefined : orderOf.get(level)) ?? firstOrder ?? '');
    if (!order) return;
    if (order.draw === 'bag') {
      if (move === 'next' || move === 'first') for (const id of order.levels) found.add(id);
      return;
    }
    for (const row of order.draw === 'table' ? order.rows : [order.levels]) {
      const at = level === undefined ? -1 : row.indexOf(level);
      const to = move === 'next' ? at + 1 : move === 'previous' ? at - 1 : move === 'first' ? 0 : row.length - 1;
      if (row[to] !== undefined) found.add(row[to]);
    }
  }

  return (owner, rule, target) => {
    const { move } = target;
    const before = 'place' in owner ? [...(latest.get(owner.place) ?? [])] : (levelsOfOwner(document, owner) ?? []);
    const found = new Set<Id>();
    if (move === 'chosen') {
      if ('choose' in rule.when) for (const id of own(document.orders, rule.when.choose)?.levels ?? []) found.add(id);
    } else if (move === 'again') for (const id of before) found.add(id);
    else if (move === 'resume' || move === 'load') for (const id of savedIn(document)) found.add(id);
    else if (move !== 'back') for (const level of before.length > 0 ? before : [undefined]) along(found, target, level);
    return [...found].filter((id) => isLevel(document, id)).sort((a, b) => rank.get(a)! - rank.get(b)!);
  };
}

/** The levels in which something saves. */
function savedIn(document: FlowDocument): Set<Id> {
  const found = new Set<Id>();
  for (const { owner, rules } of ruleLists(document))
    if (rules.some((rule) => rule.do?.some((effect) => 'save' in effect)))
      for (const id of levelsOfOwner(document, owner) ?? []) found.add(id);
  return found;
}
