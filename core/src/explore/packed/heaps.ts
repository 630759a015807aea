/** What there is of pieces to be had, state by state, as packed states say it. */
import { heapsOf } from '../../document/ground.ts';
import type { Id, Level } from '../../document/types.ts';
import type { HeapFacts } from '../facts.ts';
import type { Layout } from './layout.ts';

/** A slot's value by state. */
type Reads = (slot: number) => (state: number) => number;

/** See `Facts.isUp`. */
export function isUpIn(at: Layout, { pieces }: Level, place: number, reads: Reads): ((state: number) => boolean) | undefined {
  const players = Object.keys(pieces).filter((id) => pieces[id]!.kind === 'player');
  const up = players.map((id) => reads(at.levels[place]!.pieces.get(id)!.heaps[0]!.slot));
  return up.length === 0 ? undefined : (state) => up.some((left) => left(state) > 0);
}

/** See `Facts.heaps`. */
export function heapsIn(at: Layout, level: Level, place: number, piece: Id, reads: Reads): HeapFacts[] {
  const counted = at.levels[place]!.pieces.get(piece);
  if (counted)
    return counted.heaps.map(({ slot, spots, entries, count }) => ({
      entries,
      spots,
      left: at.keptSlot(slot) ? reads(slot) : () => count
    }));
  return heapsOf(piece, level.pieces[piece]!).flatMap(({ spots, n }, entry) => {
    const isKept = at.spots[place]!.length === 0 || at.keptAt[place]!;
    if (spots && !isKept && !spots.some((id) => at.open[place]!.has(id))) return [];
    return [{ entries: [entry], spots: isKept ? spots : undefined, left: () => n }];
  });
}
