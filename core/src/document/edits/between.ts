/** Edits of ways between places: a place put into a way, and the way back through a door. */
import { change, together, type Change } from '../patch.ts';
import { findRule, isLevel, targetsOf, type FlowDocument, type Id, type PlaceTarget, type Rule, type Target } from '../types.ts';
import { addRule, changeRule, doorRule, likelyRule, wireRule, type NewRule } from './rules.ts';

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

/** Whether a rule takes the player from one level into another that leads nowhere back. */
export function lacksWayBack(document: FlowDocument, from: Id, rule: Rule): boolean {
  const { go } = rule;
  if (!go || !('place' in go) || rule.result || !isLevel(document, from) || !isLevel(document, go.place) || go.place === from)
    return false;
  return !document.places[go.place]!.rules.some(
    (each) => each.go && targetsOf(each.go).some((to) => 'place' in to && to.place === from)
  );
}

/** Gives a door its other side: a rule in the level it leads to that takes the player back. */
export function addWayBack(document: FlowDocument, from: Id, to: Id): Change & { id: Id } {
  const { id, patch, inverse } = addRule(document, { place: to }, doorRule(document, to, from));
  return { id, patch, inverse, label: `${document.places[to]!.name}: a way back to ${document.places[from]!.name}` };
}

/** How a place is likely left toward what play decides. */
function leadingOn(document: FlowDocument, place: Id): NewRule {
  const { kind } = document.places[place]!;
  if (kind === 'level') return likelyRule(document, place, 'won');
  return { when: kind === 'interlude' ? { after: 2 } : { press: 'On' } };
}
