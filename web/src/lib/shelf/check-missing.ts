/** Has the server check the flows on the shelf whose verdict is older than they are. */
import { checkEnded, sendCheck } from '$lib/flow/api.ts';
import type { ShelfItem } from '$lib/parts/shelf-words.ts';

/** More than this are left until they are opened. */
const most = 20;
/** Tried once a visit: a check that cannot be done must not be tried for ever. */
const tried = new Set<string>();

/** Begins to check what is missing and calls `done` when all are. Gives a function that stops waiting for it. */
export function checkMissing(flows: ShelfItem[], done: () => void): () => void {
  const missing = flows
    .filter((item) => (!item.verdict || item.verdict.revision < item.revision) && !tried.has(`${item.id} ${item.revision}`))
    .slice(0, most);
  if (missing.length === 0) return () => {};
  const waiting = new AbortController();
  void Promise.all(
    missing.map(async ({ id, revision }) => {
      try {
        if (await checkEnded(await sendCheck(id, revision), waiting.signal)) tried.add(`${id} ${revision}`);
      } catch {
        // the shelf then goes on saying that it is not checked
      }
    })
  ).then(() => !waiting.signal.aborted && done());
  return () => waiting.abort();
}
