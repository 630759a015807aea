/** What there is of pieces to be had, state by state, as packed states say it. */
import { heapsOf } from '../../document/ground.ts';
import type { Id, Level } from '../../document/types.ts';
import type { Facts, HeapFacts } from '../facts.ts';
import type { Layout } from './layout.ts';

type Reads = (slot: number) => (state: number) => number;

/** See `Facts.isUp`. */
export function isUpIn(at: Layout, { pieces }: Level, place: number, reads: Reads): (state: number) => boolean {
  const players = Object.keys(pieces).filter((id) => pieces[id]!.kind === 'player');
  const up = players.map((id) => reads(at.levels[place]!.pieces.get(id)!.heaps[0]!.slot));
  return (state) => up.length === 0 || up.some((left) => left(state) > 0);
}

/** See `Facts.heaps`; `reads` gives a slot's value by state. */
export function heapsIn(
  at: Layout,
  level: Level,
  place: number,
  piece: Id,
  reads: Reads,
  { active }: Pick<Facts, 'active'>
): HeapFacts[] {
  const isUp = isUpIn(at, level, place, reads);
  const spot = reads(at.spot);
  const isHere = (spots: readonly Id[] | undefined) => {
    const numbers = spots && new Set(spots.map((id) => at.spots[place]!.indexOf(id)));
    const isNear = numbers && at.keptAt[place] ? (state: number) => numbers.has(spot(state)) : () => true;
    return (state: number) => active(state) === place && isNear(state) && isUp(state);
  };
  const counted = at.levels[place]!.pieces.get(piece);
  if (counted)
    return counted.heaps.map(({ slot, spots, entries, count }) => ({
      entries,
      left: at.keptSlot(slot) ? reads(slot) : () => count,
      isHere: isHere(spots)
    }));
  return heapsOf(piece, level.pieces[piece]!).flatMap(({ spots, n }, entry) => {
    const outOfReach = spots && at.spots[place]!.length > 0 && !at.keptAt[place] && !spots.some((id) => at.open[place]!.has(id));
    return outOfReach ? [] : [{ entries: [entry], left: () => n, isHere: isHere(spots) }];
  });
}
