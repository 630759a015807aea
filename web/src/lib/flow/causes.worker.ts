/** Finds the causes of findings: those that are known at once, then those that show when fixes are tried. */
import { causesOf, type Cause } from '@crow-lane/core/causes/causes';
import { tryCauses } from '@crow-lane/core/causes/tried';
import { Memory } from '@crow-lane/core/check/memory';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { verdictKey, type Report } from '@crow-lane/core/report/report';

/** A report of what fails, without routes; or that what has been left of it is tried too, or given up. */
export type CausesRequest = { id: number; document: FlowDocument; report: Report } | { id: number; then: 'go on' | 'give up' };

/** A cause by the keys of findings. */
export interface ToldCause {
  key: string;
  follows: string[];
  /** What its best fix is called, and how many findings it removes. */
  fix?: { label: string; removes: number } | null;
}
export interface CausesAnswer {
  id: number;
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

const tell = (id: number, causes: Cause[], trying: boolean) =>
  self.postMessage({ id, causes: told(causes), trying } satisfies CausesAnswer);

/** As often as this, in milliseconds, the page is told how far it has come. */
const often = 400;
/** For so long, in milliseconds, nothing that is asked is heard. */
const turn = 40;
/** So many states, and milliseconds, are spent before the rest waits until it is asked for. */
const budget = { states: 1_500_000, time: 60_000 };

/** The code that was written for earlier fixes is that of most later ones. */
const memory = new Memory();
let now: { id: number; run: ReturnType<typeof tryCauses> } | undefined;

self.onmessage = ({ data }: MessageEvent<CausesRequest>) => {
  const { id } = data;
  if ('document' in data) {
    const { document, report } = data;
    tell(id, causesOf(document, report), true);
    now = { id, run: tryCauses(document, report, { memory }) };
    void proceed(now, budget);
  } else if (now?.id !== id) return;
  else if (data.then === 'go on') void proceed(now, { states: Infinity, time: Infinity });
  else now = undefined;
};

/** Tries until all is tried, the budget is spent, or something else is asked. */
async function proceed(mine: NonNullable<typeof now>, most: typeof budget): Promise<void> {
  const { id, run } = mine;
  const began = performance.now();
  let [said, heard] = [began, began];
  for (;;) {
    const { done, value } = run.next();
    if (done) {
      now = undefined;
      return tell(id, value, false);
    }
    const time = performance.now();
    if (value.states > most.states || time - began > most.time) return tell(id, value.causes, false);
    if (time - said >= often) {
      said = time;
      tell(id, value.causes, true);
    }
    if (time - heard < turn) continue;
    await new Promise((next) => setTimeout(next));
    if (now !== mine) return;
    heard = performance.now();
  }
}
