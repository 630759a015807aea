/** Levels that are over on arrival, with the values that made it so. */
import { findRule, type Id } from '../document/types.ts';
import { termsIn, type Expression } from '../language/ast.ts';
import { evaluate, type Value } from '../language/evaluate.ts';
import type { FittingRule } from '../play/fit.ts';
import { watchLast } from '../play/replay.ts';
import type { Turn, Watcher } from '../play/turn.ts';
import { expressionWords, variableOf } from '../words/words.ts';
import type { Arrow, Facts } from '../explore/facts.ts';
import { valueNamed } from '../document/values.ts';
import type { Verdict } from '../report/report.ts';
import { ruleNamed, verdict, withoutFault } from './verdict.ts';

/** Levels that are left in the event that enters them: with the rule, and the values that made it so. */
export function overAtOnce(facts: Facts): Verdict[] {
  const { document } = facts.flow;
  return facts.flow.levels.map(([id, { name }]) => {
    const pointer = `/places/${id}`;
    const found = facts.passed.get(id);
    if (!found) {
      const outcome = withoutFault(facts, facts.entered.has(id));
      return verdict('over-at-once', id, outcome, `${name} is still to be played after every arrival.`, { pointer });
    }
    const never = facts.complete && !facts.arrivals.has(id);
    const { words } = ruleNamed(document, found.rule);
    const values = valuesWhenFired(facts, found);
    const message = `${name} is over on arrival: the rule ${words} fires at once.`;
    const why = [
      { text: values ? `${values} on arrival.` : 'Nothing keeps this rule from firing on arrival.', rule: found.rule }
    ];
    return verdict('over-at-once', id, 'fails', message, {
      pointer,
      why,
      facts,
      at: found.arrow,
      ...(never && { severity: 'error' as const })
    });
  });
}

/** What the terms of a rule's conditions were when it fired at the end of the way there: "Score is 15". */
function valuesWhenFired({ flow, routeTo }: Facts, { arrow, rule: id }: { arrow: Arrow; rule: Id }): string {
  const { owner } = findRule(flow.document, id)!;
  const { holds, condition } = flow.rules.get(id)!;
  const words = watchLast(flow, routeTo(arrow), () => new TermsWhenFired(id, [holds, condition]))?.values ?? new Map();
  return [...words]
    .map(
      ([term, value]) => `${expressionWords(flow.document, owner, term)} is ${valueNamed(variableOf(flow.document, term), value)}`
    )
    .join(', ');
}

class TermsWhenFired implements Watcher {
  readonly values = new Map<Expression, Value>();

  constructor(
    private readonly id: Id,
    private readonly conditions: (Expression | undefined)[]
  ) {}

  fired({ id }: FittingRule, turn: Turn): void {
    if (id !== this.id) return;
    for (const condition of this.conditions)
      for (const term of condition ? termsIn(condition) : []) this.values.set(term, evaluate(term, turn.reading()) as Value);
  }
}
