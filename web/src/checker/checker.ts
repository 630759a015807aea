/** Checks one document in a thread of the server and says how far it is. */
import { parentPort } from 'node:worker_threads';
import { checking } from '@crow-lane/core/check/check';
import type { Progress } from '@crow-lane/core/check/facts';
import type { Report } from '@crow-lane/core/check/report';
import type { FlowDocument } from '@crow-lane/core/document/types';

export interface Task {
  document: FlowDocument;
  limit: number;
}
export type Told = { progress: Progress } | { report: Report };

parentPort?.once('message', ({ document, limit }: Task) => {
  const run = checking(document, { limit });
  let said = performance.now();
  for (;;) {
    const { done, value } = run.next();
    if (done) {
      parentPort!.postMessage({ report: value } satisfies Told);
      return;
    }
    const now = performance.now();
    if (now - said < 200) continue;
    said = now;
    parentPort!.postMessage({ progress: value } satisfies Told);
  }
});
