/** Which rules are read in a place, and in which order: what the views show of sections 3 and 4. */
import { countedIn, piecesIn, type Expression } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { piecesAtHand } from './fit.ts';
import { same } from '../document/patch.ts';
import { deedOf } from '../vocabulary/triggers.ts';
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
    ...shared.filter(({ rule, owner }) => piecesNamed(document, owner, rule).every((piece) => Object.hasOwn(place.pieces, piece)))
  ];
}

/** The next rule of the same list on the same trigger: which of the two is read first then matters. */
export function readBefore(rules: Rule[], index: number): Rule | undefined {
  const { when } = rules[index]!;
  // two rules on arrival of which the first stays both happen, one after the other
  return rules.slice(index + 1).find((rule) => same(rule.when, when) && !('arrive' in rule.when && !rule.go));
}

/** Rules are never changed once they are made. */
const named = new WeakMap<Rule, { pieces: Id[]; counted: Id[] }>();

/** The pieces that a rule names in trigger, conditions and expressions; a text that cannot be read names none. */
export function piecesNamed(document: FlowDocument, owner: Owner, rule: Rule): Id[] {
  let found = named.get(rule);
  if (!found) {
    const { when } = rule;
    const texts = [
      rule.if,
      'holds' in when ? when.holds : undefined,
      ...(rule.do ?? []).map((each) => ('to' in each ? each.to : undefined))
    ];
    const trees = texts.flatMap((text) => (text === undefined ? [] : tried(text)));
    found = {
      pieces: [...(deedOf(when) ? [deedOf(when)!.piece] : []), ...trees.flatMap(piecesIn)],
      counted: trees.flatMap(countedIn)
    };
    named.set(rule, found);
  }
  if (found.counted.length === 0) return found.pieces;
  // all(x) asks for a piece where there is one of this name, else for the levels of a group or an order
  const at = new Set(piecesAtHand(document, owner).map(([id]) => id));
  return [...found.pieces, ...found.counted.filter((id) => at.has(id))];
}

function tried(text: string): Expression[] {
  try {
    return [parse(text)];
  } catch {
    return [];
  }
}
