import type { Verdict } from '../report/report.ts';
import type { Change } from '../document/patch.ts';
import type { FlowDocument } from '../document/types.ts';

/** The offers for one check: what a failing verdict of it may be mended by, likeliest first. */
export type Offers = (document: FlowDocument, verdict: Verdict) => Change[];

/** A change under another name. */
export function named(label: string, change: Change): Change {
  return { label, patch: change.patch, inverse: change.inverse };
}
