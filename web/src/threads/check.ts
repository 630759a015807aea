/** Checks documents, one after another, in a thread of the server: says how far it is, and gives what it found as it is kept. */
import { constants, platform, setPriority } from 'node:os';
import { parentPort } from 'node:worker_threads';
import { gzipSync } from 'node:zlib';
import { checking } from '@crow-lane/core/check/check';
import type { Progress } from '@crow-lane/core/explore/facts';
import type { Report } from '@crow-lane/core/report/report';
import { documentOf } from '../lib/server/fit.ts';
import { summaryOf, type Summary } from '../lib/summary.ts';

export interface CheckTask {
  document: string;
  limit: number;
}
export type Told = { progress: Progress } | { report: Uint8Array; summary: Summary };

// who edits or looks comes before a check; only Linux lets one thread of a process stand back
if (parentPort && platform() === 'linux') setPriority(constants.priority.PRIORITY_LOW);

parentPort?.on('message', ({ document: text, limit }: CheckTask) => {
  const document = documentOf(text);
  const run = checking(document, { limit });
  let said = performance.now();
  for (;;) {
    const { done, value } = run.next();
    if (done) {
      const report = gzipSync(JSON.stringify(kept(value)));
      parentPort!.postMessage({ report, summary: summaryOf(document, value) } satisfies Told);
      return;
    }
    const now = performance.now();
    if (now - said < 200) continue;
    said = now;
    parentPort!.postMessage({ progress: value } satisfies Told);
  }
});

/** Routes of what holds are long all together and found again at any time: only their length stays. */
function kept(whole: Report): Report {
  const checks = whole.checks.map(({ route, ...verdict }) =>
    verdict.outcome === 'fails' && route ? { ...verdict, route } : verdict
  );
  return { ...whole, checks };
}
