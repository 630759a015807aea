/** Level selects: menus in which the player picks a level of an order, and what opens it. */
import { addRule, changeRule } from '../document/edits/rules.ts';
import { hasAll } from '../document/rule-pieces.ts';
import type { Change } from '../document/patch.ts';
import { levelsOfOwner, own, ruleLists, type FlowDocument, type Id, type Rule } from '../document/types.ts';
import { evaluate } from '../language/evaluate.ts';
import { prepare, type Flow } from '../play/flow.ts';
import { begin, candidateOf } from '../play/handle.ts';
import { bottom } from '../play/state.ts';
import { readingOf } from '../play/turn.ts';

/** How the levels of a select open. */
export type Lock = 'all' | 'in turn' | 'by group' | 'by condition';

export interface Select {
  place: Id;
  rule: Rule;
  order: Id;
  lock: Lock;
}

/** The condition by which one level opens after another: those won stay open. */
export const inTurn = 'won(it) or won(previous)';
/** Said in other words: in an order that is played from its beginning all mean the same. */
const inTurnToo = [inTurn, 'won(previous)', 'won(previous) or won(it)'];

/**
 * The condition by which the levels of a group open once all of the group before it are won; undefined where the groups
 * do not stand one behind the other in the order.
 */
export function byGroup(document: FlowDocument, order: Id): string | undefined {
  const groups = groupsInOrder(document, order);
  if (typeof groups === 'string' || groups.length < 2) return undefined;
  const opened = groups.map(({ until }, at) => {
    const before = groups[at - 1];
    return before ? `position <= ${until} and all(${before.group})` : `position <= ${until}`;
  });
  return opened.join(' or ');
}

/** Why the levels of an order cannot open group by group; undefined where they can, or where there are no groups to speak of. */
export function whyNotByGroup(document: FlowDocument, order: Id): string | undefined {
  const groups = groupsInOrder(document, order);
  return typeof groups === 'string' && Object.keys(document.groups).length > 1 ? groups : undefined;
}

/** The groups of an order one behind the other, each with the place of its last level; a text says why there are none such. */
function groupsInOrder(document: FlowDocument, order: Id): { group: Id; until: number }[] | string {
  const groups: { group: Id; until: number }[] = [];
  for (const [index, id] of document.orders[order]!.levels.entries()) {
    const place = own(document.places, id);
    const group = place?.kind === 'level' ? place.group : undefined;
    if (group === undefined || !Object.hasOwn(document.groups, group)) return `${place?.name ?? id} is in no group.`;
    const last = groups.at(-1);
    if (last?.group === group) last.until = index + 1;
    else if (groups.some((each) => each.group === group))
      return `The levels of ${document.groups[group]!.name} do not stand together.`;
    else groups.push({ group, until: index + 1 });
  }
  return groups;
}

/** Every level select of a flow. */
export function selectsOf(document: FlowDocument): Select[] {
  return [...ruleLists(document)].flatMap(({ owner, rules }) =>
    'place' in owner
      ? rules.flatMap((rule) => {
          if (!('choose' in rule.when) || !Object.hasOwn(document.orders, rule.when.choose)) return [];
          return [{ place: owner.place, rule, order: rule.when.choose, lock: lockOf(document, rule.when.choose, rule.if) }];
        })
      : []
  );
}

function lockOf(document: FlowDocument, order: Id, condition: string | undefined): Lock {
  if (condition === undefined) return 'all';
  if (inTurnToo.includes(condition.trim())) return 'in turn';
  // numbers of levels mean the same as "all" while they fit
  const named = condition.replace(/wins\((\w+)\) = (\d+)/g, (text, group: Id, levels: string) =>
    levelsOfOwner(document, { group })?.length === Number(levels) ? `all(${group})` : text
  );
  return named.trim() === byGroup(document, order) ? 'by group' : 'by condition';
}

/** Makes a menu a level select of an order. */
export function addSelect(document: FlowDocument, place: Id, order: Id, lock: 'all' | 'in turn'): Change & { id: Id } {
  const label = `${document.places[place]!.name} selects from ${document.orders[order]!.name}`;
  const rule = { when: { choose: order }, go: { move: 'chosen' as const }, ...(lock === 'in turn' ? { if: inTurn } : {}) };
  return { ...addRule(document, { place }, rule), label };
}

/** Says how the levels of a select open; a condition is a text of the language with `won(it)`, `won(previous)`, `position`. */
export function setLock(document: FlowDocument, { rule, order }: Select, condition: string | undefined): Change {
  const { id, if: _if, ...rest } = rule;
  const label = `${document.orders[order]!.name} opens ${condition === undefined ? 'at once' : condition === inTurn ? 'one after another' : condition === byGroup(document, order) ? 'group by group' : 'by a condition'}`;
  return changeRule(document, id, condition === undefined ? rest : { ...rest, if: condition }, label);
}

/**
 * The levels that are open once these are won, all values as they begin; undefined where the condition does not fit.
 * What a level needs besides levels won is then not there yet.
 */
export function openAfter(
  document: FlowDocument,
  { rule, order }: Select,
  won: Set<Id>,
  flow: Flow = prepare(document)
): Id[] | undefined {
  const fitting = flow.rules.get(rule.id);
  const state = begin(flow)?.results[0]?.state;
  if (!fitting || !state) return undefined;
  // a rule that names pieces is only there in levels that have them
  const level = own(document.places, bottom(state).place);
  if (!hasAll(level?.kind === 'level' ? level : undefined, fitting)) return undefined;
  const then = { ...state, won: Object.fromEntries([...won].map((id) => [id, true as const])) };
  return document.orders[order]!.levels.filter((level) => {
    if (!fitting.condition) return true;
    return evaluate(fitting.condition, readingOf(flow, then, candidateOf(flow, then, order, level))) === true;
  });
}
