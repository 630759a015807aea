/** Findings about times: a limit that cannot be met is raised. */
import { secondsOf } from '../document/numbers.ts';
import { setNumber } from '../document/edits/lists.ts';
import { findRule } from '../document/types.ts';
import { finish } from '../check/check.ts';
import { slowestOf } from '../check/time-checks.ts';
import { prepare } from '../play/flow.ts';
import { timesOf } from '../times/times.ts';
import { changeRule } from '../document/edits/rules.ts';
import { named, type Offers } from './offers.ts';

/** So much of the time that is given is not needed by the best tour. */
const ease = 0.25;

const timeEnough: Offers = (document, { subject }) => {
  const flow = prepare(document);
  const times = finish(timesOf(flow, subject));
  const slowest = times && slowestOf(flow, subject, times)?.time;
  const found = times?.limit && findRule(document, times.limit.rule);
  if (!slowest || !found || !('after' in found.rule.when)) return [];
  const wanted = (slowest.most ?? slowest.least) / (1 - ease);
  // a round number
  const after = wanted > 20 ? Math.ceil(wanted / 5) * 5 : Math.ceil(wanted);
  const { after: before } = found.rule.when;
  const label = `Give ${after} s instead of ${secondsOf(document, before)} s${'group' in found.owner ? ', in all levels of the rule' : ''}`;
  if (typeof before === 'string') return [named(label, setNumber(document, before, after))];
  return [changeRule(document, found.rule.id, { ...found.rule, when: { ...found.rule.when, after } }, label)];
};

export const timeRepairs = { 'time-enough': timeEnough };
