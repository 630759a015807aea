/** Edits of where things are in a level: its spots, the passages between them, and what stands where. */
import { change, Series, type Change, type Patch } from '../patch.ts';
import type { FlowDocument, Id, Level, Passage, Piece, Rounds, Spot } from '../types.ts';
import { countOf, standingsOf, type Counted } from '../../vocabulary/pieces.ts';
import { idFrom } from './ids.ts';
import { changedFields, fieldOperations } from './places.ts';

const levelAt = (document: FlowDocument, level: Id) => document.places[level] as Level;
const pathOf = (level: Id) => `/places/${level}`;

/** A name for the next spot that none of a level has: "Spot 3". */
export function nextSpotName({ spots }: Level): string {
  const names = new Set(Object.values(spots).map(({ name }) => name));
  for (let n = Object.keys(spots).length + 1; ; n++) if (!names.has(`Spot ${n}`)) return `Spot ${n}`;
}

export function addSpot(document: FlowDocument, level: Id, spot: Spot): Change & { id: Id } {
  const place = levelAt(document, level);
  const id = idFrom(spot.name, place.spots, 'spot');
  const path = `${pathOf(level)}/spots/${id}`;
  return { ...change(document, `${place.name}: add the spot ${spot.name}`, [{ op: 'add', path, value: spot }]), id };
}

export function changeSpot(document: FlowDocument, level: Id, id: Id, fields: Partial<Spot>): Change {
  const place = levelAt(document, level);
  const label = `${place.name}: change the spot ${place.spots[id]!.name}`;
  return change(document, label, changedFields(`${pathOf(level)}/spots/${id}`, place.spots[id]!, fields));
}

/** Deletes a spot with its passages; what stood there stands at the first spot that is left, entries lead there. */
export function removeSpot(document: FlowDocument, level: Id, id: Id): Change {
  const series = new Series(document);
  const { name, spots } = levelAt(document, level);
  const label = `${name}: delete the spot ${spots[id]!.name}`;
  const [other] = Object.keys(spots).filter((each) => each !== id);
  const step = (operations: Patch) => operations.length > 0 && series.make(change(series.now, label, operations));
  for (const [passage, { from, to }] of Object.entries(levelAt(document, level).passages))
    if (from === id || to === id) step([{ op: 'remove', path: `${pathOf(level)}/passages/${passage}` }]);
  for (const [entry, { spot }] of Object.entries(levelAt(document, level).entries))
    if (spot === id) step([{ op: 'remove', path: `${pathOf(level)}/entries/${entry}/spot` }]);
  for (const [piece, value] of Object.entries(levelAt(document, level).pieces)) {
    if (!standingsOf(value)?.some(({ spots: there }) => there.includes(id))) continue;
    const moved = withoutSpot(value, id, other);
    step([{ op: 'replace', path: `${pathOf(level)}/pieces/${piece}`, value: moved }]);
  }
  step([{ op: 'remove', path: `${pathOf(level)}/spots/${id}` }]);
  return series.whole(label);
}

/** A piece that no longer stands at a spot, but at another; everywhere in the level where there is none. */
function withoutSpot(piece: Piece, spot: Id, other: Id | undefined): Piece {
  const { at: _at, ...rest } = piece;
  if (other === undefined) return { ...rest, count: countOf(piece) };
  const standings = standingsOf(piece)!.map((standing) => {
    const left = along(standing, (each) => (each === spot ? undefined : each));
    return left.spots.length > 0 ? left : { spots: [other], n: standing.n };
  });
  return { ...rest, at: shortest(standings) };
}

/** The same at other spots, each once; a patrol keeps its seconds at those that are left, as long as there are two of them. */
function along({ spots, n, patrol }: Counted, to: (spot: Id) => Id | undefined): Counted {
  const ends = spots.map(to);
  const kept = ends.flatMap((end, index) => (end !== undefined && ends.indexOf(end) === index ? [index] : []));
  const left = kept.length > 1 && patrol && { patrol: { ...patrol, seconds: kept.map((index) => patrol.seconds[index]!) } };
  return { spots: kept.map((index) => ends[index]!), n, ...left };
}

/** All of a piece patrols from spot to spot, or stands at the first of them where there is no other. */
export function setRounds(
  document: FlowDocument,
  level: Id,
  piece: Id,
  stops: { spot: Id; seconds: number }[],
  turn: Rounds['turn']
): Change {
  const place = levelAt(document, level);
  const { count: _count, at: _at, ...rest } = place.pieces[piece]!;
  const n = countOf(place.pieces[piece]!);
  const spots = stops.map(({ spot }) => spot);
  const patrol = { turn, seconds: stops.map(({ seconds }) => seconds) };
  const at: Piece['at'] = stops.length > 1 ? [{ spots, n, patrol }] : { [spots[0]!]: n };
  const label = `${place.name}: ${rest.name} patrols ${spots.map((spot) => place.spots[spot]!.name).join(', ')}`;
  return change(document, label, [{ op: 'replace', path: `${pathOf(level)}/pieces/${piece}`, value: { ...rest, at } }]);
}

