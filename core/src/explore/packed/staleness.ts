/**
 * Where run variables can be stale while play waits there, found out from the rules alone: endings and home, where they
 * become so, and what these lead to. Mostly a variable is stale there exactly while it has not its initial value, so
 * that nothing more needs to be kept of it.
 */
import { isLevel, targetsOf, type Id } from '../../document/types.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Flow } from '../../play/flow.ts';
import { assignmentOf } from './merging.ts';

export interface Staleness {
  /** The bottom places where a run variable can be stale in a settled state; never levels. */
  places: Set<Id>;
  /** Variables that in these places are stale exactly while they have not their initial value. */
  follow: Set<Id>;
}

export function stalenessOf(flow: Flow, openable: Id[]): Staleness {
  const { document } = flow;
  const marking = Object.keys(document.places).filter((id) => document.places[id]!.kind === 'ending' || id === flow.home);
  const places = new Set(marking);
  // a level that is left while it is still being entered leaves what is stale as it is
  let passed = false;
  const opened = new Set(openable);
  const rules = [...flow.rules.values()];
  const within = (rule: FittingRule) =>
    'place' in rule.owner && !isLevel(document, rule.owner.place)
      ? places.has(rule.owner.place) || opened.has(rule.owner.place)
      : passed && ['arrive', 'holds', 'hear', 'defeat'].some((trigger) => trigger in rule.rule.when);
  for (let before = -1; before !== places.size + Number(passed);) {
    before = places.size + Number(passed);
    for (const rule of rules) {
      if (!rule.rule.go || !within(rule)) continue;
      for (const target of targetsOf(rule.rule.go)) {
        // relative moves lead to levels, or back to where play was
        if ('move' in target || isLevel(document, target.place)) passed = true;
        else if (!target.over && Object.hasOwn(document.places, target.place)) places.add(target.place);
      }
    }
  }
  return { places, follow: followers(flow, marking, places, opened, rules.filter(within)) };
}

function followers(flow: Flow, marking: Id[], places: Set<Id>, opened: Set<Id>, within: FittingRule[]): Set<Id> {
  const { document } = flow;
  // what comes to such a place from elsewhere brings values that are not stale
  for (const { rule, owner } of flow.rules.values()) {
    if (!rule.go || ('place' in owner && places.has(owner.place) && !opened.has(owner.place))) continue;
    for (const target of targetsOf(rule.go)) {
      if ('place' in target && !target.over && places.has(target.place) && !marking.includes(target.place)) return new Set();
    }
  }
  const follow = new Set(Object.keys(document.variables));
  for (const { rule, expressions } of within) {
    (rule.do ?? []).forEach((effect, index) => {
      if (!('set' in effect)) return;
      const { initial } = document.variables[effect.set]!;
      const expression = expressions[index]!;
      const assigned = assignmentOf(effect.set, expression);
      const to = expression.kind === 'truth' ? expression.value : assigned && 'to' in assigned ? assigned.to : undefined;
      if (to !== initial) follow.delete(effect.set);
    });
  }
  return follow;
}
