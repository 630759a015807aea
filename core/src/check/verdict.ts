import { findRule, rulePointer, type FlowDocument, type Id } from '../document/types.ts';
import { ruleWords } from '../words/words.ts';
import { lengthOf, type Arrow, type Facts } from './facts.ts';
import { severities, type CheckName, type Step, type Verdict } from './report.ts';

/** A verdict with the severity that its check has. */
export function verdict(
  check: CheckName,
  subject: string,
  outcome: Verdict['outcome'],
  message: string,
  rest: Partial<Verdict> = {}
): Verdict {
  return { check, subject, outcome, severity: severities[check], message, ...rest };
}

export function routed(route: Step[]): Pick<Verdict, 'route' | 'length'> {
  return { route, length: lengthOf(route) };
}

export const evidence = (facts: Facts, arrow: Arrow) => routed(facts.routeTo(arrow));

/** A rule in words and where it stands. */
export function ruleNamed(document: FlowDocument, id: Id): { words: string; pointer: string } {
  const { owner, rule, index } = findRule(document, id)!;
  return { words: ruleWords(document, owner, rule), pointer: `${rulePointer(owner)}/${index}` };
}
