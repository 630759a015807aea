/** Where the tiles of a row stand: each as near as can be to the column it would like, none on another. */
import type { Id } from '../document/types.ts';

/**
 * Columns for places that each wish for one. Wishes may be fractions; order among equal wishes is the given one.
 * Whole clusters are shifted to the mean of their wishes (isotonic regression by pooling adjacent violators), so that
 * one more place moves its neighbours only as far as it must.
 */
export function spread(wishes: { id: Id; wish: number }[]): Map<Id, number> {
  const sorted = wishes.map((each, order) => ({ ...each, order })).sort((a, b) => a.wish - b.wish || a.order - b.order);
  const pools: { mean: number; size: number }[] = [];
  sorted.forEach(({ wish }, index) => {
    let pool = { mean: wish - index, size: 1 };
    for (let before = pools.at(-1); before && before.mean > pool.mean; before = pools.at(-1)) {
      pools.pop();
      const size = before.size + pool.size;
      pool = { mean: (before.mean * before.size + pool.mean * pool.size) / size, size };
    }
    pools.push(pool);
  });
  const columns = new Map<Id, number>();
  let index = 0;
  for (const { mean, size } of pools) {
    for (let n = 0; n < size; n++, index++) columns.set(sorted[index]!.id, Math.max(index, Math.round(mean) + index));
  }
  return columns;
}

/** Gives each span the lowest track on which it meets no other. Spans that begin further left come first. */
export function tracks(spans: { key: string; from: number; to: number }[]): Map<string, number> {
  const ends: number[] = [];
  const found = new Map<string, number>();
  for (const { key, from, to } of [...spans].sort((a, b) => a.from - b.from || b.to - a.to)) {
    let track = ends.findIndex((end) => end < from);
    if (track < 0) track = ends.length;
    ends[track] = to;
    found.set(key, track);
  }
  return found;
}
