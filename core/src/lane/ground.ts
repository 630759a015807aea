/** The picture of a level's inside: spots as rooms, passages between them, entries at the left edge, exits at the right. */
import { Graph, layout } from '@dagrejs/dagre';
import { heapsOf, leadsTo, spotOf } from '../document/ground.ts';
import { cut } from '../document/cut.ts';
import { own, type FlowDocument, type Id, type Level } from '../document/types.ts';
import {
  roomSize,
  wordSize,
  passageAsks,
  type Point,
  type Standing,
  type Room,
  type Door,
  type GroundPicture
} from './ground-picture.ts';
import type { CheckName, Verdict } from '../report/report.ts';

const doorSize = { width: 10, height: 14 };
const gaps = { rooms: 16, lines: 8, columns: 22, margin: 7 };
/** Of a larger level the picture is made quickly: columns by how far a spot is, and straight lines. */
const most = { spots: 30, passages: 50 };

/** Lays out a level's spots; what names no spot is left out. */
export function groundPicture(document: FlowDocument, id: Id): GroundPicture {
  const level = document.places[id] as Level;
  const { spots } = level;
  const rooms = Object.keys(spots).map((spot): Room => {
    const pieces = standingIn(level, spot);
    const height = roomSize.name + pieces.length * roomSize.line + roomSize.foot;
    return { id: spot, x: 0, y: 0, width: roomSize.width, height, pieces };
  });
  const lines = Object.entries(level.passages).flatMap(([name, passage]): Line[] =>
    own(spots, passage.from) && own(spots, passage.to)
      ? [{ id: name, from: passage.from, to: passage.to, label: cut(passageAsks(document, id, passage), wordSize.most) }]
      : []
  );
  const doors = doorsOf(level);
  const isLarge = rooms.length > most.spots || lines.length > most.passages;
  return isLarge ? inColumns(rooms, lines, doors) : laidOut(rooms, lines, doors);
}

/** A passage whose ends are there. */
interface Line {
  id: Id;
  from: Id;
  to: Id;
  label: string;
}

type Keyed = Pick<Door & { key: string }, 'kind' | 'id' | 'spot' | 'key'>;

function laidOut(rooms: Room[], lines: Line[], doors: Keyed[]): GroundPicture {
  const graph = new Graph({ multigraph: true });
  const { rooms: nodesep, lines: edgesep, columns: ranksep, margin } = gaps;
  graph.setGraph({ rankdir: 'LR', nodesep, edgesep, ranksep, marginx: margin, marginy: margin });
  for (const { id, width, height } of rooms) graph.setNode(id, { width, height });
  for (const { id, from, to, label } of lines) {
    const size =
      label === '' ? {} : { width: label.length * wordSize.letter + 4, height: wordSize.height, labelpos: 'c' as const };
    graph.setEdge(from, to, size, id);
  }
  for (const { kind, spot, key } of doors) {
    graph.setNode(key, { ...doorSize });
    if (kind === 'entry') graph.setEdge(key, spot, { weight: 2 }, key);
    else graph.setEdge(spot, key, { weight: 2 }, key);
  }
  layout(graph);
  const { width = 0, height = 0 } = graph.graph() as { width?: number; height?: number };
  const pointsOf = (v: string, w: string, name: string): Point[] =>
    (graph.edge({ v, w, name }) as { points: { x: number; y: number }[] }).points.map(({ x, y }) => [
      Math.round(x),
      Math.round(y)
    ]);
  return {
    width: Math.ceil(width),
    height: Math.ceil(height),
    rooms: rooms.map((room) => {
      const { x, y } = graph.node(room.id) as { x: number; y: number };
      return { ...room, x: Math.round(x - room.width / 2), y: Math.round(y - room.height / 2) };
    }),
    ways: lines.map(({ id, from, to, label }) => {
      const points = pointsOf(from, to, id);
      return { id, points, label, middle: middleOf(points) };
    }),
    doors: doors.map(({ key, ...door }) => {
      const { x, y } = graph.node(key) as { x: number; y: number };
      const [v, w] = door.kind === 'entry' ? [key, door.spot] : [door.spot, key];
      return { ...door, x: Math.round(x), y: Math.round(y), points: pointsOf(v, w, key) };
    })
  };
}

