import { findRule, rulePointer, type FlowDocument, type Id, type Step } from '../document/types.ts';
import { ruleWords } from '../words/words.ts';
import type { Arrow, Facts } from '../explore/facts.ts';
import { severities, type CheckName, type Verdict } from '../report/report.ts';

/** A verdict with the severity that its check has. */
export function verdict(
  check: CheckName,
  subject: string,
  outcome: Verdict['outcome'],
  message: string,
  { facts, at, ...rest }: Partial<Verdict> & Partial<Evidence> = {}
): Verdict {
  const made: Verdict = { check, subject, outcome, severity: severities[check], message, ...rest };
  return facts && at !== undefined ? shown(made, facts, at) : made;
}

/** What a verdict shows: that an exploration led to a state, or to the event that an arrow stands for. */
interface Evidence {
  facts: Facts;
  at: Arrow | number;
}

/** More steps than this are not told of verdicts that hold: routes through thousands of levels would fill the memory. */
const mostSteps = 500_000;
const told = new WeakMap<Facts, number>();

/** The route is worked out when it is first asked for: nobody looks at those of all verdicts. */
function shown(made: Verdict, facts: Facts, at: Arrow | number): Verdict {
  made.length = facts.lengthOf(at);
  // where something was cut, a state nearer may be bad too that is taken for good
  if ((typeof at === 'number' ? !facts.complete : at.sought) || !facts.isShortest(at)) made.shortest = false;
  if (made.outcome === 'holds') {
    const sum = (told.get(facts) ?? 0) + made.length;
    if (sum > mostSteps) return made;
    told.set(facts, sum);
  }
  const route = () => (typeof at === 'number' ? facts.routeToState(at) : facts.routeTo(at));
  const known = (value: Step[]) => Object.defineProperty(made, 'route', { value, enumerable: true, writable: true });
  return Object.defineProperty(made, 'route', {
    enumerable: true,
    configurable: true,
    get: () => (known(route()), made.route)
  });
}

/** A copy of a verdict without its route, which is not worked out for it. */
export function withoutRoute(verdict: Verdict): Verdict {
  const keys = Object.keys(verdict).filter((key) => key !== 'route') as (keyof Verdict)[];
  return Object.fromEntries(keys.map((key) => [key, verdict[key]])) as unknown as Verdict;
}

interface Named {
  words: string;
  pointer: string;
}

const named = new WeakMap<FlowDocument, Map<Id, Named>>();

/** A rule in words and where it stands; worked out once, as several checks speak of it. */
export function ruleNamed(document: FlowDocument, id: Id): Named {
  let all = named.get(document);
  if (!all) named.set(document, (all = new Map()));
  let found = all.get(id);
  if (!found) {
    const { owner, rule, index } = findRule(document, id)!;
    all.set(id, (found = { words: ruleWords(document, owner, rule), pointer: `${rulePointer(owner)}/${index}` }));
  }
  return found;
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

/** The outcome where no bad state was found. */
export function withoutFault(facts: Facts, entered: boolean): 'holds' | 'open' | 'unreached' {
  return !facts.complete ? 'open' : entered ? 'holds' : 'unreached';
}
