/** Finds the causes of findings: those that are known at once, then those that show when fixes are tried. */
import { causesOf, type Cause } from '@crow-lane/core/causes/causes';
import { tryCauses } from '@crow-lane/core/causes/tried';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { verdictKey, type Report } from '@crow-lane/core/report/report';

/** A report of what fails, without routes; or that what has been left is tried too. */
export type CausesRequest = { document: FlowDocument; report: Report } | { goOn: true };

/** A cause by the keys of findings. */
export interface ToldCause {
  key: string;
  follows: string[];
  /** What its best fix is called, and how many findings it removes. */
  fix?: { label: string; removes: number } | null;
}
export interface CausesAnswer {
  causes: ToldCause[];
  /** Fixes are being tried; once all have been, nothing more is told. */
  trying: boolean;
}

const told = (causes: Cause[]): ToldCause[] =>
  causes.map(({ verdict, follows, fix }) => ({
    key: verdictKey(verdict),
    follows: follows.map(verdictKey),
    ...(fix !== undefined && { fix: fix && { label: fix.change.label, removes: fix.removes } })
  }));

const tell = (causes: Cause[], trying: boolean) => self.postMessage({ causes: told(causes), trying } satisfies CausesAnswer);

/** As often as this, in milliseconds, the page is told how far it has come. */
const often = 400;
/** So many states, and milliseconds, are spent before the rest waits until it is asked for. */
const budget = { states: 1_500_000, time: 60_000 };

let run: ReturnType<typeof tryCauses> | undefined;

self.onmessage = ({ data }: MessageEvent<CausesRequest>) => {
  if ('goOn' in data) {
    proceed({ states: Infinity, time: Infinity });
    return;
  }
  const { document, report } = data;
  tell(causesOf(document, report), true);
  run = tryCauses(document, report);
  proceed(budget);
};

/** Tries until all is tried or the budget is spent. */
function proceed(most: typeof budget): void {
  const began = performance.now();
  let last = began;
  for (;;) {
    const { done, value } = run!.next();
    if (done) return tell(value, false);
    const now = performance.now();
    const spent = value.states > most.states || now - began > most.time;
    if (spent) return tell(value.causes, false);
    if (now - last < often) continue;
    last = now;
    tell(value.causes, true);
  }
}