/** Rooms in columns by how many passages they are from the first, whichever way these lead; lines from side to side. */
function inColumns(rooms: Room[], lines: Line[], doors: Keyed[]): GroundPicture {
  const near = new Map<Id, Id[]>(rooms.map(({ id }) => [id, []]));
  for (const { from, to } of lines) {
    near.get(from)!.push(to);
    near.get(to)!.push(from);
  }
  const column = new Map<Id, number>();
  for (const { id } of rooms) {
    if (column.has(id)) continue;
    const found = [id];
    column.set(id, 0);
    for (const each of found)
      for (const next of near.get(each)!)
        if (!column.has(next)) {
          column.set(next, column.get(each)! + 1);
          found.push(next);
        }
  }
  const bottoms: number[] = [];
  const placed = rooms.map((room): Room => {
    const at = column.get(room.id)!;
    const y = bottoms[at] ?? gaps.margin;
    bottoms[at] = y + room.height + gaps.rooms;
    return { ...room, x: gaps.margin + doorSize.width + gaps.columns + at * (roomSize.width + 2 * gaps.columns), y };
  });
  const roomOf = new Map(placed.map((room) => [room.id, room]));
  const side = (room: Room, right: boolean): Point => [room.x + (right ? room.width : 0), Math.round(room.y + room.height / 2)];
  const line = (from: Id, to: Id): Point[] => {
    const [a, b] = [roomOf.get(from)!, roomOf.get(to)!];
    return [side(a, b.x >= a.x), side(b, a.x > b.x || a.x === b.x)];
  };
  return {
    width: Math.max(...placed.map(({ x, width }) => x + width)) + 2 * gaps.margin + doorSize.width,
    height: Math.max(...bottoms) + gaps.margin,
    rooms: placed,
    ways: lines.map(({ id, from, to, label }) => {
      const points = line(from, to);
      return { id, points, label, middle: middleOf(points) };
    }),
    doors: doors.map(({ key: _key, ...door }) => {
      const [x, y] = side(roomOf.get(door.spot)!, door.kind === 'exit');
      const away: Point = [x + (door.kind === 'exit' ? gaps.margin : -gaps.margin), y];
      return { ...door, x: away[0], y, points: door.kind === 'exit' ? [[x, y], away] : [away, [x, y]] };
    })
  };
}

/** Half of the way along a line. */
function middleOf(points: Point[]): Point {
  const lengths = points.slice(1).map(([x, y], n) => Math.hypot(x - points[n]![0], y - points[n]![1]));
  let left = lengths.reduce((sum, length) => sum + length, 0) / 2;
  for (const [n, length] of lengths.entries()) {
    if (left <= length && length > 0) {
      const [[x, y], [toX, toY]] = [points[n]!, points[n + 1]!];
      const part = left / length;
      return [Math.round(x + (toX - x) * part), Math.round(y + (toY - y) * part)];
    }
    left -= length;
  }
  return points[0] ?? [0, 0];
}

function standingIn({ pieces }: Level, spot: Id): Standing[] {
  return Object.entries(pieces).flatMap(([piece, value]) =>
    heapsOf(piece, value).flatMap(({ spots, n }) => (spots?.includes(spot) ? [{ piece, n, shared: spots.length > 1 }] : []))
  );
}

/** The entries, each with the spot where it arrives, and the exits that stand at one. Keys are no ids. */
function doorsOf(level: Level): Keyed[] {
  const named = Object.keys(level.entries);
  const entries = (named.length > 0 ? named : [null]).map((id) => ({
    kind: 'entry' as const,
    id,
    spot: spotOf(level, id),
    key: `in ${id}`
  }));
  const exits = Object.keys(level.pieces).flatMap((id) =>
    level.pieces[id]!.kind === 'exit'
      ? heapsOf(id, level.pieces[id]!).flatMap(({ spots = [] }, n) =>
          spots.slice(0, 1).map((spot) => ({ kind: 'exit' as const, id, spot, key: `out ${id} ${n}` }))
        )
      : []
  );
  return [...entries, ...exits].flatMap(({ spot, ...door }) =>
    spot !== null && own(level.spots, spot) ? [{ ...door, spot }] : []
  );
}

/** What is told of a level's inside on its picture. */
export interface GroundMarks {
  /** Of spots and passages that play never comes to: why, as the check says it. */
  spots: Map<Id, string>;
  passages: Map<Id, string>;
  /** Passages behind which no other leads back to where they begin. */
  drops: Set<Id>;
}

export function groundMarks(document: FlowDocument, id: Id, verdicts: readonly Verdict[]): GroundMarks {
  const failing = (check: CheckName) =>
    new Map(
      verdicts.flatMap(({ check: name, subject, outcome, message }) => {
        const [place, thing] = subject.split('/');
        return name === check && place === id && outcome === 'fails' ? [[thing!, message] as const] : [];
      })
    );
  const passages = Object.entries((document.places[id] as Level).passages);
  const comesBack = (from: Id, to: Id) => {
    const seen = new Set([to]);
    for (const spot of seen)
      for (const [, passage] of passages) {
        const next = leadsTo(passage, spot);
        if (next !== undefined) seen.add(next);
      }
    return seen.has(from);
  };
  const drops = passages.flatMap(([passage, { from, to, both }]) => (both || comesBack(from, to) ? [] : [passage]));
  return { spots: failing('spot-reached'), passages: failing('passage-walked'), drops: new Set(drops) };
}
