/** What a level asks of the player, and what counts as having done it. */
import { own, type FlowDocument, type Id, type Level } from '../document/types.ts';
import { parts, variablesIn } from '../language/ast.ts';
import type { Facts } from '../explore/facts.ts';
import { piecesCounted, type FittingObjective } from '../play/fit.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { countOf } from '../vocabulary/pieces.ts';
import { counted, objectiveWords, placeName, variableName } from '../words/words.ts';
import { ruleNamed, verdict, withoutFault } from './verdict.ts';

const pointerTo = ({ place, id }: FittingObjective) => `/places/${place}/objectives/${id}`;

/** `objective-met`: each objective is met in some state, or as its level is won. */
export function objectivesMet(facts: Facts): Verdict[] {
  const { document, objectives } = facts.flow;
  return objectives.map((objective) => {
    const { key, place } = objective;
    const [words, where, pointer] = [wordsOf(document, objective), placeName(document, place), pointerTo(objective)];
    const at = facts.met.get(key);
    if (at) {
      const soonest = facts.isShortest(at) ? 'at the soonest ' : '';
      const message = `${words} can be met in ${where}, ${soonest}${facts.lengthOf(at)} steps from the start.`;
      return verdict('objective-met', key, 'holds', message, { pointer, facts, at });
    }
    if (!facts.complete)
      return verdict('objective-met', key, 'open', `It is not settled whether ${words} can be met in ${where}.`, { pointer });
    const outcome = facts.entered.has(place) ? 'fails' : 'unreached';
    const why = outcome === 'fails' ? whyNotMet(facts, objective) : [];
    const more = { pointer, ...(why.length > 0 && { why }) };
    return verdict('objective-met', key, outcome, `${words} is never met in ${where}.`, more);
  });
}

/** `objective-needed`: no rule wins a level while what is needed there is not met. */
export function objectivesNeeded(facts: Facts): Verdict[] {
  const { document, objectives } = facts.flow;
  const needed = objectives.filter(({ place, id }) => (document.places[place] as Level).objectives[id]!.needed);
  return needed.map((objective) => {
    const { key, place } = objective;
    const [words, where, pointer] = [wordsOf(document, objective), placeName(document, place), pointerTo(objective)];
    const found = facts.unmet.get(key);
    if (!found) {
      const outcome = withoutFault(facts, facts.judged.has(key));
      return verdict('objective-needed', key, outcome, `${where} is never won without ${words}.`, { pointer });
    }
    const why = [{ text: `It is won by the rule ${ruleNamed(document, found.rule).words}.`, rule: found.rule }];
    const message = `${where} can be won without ${words}, which is needed.`;
    return verdict('objective-needed', key, 'fails', message, { pointer, why, facts, at: found.arrow });
  });
}

/** `won-by-removal`: no rule wins because an effect removed what it counts, as if the player had collected it. */
export function wonByRemoval(facts: Facts): Verdict[] {
  const { document, rules } = facts.flow;
  return [...rules.values()].flatMap((rule) => {
    const pieces = [...piecesCounted(rule)];
    if (rule.rule.result !== 'won' || pieces.length === 0) return [];
    const { words, pointer } = ruleNamed(document, rule.id);
    const at = facts.wonByRemoval.get(rule.id);
    if (!at) {
      const outcome = withoutFault(facts, facts.fired.has(rule.id));
      return [
        verdict('won-by-removal', rule.id, outcome, `What the rule ${words} counts is collected, not removed.`, { pointer })
      ];
    }
    const why = [...rules.values()].flatMap((other): Reason[] => {
      const removed = (other.rule.do ?? []).flatMap((effect) => ('remove' in effect ? [effect.remove] : []));
      if (!removed.some((piece) => pieces.includes(piece)) || !facts.fired.has(other.id)) return [];
      return [{ text: `The rule ${ruleNamed(document, other.id).words} removes what it counts.`, rule: other.id }];
    });
    const message = `The rule ${words} wins by what an effect removes, not the player.`;
    return [verdict('won-by-removal', rule.id, 'fails', message, { pointer, why, facts, at })];
  });
}

const wordsOf = (document: FlowDocument, { place, id }: FittingObjective) => objectiveWords(document, place, id);

/** What an objective asks for that does not change as it would have to: values that no rule sets, pieces, levels. */
function whyNotMet(facts: Facts, { place, condition }: FittingObjective): Reason[] {
  const { flow, fired } = facts;
  const { document } = flow;
  const read = new Set(flow.applying(place, place).all.map(({ id }) => id));
  if (condition.kind === 'truth' && !condition.value) return [{ text: 'It is not said yet when it is met.' }];
  const values = [...new Set(variablesIn(condition))].flatMap((id): Reason[] => {
    const setters = [...flow.rules.values()].filter(({ rule }) =>
      rule.do?.some((effect) => 'set' in effect && effect.set === id)
    );
    const name = variableName(document, id);
    if (setters.length === 0) return [{ text: `No rule sets ${name}.` }];
    if (document.variables[id]!.scope === 'attempt' && !setters.some(({ id: rule }) => read.has(rule)))
      return [{ text: `No rule of ${placeName(document, place)} sets ${name}, which begins with each attempt.` }];
    if (setters.some((rule) => fired.has(rule.id))) return [];
    return setters.map(({ id: rule }) => ({
      text: `${name} is set by the rule ${ruleNamed(document, rule).words}, which never fires.`,
      rule
    }));
  });
  const { pieces, name } = document.places[place] as Level;
  const named = new Set(parts(condition).flatMap((part) => (part.kind === 'left' || part.kind === 'taken' ? [part.piece] : [])));
  const there = [...named].flatMap((id: Id): Reason[] => {
    const piece = own(pieces, id);
    return piece ? [{ text: `${name} has ${counted(piece.name, countOf(piece))}.` }] : [];
  });
  return [...values, ...there];
}
