/** Which rules are read in a place, and in which order: what the views show of sections 3 and 4. */
import { piecesAtHand } from './scope.ts';
import { same } from '../document/same.ts';
import { hasAll, piecesOfRule } from '../document/rule-pieces.ts';
import { own, type FlowDocument, type Id, type Owner, type Rule } from '../document/types.ts';

/** A rule where it stands: `index` of the `count` rules of its owner. */
export interface ReadRule {
  owner: Owner;
  rule: Rule;
  index: number;
  count: number;
  /** Whether it is a group's or the flow's. */
  shared: boolean;
}

/** The rules read in a place in reading order: its own, its group's, the flow's; those about pieces it lacks left out. */
export function rulesReadIn(document: FlowDocument, id: Id): ReadRule[] {
  const place = document.places[id]!;
  const of = (owner: Owner, rules: Rule[], shared: boolean): ReadRule[] =>
    rules.map((rule, index) => ({ owner, rule, index, count: rules.length, shared }));
  const its = of({ place: id }, place.rules, false);
  if (place.kind !== 'level') return its;
  const group = place.group === undefined ? undefined : own(document.groups, place.group);
  const shared = [...(group ? of({ group: place.group! }, group.rules, true) : []), ...of({ flow: true }, document.rules, true)];
  return [
    ...its,
    ...shared.filter(({ rule, owner }) => hasAll(place, { ...piecesOfRule(rule), pieces: piecesNamed(document, owner, rule) }))
  ];
}

/** The next rule of the same list on the same trigger: which of the two is read first then matters. */
export function readBefore(rules: Rule[], index: number): Rule | undefined {
  const { when } = rules[index]!;
  // two rules on arrival of which the first stays both happen, one after the other
  return rules.slice(index + 1).find((rule) => same(rule.when, when) && !('arrive' in rule.when && !rule.go));
}

/** The pieces that a rule names where it stands. */
export function piecesNamed(document: FlowDocument, owner: Owner, rule: Rule): Id[] {
  const { pieces, counted } = piecesOfRule(rule);
  if (counted.length === 0) return pieces;
  // all(x) asks for a piece where there is one of this name, else for the levels of a group or an order
  const at = new Set(piecesAtHand(document, owner).map(([id]) => id));
  return [...pieces, ...counted.filter((id) => at.has(id))];
}
