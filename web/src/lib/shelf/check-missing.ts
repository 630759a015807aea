/** Checks the flows on the shelf whose verdict is older than they are, in a worker, one after another. */
import type { Report } from '@crow-lane/core/check/report';
import { fetchFlow, sendVerdict } from '$lib/flow/api.ts';
import type { CheckAnswer, CheckRequest } from '$lib/flow/check.worker.ts';
import { summaryOf } from '$lib/flow/live-checks.svelte.ts';
import type { ShelfItem } from './words.ts';

/** More than this are left until they are opened. */
const most = 20;
/** Tried once a visit: a check that cannot be done must not be tried for ever. */
const tried = new Set<string>();

/** Begins to check what is missing and calls `done` after each. Gives a function that stops it. */
export function checkMissing(flows: ShelfItem[], done: () => void): () => void {
  const missing = flows
    .filter((item) => (!item.verdict || item.verdict.revision < item.revision) && !tried.has(`${item.id} ${item.revision}`))
    .slice(0, most);
  if (missing.length === 0) return () => {};
  const worker = new Worker(new URL('../flow/check.worker.ts', import.meta.url), { type: 'module' });
  let stopped = false;
  void (async () => {
    for (const { id, revision } of missing) {
      if (stopped) return;
      try {
        const flow = await fetchFlow(id);
        const report = await new Promise<Report>((found, failed) => {
          worker.onmessage = ({ data }: MessageEvent<CheckAnswer>) => {
            if ('report' in data) found(data.report);
            else if ('failed' in data) failed(new Error(data.failed));
          };
          worker.postMessage({ id: 1, document: flow.document } satisfies CheckRequest);
        });
        await sendVerdict(id, flow.revision, summaryOf(flow.document, report));
      } catch {
        // the shelf then goes on saying that it is not checked
      }
      if (stopped) return;
      tried.add(`${id} ${revision}`);
    }
    worker.terminate();
    if (!stopped) done();
  })();
  return () => {
    stopped = true;
    worker.terminate();
  };
}
