/** Finds the causes of findings: those that are known at once, then those that show when fixes are tried. */
import { causesOf, keyOf, type Cause } from '@crow-lane/core/causes/causes';
import { tryCauses } from '@crow-lane/core/causes/tried';
import type { FlowDocument } from '@crow-lane/core/document/types';
import type { Report } from '@crow-lane/core/report/report';

/** A report of what fails, without routes; so many states may be looked at. */
export interface CausesRequest {
  document: FlowDocument;
  report: Report;
  states: number;
}

/** A cause by the keys of findings. */
export interface ToldCause {
  key: string;
  follows: string[];
  /** What its best fix is called, and how many findings it removes. */
  fix?: { label: string; removes: number } | null;
}
export interface CausesAnswer {
  causes: ToldCause[];
  trying: boolean;
}

const told = (causes: Cause[]): ToldCause[] =>
  causes.map(({ verdict, follows, fix }) => ({
    key: keyOf(verdict),
    follows: follows.map(keyOf),
    ...(fix !== undefined && { fix: fix && { label: fix.change.label, removes: fix.removes } })
  }));

/** As often as this, in milliseconds, the page is told how far it has come; after so long the rest waits until it is asked for. */
const often = 400;
const longest = 60_000;

self.onmessage = ({ data: { document, report, states } }: MessageEvent<CausesRequest>) => {
  self.postMessage({ causes: told(causesOf(document, report)), trying: true } satisfies CausesAnswer);
  const began = performance.now();
  let last = began;
  const run = tryCauses(document, report, { states });
  for (;;) {
    const { done, value } = run.next();
    const now = performance.now();
    const ends = done || (Number.isFinite(states) && now - began > longest);
    if (!ends && now - last < often) continue;
    last = now;
    self.postMessage({ causes: told(value), trying: !ends } satisfies CausesAnswer);
    if (ends) return;
  }
};
