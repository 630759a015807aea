/** What is different between two reports: which verdicts changed, and how. */
import { verdictKey, type VerdictOutcome, type Report, type Verdict } from './report.ts';

export interface VerdictChange {
  check: string;
  subject: string;
  /** Undefined where there was, or is, no such verdict. */
  before: VerdictOutcome | undefined;
  after: VerdictOutcome | undefined;
  /** As it is now; as it was where it is no more. */
  verdict: Verdict;
  /** `fixed` no longer fails, `broken` fails now, `other` has changed otherwise. */
  is: 'fixed' | 'broken' | 'other';
}

/** The verdicts with another outcome, broken ones first, in the order of the reports. */
export function compareReports(before: Report, after: Report): VerdictChange[] {
  const old = new Map(before.checks.map((verdict) => [verdictKey(verdict), verdict]));
  const now = new Map(after.checks.map((verdict) => [verdictKey(verdict), verdict]));
  const changes: VerdictChange[] = [];
  const note = (was: Verdict | undefined, verdict: Verdict | undefined) => {
    const shown = (verdict ?? was)!;
    if (was?.outcome === verdict?.outcome) return;
    const failed = was?.outcome === 'fails';
    const fails = verdict?.outcome === 'fails';
    // a new part of the document that is in order is no news
    if (!failed && !fails && (was === undefined || verdict === undefined)) return;
    changes.push({
      check: shown.check,
      subject: shown.subject,
      before: was?.outcome,
      after: verdict?.outcome,
      verdict: shown,
      is: fails ? 'broken' : failed ? 'fixed' : 'other'
    });
  };
  for (const [id, verdict] of now) note(old.get(id), verdict);
  for (const [id, verdict] of old) if (!now.has(id)) note(verdict, undefined);
  const rank = { broken: 0, fixed: 1, other: 2 };
  return changes.sort((a, b) => rank[a.is] - rank[b.is]);
}
