import { findRule, rulePointer, type FlowDocument, type Id } from '../document/types.ts';
import { ruleWords } from '../words/words.ts';
import { lengthTo, type Arrow, type Facts } from './facts.ts';
import { severities, type CheckName, type Verdict } from './report.ts';

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

/** The evidence of a failing verdict: the route to a state, or to the event that an arrow stands for. */
export function evidence(facts: Facts, at: Arrow | number): Pick<Verdict, 'route' | 'length' | 'shortest'> {
  if (typeof at === 'number') {
    // where something was cut, a state nearer may be bad too that is taken for good
    return { route: facts.routeToState(at), length: facts.lengthOf(at), ...(facts.complete ? {} : { shortest: false }) };
  }
  return { route: facts.routeTo(at), length: lengthTo(facts, at), ...sought(at) };
}

const sought = (arrow: Arrow): Pick<Verdict, 'shortest'> => (arrow.sought ? { shortest: false } : {});

/** More steps than this are not told of verdicts that hold: routes through thousands of levels would fill the memory. */
const mostSteps = 500_000;
const told = new WeakMap<Facts, number>();

/** The evidence of a holding verdict: its length always, its route as long as all routes together stay within reason. */
export function praise(facts: Facts, arrow: Arrow): Pick<Verdict, 'route' | 'length' | 'shortest'> {
  const length = lengthTo(facts, arrow);
  const sum = (told.get(facts) ?? 0) + length;
  if (sum > mostSteps) return { length, ...sought(arrow) };
  told.set(facts, sum);
  return { route: facts.routeTo(arrow), length, ...sought(arrow) };
}

/** A rule in words and where it stands. */
export function ruleNamed(document: FlowDocument, id: Id): { words: string; pointer: string } {
  const { owner, rule, index } = findRule(document, id)!;
  return { words: ruleWords(document, owner, rule), pointer: `${rulePointer(owner)}/${index}` };
}

/** A verdict of a check that has something to say only when it fails. */
export function plain(
  name: CheckName,
  subject: string,
  failing: string | undefined,
  holding: string,
  rest: Partial<Verdict>
): Verdict {
  return verdict(name, subject, failing === undefined ? 'holds' : 'fails', failing ?? holding, rest);
}
