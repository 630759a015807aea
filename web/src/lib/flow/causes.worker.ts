/** Finds the causes of findings: those that are known at once, then those that show when fixes are tried. */
import { causesOf, type Cause } from '@crow-lane/core/causes/causes';
import { tryCauses } from '@crow-lane/core/causes/tried';
import { Memory } from '@crow-lane/core/check/memory';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { verdictKey, type Report } from '@crow-lane/core/report/report';

/** So many states are looked at, and milliseconds spent, before the rest waits until it is asked for. */
export interface Budget {
  states: number;
  time: number;
}
/** A report of what fails, without routes; or that more of it is tried, or it is given up. */
export type CausesRequest = { id: number } & (
  { ask: 'causes'; document: FlowDocument; report: Report; most: Budget } | { ask: 'more'; most: Budget } | { ask: 'nothing' }
);

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
/** The code that was written for earlier fixes is that of most later ones. */
const memory = new Memory();
let now: Trying | undefined;

interface Trying {
  id: number;
  run: ReturnType<typeof tryCauses>;
  most: Budget;
  /** Whether it goes on, or has spent what it may. */
  goes: boolean;
}

self.onmessage = ({ data }: MessageEvent<CausesRequest>) => {
  const { id } = data;
  if (data.ask === 'causes') {
    const { document, report, most } = data;
    tell(id, causesOf(document, report), true);
    now = { id, run: tryCauses(document, report, { memory }), most, goes: false };
  } else if (now?.id !== id) return;
  else if (data.ask === 'more') now.most = data.most;
  else now = undefined;
  if (now && !now.goes) void proceed(now);
};

/** Tries until all is tried, the budget is spent, or something else is asked. */
async function proceed(mine: Trying): Promise<void> {
  const { id, run } = mine;
  mine.goes = true;
  const began = performance.now();
  let [said, heard] = [began, began];
  for (;;) {
    const { done, value } = run.next();
    if (done) {
      now = undefined;
      return tell(id, value, false);
    }
    const time = performance.now();
    if (value.states > mine.most.states || time - began > mine.most.time) {
      mine.goes = false;
      return tell(id, value.causes, false);
    }
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
