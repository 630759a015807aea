/** What the picture of a level's inside is made of, and how it is walked; it is laid out in ground.ts. */
import type { FlowDocument, Id, Passage } from '../document/types.ts';
import { conditionWords, pieceName } from '../words/words.ts';

export type Point = [x: number, y: number];

/** What stands in a room: so many of a piece, which can be had from other spots too where it is shared. */
export interface Standing {
  piece: Id;
  n: number;
  shared: boolean;
}

export interface Room {
  id: Id;
  x: number;
  y: number;
  width: number;
  height: number;
  pieces: Standing[];
}

export interface Way {
  id: Id;
  points: Point[];
  /** What it asks for and what is met on it, and where these words stand: in the middle of it. */
  label: string;
  middle: Point;
}

/** Where the player arrives, or leaves by an exit. */
export interface Door {
  kind: 'entry' | 'exit';
  /** The entry, null for the only one of a level that has none; or the piece. */
  id: Id | null;
  spot: Id;
  x: number;
  y: number;
  points: Point[];
}

export interface GroundPicture {
  width: number;
  height: number;
  rooms: Room[];
  ways: Way[];
  doors: Door[];
}

/** Sizes in pixels: a room is as high as what stands in it needs. */
export const roomSize = { width: 104, name: 22, line: 15, foot: 6 };
/** In pixels, of the words on passages; a letter is taken for wider than most are. */
export const wordSize = { letter: 5.4, height: 13, most: 20 };

/** What a passage asks for, in few words, and what is met on it: "Brass key, past Gust". */
export function passageAsks(document: FlowDocument, level: Id, { if: condition, through = [] }: Passage): string {
  const owner = { place: level };
  const met = through.map((piece) => pieceName(document, owner, piece));
  return [
    ...(condition === undefined ? [] : [conditionWords(document, owner, condition).replace(/ (is|are) collected$/, '')]),
    ...(met.length > 0 ? [`past ${met.join(', ')}`] : [])
  ].join(', ');
}

const ways: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** The room that lies most nearly the way of an arrow key from another, of all or `among` some; undefined for other keys too. */
export function roomThatWay({ rooms }: GroundPicture, from: Id, key: string, among?: ReadonlySet<Id>): Id | undefined {
  const way = ways[key];
  const start = rooms.find(({ id }) => id === from);
  if (!way || !start) return undefined;
  const rated = rooms.flatMap((room) => {
    const x = room.x + room.width / 2 - (start.x + start.width / 2);
    const y = room.y + room.height / 2 - (start.y + start.height / 2);
    const along = x * way[0] + y * way[1];
    const aside = Math.abs(x * way[1]) + Math.abs(y * way[0]);
    return along > 0 && (!among || among.has(room.id)) ? [{ id: room.id, far: along + 2 * aside }] : [];
  });
  return rated.sort((a, b) => a.far - b.far)[0]?.id;
}
