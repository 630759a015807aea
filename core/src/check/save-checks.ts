/** Whether saved games are those of the run that is played, are picked before they are used, and only ever get further on. */
import { targetsOf, type Id } from '../document/types.ts';
import type { Facts } from '../explore/facts.ts';
import type { Flow } from '../play/flow.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { progressAlong } from '../sheet/saves.ts';
import { placeName } from '../words/words.ts';
import { plain, ruleNamed, verdict, withoutFault } from './verdict.ts';

/** `fresh-save`: no rule goes back to what was saved in an earlier run. */
export function freshSaves(facts: Facts): Verdict[] {
  const { document, rules } = facts.flow;
  const resuming = [...rules.values()].filter(
    ({ rule }) => rule.go && targetsOf(rule.go).some((target) => 'move' in target && target.move === 'resume')
  );
  return resuming.map(({ id }) => {
    const { words, pointer } = ruleNamed(document, id);
    const at = facts.resumedEarlier.get(id);
    if (!at) {
      const outcome = withoutFault(facts, facts.resumed.has(id));
      return verdict('fresh-save', id, outcome, `The rule ${words} goes back to what its own run has saved.`, { pointer });
    }
    const why = keepingTheSave(facts).map((rule): Reason => {
      return { text: `The rule ${ruleNamed(document, rule).words} begins a new run and keeps the save.`, rule };
    });
    const message = `The rule ${words} goes back to what an earlier run has saved.`;
    return verdict('fresh-save', id, 'fails', message, { pointer, why, facts, at });
  });
}

/** The rules that begin a run and leave what is saved. */
function keepingTheSave({ flow, fired }: Facts): Id[] {
  return [...flow.rules.values()].flatMap(({ id, rule: { do: effects = [] } }) => {
    const keeps = !effects.some((effect) => 'forget' in effect || 'erase' in effect || 'slot' in effect);
    return keeps && effects.some((effect) => 'begin' in effect) && fired.has(id) ? [id] : [];
  });
}

/** `slot-picked`: whenever a rule does something with the picked slot, one is picked. */
export function slotsPicked(facts: Facts): Verdict[] {
  const { document, rules } = facts.flow;
  const using = [...rules.values()].filter(({ rule }) => rule.do?.some((effect) => 'slot' in effect));
  return using.map(({ id }) => {
    const { words, pointer } = ruleNamed(document, id);
    const at = facts.unpicked.get(id);
    if (!at) {
      const outcome = withoutFault(facts, facts.fired.has(id));
      return verdict('slot-picked', id, outcome, `The rule ${words} always uses a slot that is picked.`, { pointer });
    }
    return verdict('slot-picked', id, 'fails', `The rule ${words} uses the picked slot while none is picked.`, {
      pointer,
      facts,
      at
    });
  });
}

/** `progress-falls`: along a fixed order what saves give as progress never gets less. */
export function progressFalls({ document }: Flow): Verdict[] {
  return Object.entries(document.orders).flatMap(([id, { name, draw }]) => {
    if (draw !== 'fixed') return [];
    const points = progressAlong(document, id);
    const falling = points.filter(({ behind }) => behind !== undefined);
    const why = falling.map(({ level, piece, progress, behind }): Reason => {
      const what = piece === undefined ? placeName(document, level) : `${piece.name} in ${placeName(document, level)}`;
      return { text: `${what} gives ${progress}, after ${behind} before it.`, places: [level] };
    });
    const failing = falling.length > 0 ? `${name}: progress falls. ${why[0]!.text}` : undefined;
    return plain('progress-falls', id, failing, `Along ${name}, progress never falls.`, {
      pointer: `/orders/${id}`,
      ...(failing ? { why } : {})
    });
  });
}
