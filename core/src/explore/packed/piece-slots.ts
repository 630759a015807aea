/** Which slots hold how many of each piece are left, and where in a level the player is. */
import { spotOf } from '../../document/ground.ts';
import type { Id, Level, Place } from '../../document/types.ts';
import { defaultEntry, renewalOf } from '../../play/flow.ts';
import { usedUp } from '../../vocabulary/pieces.ts';
import { countedHeaps, type Counted } from '../grounds.ts';
import type { Laying } from './laying.ts';

export interface PieceSlot {
  slot: number;
  count: number;
}

/** The heaps of a used-up piece, each with its slot, and what of it can never be had. */
export interface PieceSlots {
  heaps: (PieceSlot & Counted['heaps'][number])[];
  rest: number;
}

export interface LevelSlots {
  progress: number;
  /** All used-up pieces. */
  pieces: Map<Id, PieceSlots>;
  /** The heaps that are full after every fresh arrival, and of these those that a save remembers. */
  here: PieceSlot[];
  attemptPieces: { slot: number; saved: number }[];
}

/** The pieces. Heaps that are renewed on arrival share slots: only those of the level at the bottom count. */
export function layPieces(laying: Laying, bottom: number) {
  const { flow, needs, slots, placeIds } = laying;
  const shared: { max: number; keep: boolean }[] = [];
  for (const [id, level] of flow.levels) {
    const asked = needs.pieces(id);
    heapsIn(laying, id, level, true).forEach(({ piece, n }, index) => {
      const known = (shared[index] ??= { max: 0, keep: false });
      if (asked.has(piece)) known.max = Math.max(known.max, n);
      known.keep ||= asked.has(piece);
    });
  }
  const here = shared.map(({ max, keep }) => laying.add(0, Math.max(1, max), 0, keep));
  for (const slot of here) slots.varies(slot);
  // without them it is the place that changes most
  if (!shared.some(({ keep }) => keep)) slots.varies(bottom);
  const hereSaved = shared.map(({ max, keep }) => laying.saved(0, Math.max(1, max), 0, keep));
  const runPieces: PieceSlot[] = [];
  const keptPieces: PieceSlot[] = [];
  const savedPieces: [number, number][] = [];
  const levels = placeIds.map((id): LevelSlots | undefined => {
    const level = flow.document.places[id]!;
    if (level.kind !== 'level') return undefined;
    const asked = needs.pieces(id);
    const found: LevelSlots = { progress: level.progress ?? 0, pieces: new Map(), here: [], attemptPieces: [] };
    for (const [piece, value] of Object.entries(level.pieces))
      if (usedUp(value)) found.pieces.set(piece, { heaps: [], rest: countedHeaps(piece, value, needs.grounds.get(id)).rest });
    heapsIn(laying, id, level, true).forEach(({ piece, ...heap }, index) => {
      // an unasked piece in a shared slot would split states for nothing: it stays at none
      const counted = asked.has(piece);
      const slot = counted ? here[index]! : laying.add(0, heap.n, heap.n, false);
      const at = { slot, count: heap.n };
      found.pieces.get(piece)!.heaps.push({ ...heap, ...at });
      found.here.push(at);
      if (counted && renewalOf(level.pieces[piece]!) === 'attempt')
        found.attemptPieces.push({ slot: at.slot, saved: hereSaved[index]! });
    });
    for (const { piece, ...heap } of heapsIn(laying, id, level, false)) {
      const keep = asked.has(piece);
      const at = { slot: laying.add(0, heap.n, heap.n, keep), count: heap.n };
      slots.fills(at.slot);
      found.pieces.get(piece)!.heaps.push({ ...heap, ...at });
      const isRun = renewalOf(level.pieces[piece]!) === 'run';
      (isRun ? runPieces : keptPieces).push(at);
      if (isRun) savedPieces.push([at.slot, laying.saved(0, heap.n, 0, keep && needs.load)]);
    }
    return found;
  });
  return { here, levels, runPieces, keptPieces, savedPieces };
}

/** The heaps of the used-up pieces of a level, in order: of those that are renewed on arrival (`sharing`), or of the others. */
function heapsIn({ needs }: Laying, id: Id, level: Level, sharing: boolean) {
  const ground = needs.grounds.get(id);
  return Object.entries(level.pieces).flatMap(([piece, value]) => {
    const isHere = renewalOf(value) === 'attempt' || renewalOf(value) === 'arrival';
    if (!usedUp(value) || isHere !== sharing) return [];
    return countedHeaps(piece, value, ground).heaps.map((heap) => ({ piece, ...heap }));
  });
}

/** Where the player is, and would be again: by level and entry, and in which slots. */
export interface SpotSlots {
  /** Some level has spots; and some where it is kept where the player is. */
  hasSpots: boolean;
  keepsSpots: boolean;
  /** The number of the spot of the level at the bottom where the player is; 0 where it is not kept. */
  spot: number;
  /** Where the level played last was entered, and, in the bookmark, where the player was, and where its entry leads. */
  latestSpot: number;
  bookSpot: number;
  bookEntrySpot: number;
  /** By place: the ids of its spots, none where it has none, and whether it is kept where the player is. */
  spots: Id[][];
  keptAt: boolean[];
  /** By place, where it is not kept: the spots that can be come to. */
  open: Set<Id>[];
  /** By place: the number of its first spot among those of all places. */
  firstSpot: number[];
  /** The names of entries that targets name, '' for none; and for each by place the number of the spot where it arrives, -1 for none. */
  entries: string[];
  arrivals: number[][];
}

export function laySpots(laying: Laying): SpotSlots {
  const { flow, needs, slots, placeIds } = laying;
  const { grounds } = needs;
  const spots = placeIds.map((id) => grounds.get(id)?.spots ?? []);
  const keptAt = placeIds.map((id) => grounds.get(id)?.kept ?? false);
  const max = Math.max(0, ...spots.map(({ length }, place) => (keptAt[place] ? length - 1 : 0)));
  const kept = keptAt.includes(true);
  const spot = laying.add(0, max, 0, kept);
  if (kept) slots.varies(spot);
  let first = 0;
  const firstSpot = spots.map(({ length }) => (first += length) - length);
  return {
    hasSpots: grounds.size > 0,
    keepsSpots: keptAt.includes(true),
    spot,
    latestSpot: laying.add(0, max, 0, kept && needs.again),
    bookSpot: laying.saved(0, max, 0, kept && needs.resumes),
    bookEntrySpot: laying.saved(0, max, 0, kept && needs.resumes && needs.again),
    spots,
    keptAt,
    open: placeIds.map((id) => grounds.get(id)?.open ?? new Set()),
    firstSpot,
    entries: needs.entries,
    arrivals: needs.entries.map((name) => placeIds.map((id) => arrivesAt(flow.document.places[id]!, name)))
  };
}

/** The number of the spot to which an entry of this name leads, or the usual one where there is none; -1 without spots. */
function arrivesAt(place: Place, name: string): number {
  if (place.kind !== 'level') return -1;
  const entry = Object.hasOwn(place.entries, name) ? name : defaultEntry(place);
  return Object.keys(place.spots).indexOf(spotOf(place, entry) ?? '');
}
