/** Where the words at the ends of routes stand: beside their line, on no other word, and where there is room on no line. */
import { moves } from '../vocabulary/moves.ts';
import type { Point, Route } from './layout.ts';

export interface Label {
  /** Of the route that it belongs to. */
  key: string;
  words: string;
  /** Where its base line begins, or ends where it stands left of its line. */
  x: number;
  y: number;
  anchor: 'start' | 'end';
}

/** Of a label, in the lane's own measure; a letter is taken for wider than most are. */
export const labelSize = 10;
const letter = 5.6;
const gap = 4;

export function labelsOf(routes: Route[]): Label[] {
  const worded = routes.filter(({ word }) => word).sort((a, b) => a.end.y - b.end.y || a.end.x - b.end.x);
  if (worded.length === 0) return [];
  const upright = routes
    .flatMap(({ feeders, trunk }) => [...feeders.map(({ points }) => points), trunk])
    .flatMap(uprights)
    .sort((a, b) => a.x - b.x);
  const placed: Box[] = [];
  return worded.map(({ key, word, end }) => {
    const words = moves[word!].short ?? word!;
    const y = end.way === 'down' ? end.y - gap : end.y + labelSize;
    const sides = (['start', 'end'] as const).map((anchor) => {
      const wide = words.length * letter;
      const x = anchor === 'start' ? end.x + gap : end.x - gap;
      const left = anchor === 'start' ? x : x - wide;
      const box = { left, right: left + wide, top: y - labelSize, bottom: y + 2 };
      // a word on another is not to be read at all
      const cost = placed.filter((other) => meet(box, other)).length * 100 + crossing(upright, box);
      return { anchor, x, box, cost };
    });
    const best = sides[1]!.cost < sides[0]!.cost ? sides[1]! : sides[0]!;
    placed.push(best.box);
    return { key, words, x: best.x, y, anchor: best.anchor };
  });
}

interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}
interface Upright {
  x: number;
  top: number;
  bottom: number;
}

const meet = (a: Box, b: Box) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

function uprights(points: Point[]): Upright[] {
  return points.slice(1).flatMap(({ x, y }, index) => {
    const from = points[index]!;
    return from.x === x ? [{ x, top: Math.min(from.y, y), bottom: Math.max(from.y, y) }] : [];
  });
}

/** How many lines go through a box; of `lines`, which are sorted, only those near it are looked at. */
function crossing(lines: Upright[], { left, right, top, bottom }: Box): number {
  let [low, high] = [0, lines.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (lines[middle]!.x < left) low = middle + 1;
    else high = middle;
  }
  let count = 0;
  for (let at = low; at < lines.length && lines[at]!.x <= right; at++)
    if (lines[at]!.top < bottom && lines[at]!.bottom > top) count++;
  return count;
}
