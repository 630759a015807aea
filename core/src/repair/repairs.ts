/**
 * What would likely mend a finding: edits of the document, each named by what it does. They are offers; what one of them
 * comes to is found by checking the document that it gives.
 */
import { verdictKey, type CheckName, type Verdict } from '../report/report.ts';
import { together, type Change } from '../document/patch.ts';
import type { FlowDocument } from '../document/types.ts';
import { unaccept } from '../document/edits/lists.ts';
import { goalRepairs } from './goals.ts';
import { groundRepairs, withGround } from './ground.ts';
import { listRepairs } from './lists.ts';
import { misfitRepairs } from './misfits.ts';
import { type Offers } from './offers.ts';
import { placeRepairs } from './places.ts';
import { patrolRepairs } from './patrols.ts';
import { planRepairs } from './plan.ts';
import { timeRepairs } from './times.ts';
import { ruleRepairs } from './rules.ts';

const offers: Partial<Record<CheckName, Offers>> = {
  ...misfitRepairs,
  ...withGround(placeRepairs),
  ...groundRepairs,
  ...ruleRepairs,
  ...goalRepairs,
  ...listRepairs,
  ...planRepairs,
  ...timeRepairs,
  ...patrolRepairs,
  'accepted-unused': (document, { subject }) => {
    const entries = document.accepted.flatMap((each, index) => (verdictKey(each) === subject ? [index] : []));
    // from behind, so that those before keep their place
    const removals = entries.reverse().map((index) => (now: FlowDocument) => unaccept(now, index));
    return [together(document, 'Remove it from the list', ...removals)];
  }
};

/** The edits that may mend a failing verdict; none for one that does not fail, or of an older
 * document. What completes or changes comes before what only deletes. */
export function repairsOf(document: FlowDocument, verdict: Verdict): Change[] {
  if (verdict.outcome !== 'fails') return [];
  const found = offers[verdict.check as CheckName]?.(document, verdict) ?? [];
  const seen = new Set<string>();
  const offered = found.filter(({ patch }) => {
    const key = JSON.stringify(patch);
    return patch.length > 0 && !seen.has(key) && seen.add(key);
  });
  return offered.sort((a, b) => Number(onlyDeletes(a)) - Number(onlyDeletes(b)));
}

/** Whether a change only takes something away. */
export const onlyDeletes = ({ patch }: Change): boolean => patch.every(({ op }) => op === 'remove' || op === 'test');
