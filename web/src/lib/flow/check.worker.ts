/** Checks a document off the page's thread, in short turns, so that a newer document can take its place at once. */
import { checking } from '@crow-lane/core/check/check';
import { usualLimit } from '@crow-lane/core/check/explored';
import { Memory } from '@crow-lane/core/check/memory';
import { withoutRoute } from '@crow-lane/core/check/verdict';
import type { Report, Verdict } from '@crow-lane/core/report/report';
import type { FlowDocument, Step } from '@crow-lane/core/document/types';

/** A check of a document, or a route of the check with this id. */
export type CheckRequest = { id: number; document: FlowDocument } | { id: number; check: string; subject: string };
export type CheckAnswer =
  | { id: number; progress: { states: number; waiting: number } }
  | { id: number; report: Report }
  | { id: number; failed: string }
  | { id: number; check: string; subject: string; route: Step[] };

const turn = 40;
const memory = new Memory();
let newest = 0;
let last: { id: number; checks: Verdict[] } | undefined;

self.onmessage = async ({ data }: MessageEvent<CheckRequest>) => {
  const { id } = data;
  if ('check' in data) {
    const { check, subject } = data;
    const found = last?.id === id && last.checks.find((each) => each.check === check && each.subject === subject);
    self.postMessage({ id, check, subject, route: (found && found.route) || [] } satisfies CheckAnswer);
    return;
  }
  const { document } = data;
  newest = id;
  try {
    const run = checking(document, { limit: usualLimit, memory });
    for (let until = performance.now() + turn; ;) {
      const { done, value } = run.next();
      if (done) {
        last = { id, checks: value.checks };
        // routes stay here until they are asked for: all together they would hold up the page
        const checks = value.checks.map(withoutRoute);
        self.postMessage({ id, report: { ...value, checks } } satisfies CheckAnswer);
        return;
      }
      if (performance.now() < until) continue;
      self.postMessage({ id, progress: value } satisfies CheckAnswer);
      // lets a newer document be heard
      await new Promise((next) => setTimeout(next));
      if (newest !== id) return;
      until = performance.now() + turn;
    }
  } catch (error) {
    self.postMessage({ id, failed: (error as Error).message } satisfies CheckAnswer);
  }
};
