/** Rules that are given to a group or to all levels, in place of those like them. */
import { change, together, type Change } from '../patch.ts';
import { same } from '../same.ts';
import { findRule, levelsOfOwner, rulePointer, type FlowDocument, type Id, type Owner, type Rule } from '../types.ts';
import { ownerName, removeRule } from './rules.ts';

/**
 * Gives a rule to another owner: a place's own to its group or to all levels, or back. It is read last there. Rules that
 * it takes the place of are deleted.
 */
export function giveRule(document: FlowDocument, id: Id, to: Owner, instead: Id[] = []): Change {
  const { owner, rule, index } = findRule(document, id)!;
  const label = `Move a rule from ${ownerName(document, owner)} to ${ownerName(document, to)}${instead.length > 0 ? `, in place of ${instead.length} like it` : ''}`;
  const moved = (now: FlowDocument) =>
    change(now, label, [
      { op: 'remove', path: `${rulePointer(owner)}/${index}` },
      { op: 'add', path: `${rulePointer(to)}/-`, value: rule }
    ]);
  return together(document, label, moved, ...instead.map((each) => (now: FlowDocument) => removeRule(now, each)));
}

/** The rules of an owner's levels and groups that say the same as a rule, and are not needed where it is shared. */
export const alikeRules = (document: FlowDocument, rule: Rule, owner: Owner): Id[] =>
  rulesBelow(document, owner, rule).flatMap((each) => (same(meaning(each), meaning(rule)) ? [each.id] : []));

/** All of a rule that play sees. */
const meaning = ({ id: _id, note: _note, ...rest }: Rule) => rest;

/** The rules that are read before an owner's in its levels, but for one. */
function rulesBelow(document: FlowDocument, owner: Owner, { id }: Rule): Rule[] {
  if ('place' in owner) return [];
  const levels = (levelsOfOwner(document, owner) ?? []).flatMap((level) => document.places[level]!.rules);
  const groups = 'flow' in owner ? Object.values(document.groups).flatMap(({ rules }) => rules) : [];
  return [...levels, ...groups].filter((each) => each.id !== id);
}
