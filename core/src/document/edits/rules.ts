/** Edits of rules: adding, changing, moving, deleting, and wiring one place to another. */
import { change, same, type Change, type Patch } from '../patch.ts';
import { findRule, rulePointer, type FlowDocument, type Id, type Owner, type Rule } from '../types.ts';
import { ruleId } from './ids.ts';
import { fieldOperations } from './places.ts';

export type NewRule = Omit<Rule, 'id'>;

export function ownerName(document: FlowDocument, owner: Owner): string {
  if ('place' in owner) return document.places[owner.place]?.name ?? owner.place;
  return 'group' in owner ? (document.groups[owner.group]?.name ?? owner.group) : 'All levels';
}

/** Adds a rule last in its owner's list, or before the rule at `index`. */
export function addRule(document: FlowDocument, owner: Owner, rule: NewRule, index?: number): Change & { id: Id } {
  const id = ruleId(document);
  const path = `${rulePointer(owner)}/${index ?? '-'}`;
  return { ...change(document, `${ownerName(document, owner)}: add a rule`, [{ op: 'add', path, value: { id, ...rule } }]), id };
}

/** Gives a rule other parts; each part that differs is one operation, undefined takes it away. */
export function changeRule(document: FlowDocument, id: Id, rule: NewRule, label?: string): Change {
  const { owner, rule: before, index } = known(document, id);
  const base = `${rulePointer(owner)}/${index}`;
  const operations: Patch = [];
  for (const key of ['when', 'if', 'do', 'go', 'result', 'by', 'note'] as const) {
    if (!same(before[key], rule[key])) operations.push(...fieldOperations(`${base}/${key}`, before[key], rule[key]));
  }
  return change(document, label ?? `${ownerName(document, owner)}: change a rule`, operations);
}

export function removeRule(document: FlowDocument, id: Id): Change {
  const { owner, index } = known(document, id);
  return change(document, `${ownerName(document, owner)}: delete a rule`, [{ op: 'remove', path: `${rulePointer(owner)}/${index}` }]);
}

/** Moves a rule within its list, so that it is read earlier or later. */
export function moveRule(document: FlowDocument, id: Id, to: number): Change {
  const { owner, rule, index } = known(document, id);
  const list = rulePointer(owner);
  return change(document, `${ownerName(document, owner)}: read a rule ${to < index ? 'earlier' : 'later'}`, [
    { op: 'remove', path: `${list}/${index}` },
    { op: 'add', path: `${list}/${to}`, value: rule }
  ]);
}

/**
 * The rule that a pull from one place to another makes: what is likeliest for the two kinds, to be said more exactly in
 * the sentence afterwards. A level wins toward a level or a won ending, loses toward a lost ending or an interlude.
 */
export function wireRule(document: FlowDocument, from: Id, to: Id): NewRule {
  const source = document.places[from]!;
  const target = document.places[to]!;
  const go = { place: to };
  if (source.kind === 'menu') return { when: { press: target.name }, go };
  if (source.kind === 'interlude') return { when: { after: 2 }, go };
  if (source.kind === 'ending') return { when: { press: target.name }, go };
  if (target.kind === 'menu') return { when: { press: target.name }, go: { place: to, over: true } };
  const pickups = Object.entries(source.pieces).filter(([, piece]) => piece.kind === 'pickup');
  const exits = Object.entries(source.pieces).filter(([, piece]) => piece.kind === 'exit');
  const hazards = Object.entries(source.pieces).filter(([, piece]) => piece.kind === 'hazard');
  const loses = (target.kind === 'ending' && target.outcome === 'lost') || (target.kind === 'interlude' && hazards.length > 0);
  if (loses) return { when: hazards[0] ? { touch: hazards[0][0] } : { press: 'Lose' }, go, result: 'lost' };
  const when = exits[0]
    ? { touch: exits[0][0] }
    : pickups.length > 0
      ? { holds: pickups.map(([id]) => `left(${id}) = 0`).join(' and ') }
      : { press: 'Win' };
  return { when, go: target.kind === 'level' ? followed(document, from, to) : go, result: 'won' };
}

/** Toward the level that comes next anyway, "next" is meant: it stays right when the order changes. */
function followed(document: FlowDocument, from: Id, to: Id): NonNullable<Rule['go']> {
  for (const { levels, draw } of Object.values(document.orders)) {
    const at = levels.indexOf(from);
    if (draw === 'fixed' && at >= 0 && levels[at + 1] === to) return { move: 'next', else: { place: to } };
  }
  return { place: to };
}

function known(document: FlowDocument, id: Id) {
  const found = findRule(document, id);
  if (!found) throw new Error(`There is no rule ${id}.`);
  return found;
}
