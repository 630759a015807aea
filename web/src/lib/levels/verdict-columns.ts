/** What the sheet shows of the verdicts on each level, between its name and what can be typed. */
import { overAtOnce, type Mark } from '@crow-lane/core/report/answers';
import type { Report } from '@crow-lane/core/report/report';

export const verdictColumns = [
  { check: 'place-reached', title: 'reached' },
  { check: 'level-completable', title: 'can be won' },
  { check: 'arrival-completable', title: 'each arrival' },
  { check: 'attempt-ends', title: 'ends' },
  { check: 'never-stuck', title: 'no trap' },
  { check: 'all', title: 'all' }
] as const;

export interface Shown {
  mark: Mark;
  message: string;
}

/** By column and level, as `check level`; `marks` are those of the places as a whole. */
export function shownVerdicts(report: Report | undefined, marks: Map<string, Mark>): Map<string, Shown> {
  const found = new Map<string, Shown>();
  if (!report) return found;
  for (const { check, subject, outcome, accepted, message } of report.checks)
    if (verdictColumns.some((each) => each.check === check))
      found.set(`${check} ${subject}`, { mark: accepted === undefined ? outcome : 'holds', message });
  // a level that is over on arrival is not won by playing it
  for (const { subject, message } of overAtOnce(report)) found.set(`level-completable ${subject}`, { mark: 'fails', message });
  // no level is in order where a finding concerns it, whatever it is about
  for (const [place, mark] of marks)
    found.set(`all ${place}`, { mark, message: mark === 'fails' ? 'The desk says what is wrong with it.' : '' });
  return found;
}
