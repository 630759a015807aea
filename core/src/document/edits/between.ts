/** A place that is put into the way between others. */
import { change, together, type Change } from '../patch.ts';
import { findRule, isLevel, targetsOf, type FlowDocument, type Id, type PlaceTarget, type Rule, type Target } from '../types.ts';
import { addRule, changeRule, likelyRule, wireRule, type NewRule } from './rules.ts';

/**
 * Puts a place into the way of some rules: what led to `to` leads to the place, and the place leads on as they did. With
 * `to` undefined, or where a relative move leads there, the rule's whole target is what moves. Rules that lead nowhere
 * else than the place are left alone.
 */
export function insertPlace(document: FlowDocument, rules: Id[], to: Id | undefined, place: Id): Change {
  const found = rules.flatMap((id) => findRule(document, id) ?? []).filter(({ rule }) => rule.go);
  let onward: Target | undefined;
  const edits = found.map(({ rule }) => {
    const { go, moved } = redirected(document, rule, to, place);
    onward ??= moved;
    const { id, ...rest } = rule;
    return (now: FlowDocument) => changeRule(now, id, { ...rest, go });
  });
  const name = document.places[place]!.name;
  const label = to === undefined ? `Insert ${name}` : `Put ${name} before ${document.places[to]!.name}`;
  if (!onward) return change(document, label, []);
  const goes = onward;
  const leads = document.places[place]!.rules.some(
    ({ go }) => go && targetsOf(go).some((target) => 'place' in target && target.place === to)
  );
  const likely = to === undefined ? leadingOn(document, place) : wireRule(document, place, to);
  return together(
    document,
    label,
    ...edits,
    ...(leads ? [] : [(now: FlowDocument) => addRule(now, { place }, { ...likely, go: goes })])
  );
}

/** A rule's target with the place in its way, and the part that the place now leads on to. */
function redirected(document: FlowDocument, { go }: Rule, to: Id | undefined, place: Id): { go: Target; moved: Target } {
  const target = go!;
  const here = (old: Target): PlaceTarget =>
    'place' in old && old.over && !isLevel(document, place) && document.places[place]!.kind !== 'ending'
      ? { place, over: true }
      : { place };
  const otherwise = 'move' in target ? target.else : undefined;
  if (otherwise && 'place' in otherwise && otherwise.place === to && 'move' in target)
    return { go: { ...target, else: here(otherwise) }, moved: otherwise };
  return { go: here(target), moved: target };
}

/** How a place is likely left toward what play decides. */
function leadingOn(document: FlowDocument, place: Id): NewRule {
  const { kind } = document.places[place]!;
  if (kind === 'level') return likelyRule(document, place, 'won');
  return { when: kind === 'interlude' ? { after: 2 } : { press: 'On' } };
}