/** The short form, by spot how many, where each can be had from one spot alone. */
function shortest(standings: Counted[]): Piece['at'] {
  if (standings.some(({ spots }) => spots.length > 1)) return standings;
  const sums: Record<Id, number> = {};
  for (const { spots, n } of standings) sums[spots[0]!] = (sums[spots[0]!] ?? 0) + n;
  return sums;
}

/** A passage by its name, else by its ends. */
const called = ({ spots }: Level, { name, from, to }: Passage): string =>
  name ?? `from ${spots[from]?.name ?? from} to ${spots[to]?.name ?? to}`;

export function addPassage(document: FlowDocument, level: Id, passage: Passage): Change & { id: Id } {
  const place = levelAt(document, level);
  const id = idFrom(passage.name ?? `${passage.from}_${passage.to}`, place.passages, 'passage');
  const path = `${pathOf(level)}/passages/${id}`;
  return {
    ...change(document, `${place.name}: add the passage ${called(place, passage)}`, [{ op: 'add', path, value: passage }]),
    id
  };
}

/** Changes fields of a passage; undefined removes one. */
export function changePassage(document: FlowDocument, level: Id, id: Id, fields: Partial<Passage>, label?: string): Change {
  const place = levelAt(document, level);
  const passage = place.passages[id]!;
  return change(
    document,
    label ?? `${place.name}: change the passage ${called(place, passage)}`,
    changedFields(`${pathOf(level)}/passages/${id}`, passage, fields)
  );
}

export function removePassage(document: FlowDocument, level: Id, id: Id): Change {
  const place = levelAt(document, level);
  return change(document, `${place.name}: delete the passage ${called(place, place.passages[id]!)}`, [
    { op: 'remove', path: `${pathOf(level)}/passages/${id}` }
  ]);
}

/** The spot at which an entry arrives; undefined: the first. */
export function setEntrySpot(document: FlowDocument, level: Id, entry: Id, spot: Id | undefined): Change {
  const place = levelAt(document, level);
  const { name, spot: before } = place.entries[entry]!;
  const label = `${place.name}: ${name} arrives at ${spot === undefined ? 'the first spot' : place.spots[spot]!.name}`;
  return change(document, label, fieldOperations(`${pathOf(level)}/entries/${entry}/spot`, before, spot));
}

/** Pieces come to stand at a spot: so many of those at another, else all that there are of it. */
export function movePiece(document: FlowDocument, level: Id, piece: Id, to: Id, from?: Id, n?: number): Change {
  const place = levelAt(document, level);
  const value = place.pieces[piece]!;
  const moved = n ?? (from === undefined ? countOf(value) : standsAt(value, from));
  const label = `${place.name}: ${value.name} × ${moved} to ${place.spots[to]!.name}`;
  const path = `${pathOf(level)}/pieces/${piece}`;
  const { at } = value;
  if (from === undefined || at === undefined) {
    const { count: _count, ...rest } = value;
    return change(document, label, [{ op: 'replace', path, value: { ...rest, at: { [to]: countOf(value) } } }]);
  }
  if (!Array.isArray(at)) {
    const left = at[from]! - moved;
    return change(document, label, [
      ...fieldOperations(`${path}/at/${from}`, at[from], left > 0 ? left : undefined),
      ...fieldOperations(`${path}/at/${to}`, at[to], (at[to] ?? 0) + moved)
    ]);
  }
  const standings = standingsOf(value)!.map((standing) => along(standing, (spot) => (spot === from ? to : spot)));
  return change(document, label, [{ op: 'replace', path: `${path}/at`, value: shortest(standings) }]);
}

/** A piece is everywhere in its level again, as many as there are. */
export function placeEverywhere(document: FlowDocument, level: Id, piece: Id): Change {
  const place = levelAt(document, level);
  const { at: _at, ...rest } = place.pieces[piece]!;
  const value = { ...rest, count: countOf(place.pieces[piece]!) };
  return change(document, `${place.name}: ${rest.name} everywhere`, [
    { op: 'replace', path: `${pathOf(level)}/pieces/${piece}`, value }
  ]);
}

