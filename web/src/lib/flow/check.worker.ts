/** Checks a document off the page's thread, in short turns, so that a newer document can take its place at once. */
import { checking, usualLimit } from '@crow-lane/core/check/check';
import type { Report } from '@crow-lane/core/check/report';
import type { FlowDocument } from '@crow-lane/core/document/types';

export interface CheckRequest {
  id: number;
  document: FlowDocument;
}
export type CheckAnswer =
  { id: number; progress: { states: number; waiting: number } } | { id: number; report: Report } | { id: number; failed: string };

const turn = 40;
let newest = 0;

self.onmessage = async ({ data }: MessageEvent<CheckRequest>) => {
  const { id, document } = data;
  newest = id;
  try {
    const run = checking(document, { limit: usualLimit });
    for (let until = performance.now() + turn; ;) {
      const { done, value } = run.next();
      if (done) {
        self.postMessage({ id, report: value } satisfies CheckAnswer);
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
