/** Where the things of a level stand, and how its spots hang together (docs/flow-format.md, section 12). */
import { standingsOf } from '../vocabulary/pieces.ts';
import { own, type Id, type Level, type Passage, type Piece } from './types.ts';

/** Of a piece those that can be had from the same spots: how many there are, and from which; undefined for all of the level. */
export interface Heap {
  /** The piece's id, or that with the number of its entry where there is more than one. */
  key: string;
  piece: Id;
  /** Which entry of its `at`; undefined where there are no two. */
  of?: number;
  n: number;
  spots?: Id[];
}

const known = new WeakMap<Piece, Heap[]>();

/** The heaps of a piece, one for each entry of its `at`. Pieces are never changed once they are made. */
export function heapsOf(id: Id, piece: Piece): Heap[] {
  let found = known.get(piece);
  if (!found || found[0]!.piece !== id) known.set(piece, (found = heaps(id, piece)));
  return found;
}

function heaps(id: Id, piece: Piece): Heap[] {
  const standings = standingsOf(piece);
  if (!standings) return [{ key: id, piece: id, n: piece.count ?? 1 }];
  if (standings.length === 1) return [{ key: id, piece: id, ...standings[0]! }];
  // no id holds a hash
  return standings.map((standing, of) => ({ key: `${id}#${of}`, piece: id, of, ...standing }));
}

/** Whether the heap can be had by a player who stands at a spot. */
export const isAt = ({ spots }: Heap, spot: Id | null): boolean => spots === undefined || (spot !== null && spots.includes(spot));

/** The first spot, or that of an entry; null for a level without spots, and where an entry names none of them. */
export function spotOf({ spots, entries }: Level, entry: Id | null): Id | null {
  const named = entry === null ? undefined : entries[entry]?.spot;
  if (named !== undefined && Object.hasOwn(spots, named)) return named;
  return Object.keys(spots)[0] ?? null;
}

/** Whether a player who walks from a spot to another comes to what a rule names: that spot, or the area that it is in. */
export const comesTo = ({ spots }: Level, named: Id, from: Id, to: Id): boolean =>
  named === to || (own(spots, to)?.area === named && own(spots, from)?.area !== named);

/** Where a passage leads from a spot; undefined where it does not begin there. */
export function leadsTo({ from, to, both }: Passage, spot: Id): Id | undefined {
  return spot === from ? to : both && spot === to ? from : undefined;
}

/** The spots that the player comes to by arrival and passages that ask for nothing. */
export function openSpots(level: Level): Set<Id> {
  const { spots, passages } = level;
  const entries = [null, ...Object.keys(level.entries)].map((entry) => spotOf(level, entry));
  const open = new Set(entries.filter((spot): spot is Id => spot !== null));
  for (const spot of open)
    for (const { from, to, both, if: condition } of Object.values(passages)) {
      if (condition !== undefined) continue;
      if (from === spot && own(spots, to)) open.add(to);
      if (both && to === spot && own(spots, from)) open.add(from);
    }
  return open;
}