/** How many of a piece can be had from a spot. */
export const standsAt = (piece: Piece, spot: Id): number =>
  standingsOf(piece)?.reduce((sum, { spots, n }) => sum + (spots.includes(spot) ? n : 0), 0) ?? 0;

/** How many of a piece stand at a spot, where nothing else is said of it; none takes it away from there. */
export function setStanding(document: FlowDocument, level: Id, piece: Id, spot: Id, n: number): Change {
  const place = levelAt(document, level);
  const value = place.pieces[piece]!;
  const label = `${place.name}: ${value.name} at ${place.spots[spot]!.name} ${standsAt(value, spot)} → ${n}`;
  const others = (standingsOf(value) ?? []).filter(({ spots }) => spots.length > 1 || spots[0] !== spot);
  const standings = n > 0 ? [...others, { spots: [spot], n }] : others;
  const path = `${pathOf(level)}/pieces/${piece}`;
  if (value.at !== undefined && !Array.isArray(value.at) && standings.length > 0)
    return change(document, label, fieldOperations(`${path}/at/${spot}`, value.at[spot], n > 0 ? n : undefined));
  const { at: _at, count: _count, ...rest } = value;
  const placed = standings.length > 0 ? { ...rest, at: shortest(standings) } : rest;
  return change(document, label, [{ op: 'replace', path, value: placed }]);
}

/** The `at` of a piece of which there are to be so many: more at the first of its spots, fewer at the last. */
export function withCount(piece: Piece, count: number): Piece['at'] {
  const standings = standingsOf(piece)!.map((each) => ({ ...each }));
  let more = count - countOf(piece);
  if (more > 0) standings[0]!.n += more;
  while (more < 0 && standings.length > 0) {
    const last = standings.at(-1)!;
    const taken = Math.min(-more, standings.length > 1 ? last.n : last.n - 1);
    last.n -= taken;
    more += taken;
    if (last.n === 0) standings.pop();
    else break;
  }
  return shortest(standings);
}

/** Where the player can be, to begin with: shapes of a level's inside. */
export const groundShapes = {
  row: { name: 'A line of rooms', line: 'Three spots, one after the other.' },
  fork: { name: 'A fork with a dead end', line: 'One way on, one way that ends.' },
  door: { name: 'A locked door and its key', line: 'The way on asks for a key from elsewhere.' },
  pit: { name: 'A pit', line: 'A drop that leads down, and a way back up.' }
} as const;
export type GroundShape = keyof typeof groundShapes;

/** Splits a level that has no spots: what stands in it stands at the first; of the door's shape with a key. */
export function splitLevel(document: FlowDocument, level: Id, shape: GroundShape): Change {
  const place = levelAt(document, level);
  const series = new Series(document);
  const label = `${place.name}: split into spots`;
  const key = idFrom('Key', place.pieces, 'key');
  const { spots, passages } = shapesMade(key)[shape];
  const path = pathOf(level);
  const put = (operations: Patch) => series.make(change(series.now, label, operations));
  put(Object.entries(spots).map(([id, name]) => ({ op: 'add', path: `${path}/spots/${id}`, value: { name } })));
  put(Object.entries(passages).map(([id, value]) => ({ op: 'add', path: `${path}/passages/${id}`, value })));
  if (shape === 'door')
    put([{ op: 'add', path: `${path}/pieces/${key}`, value: { name: 'Key', kind: 'pickup', at: { side: 1 } } satisfies Piece }]);
  return series.whole(label);
}

function shapesMade(key: Id): Record<GroundShape, { spots: Record<Id, string>; passages: Record<Id, Passage> }> {
  return {
    row: {
      spots: { first: 'First room', middle: 'Middle room', last: 'Last room' },
      passages: {
        first_middle: { from: 'first', to: 'middle', both: true },
        middle_last: { from: 'middle', to: 'last', both: true }
      }
    },
    fork: {
      spots: { first: 'Fork', on: 'Way on', dead_end: 'Dead end' },
      passages: { fork_on: { from: 'first', to: 'on', both: true }, fork_end: { from: 'first', to: 'dead_end', both: true } }
    },
    door: {
      spots: { first: 'Hall', side: 'Side room', behind: 'Behind the door' },
      passages: {
        hall_side: { from: 'first', to: 'side', both: true },
        door: { from: 'first', to: 'behind', both: true, if: `taken(${key}) >= 1`, name: 'Locked door' }
      }
    },
    pit: {
      spots: { first: 'Edge', pit: 'Pit', beyond: 'Beyond' },
      passages: {
        drop: { from: 'first', to: 'pit', name: 'Drop' },
        climb: { from: 'pit', to: 'first', name: 'Climb' },
        edge_beyond: { from: 'first', to: 'beyond', both: true }
      }
    }
  };
}
