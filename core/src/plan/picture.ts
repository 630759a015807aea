/** The picture of a plan as shapes, in cells: drawn on the screen and written as SVG from the same list. */
import type { Cell, Id, Level, Plan, PlanPatrol, PlanThing } from '../document/types.ts';
import { cornersOf, widthOf, type Part } from './draw.ts';
import { oneWay } from './ground.ts';
import { lettersOf, readOf } from './letters.ts';

export type Look = 'paper' | 'solid' | 'line' | 'thing' | 'acts' | 'entry' | 'gate' | 'link' | 'area' | 'patrol' | 'letter';

export type Shape =
  | { is: 'rect'; look: Look; x: number; y: number; width: number; height: number }
  /** A line, or a closed form where it is filled. */
  | { is: 'path'; look: Look; points: Cell[]; filled?: true; width?: number }
  | { is: 'text'; look: Look; x: number; y: number; text: string; size: number };

/** What of a plan is in sight, but for the foes that patrol; all of it where nothing is said. */
export function planShapes(level: Level, plan: Plan, sight?: Part): Shape[] {
  const part = sight ?? { from: [0, 0], to: [widthOf(plan) - 1, plan.rows.length - 1] };
  return [
    ...groundShapes(plan, part),
    ...areaShapes(plan),
    ...linkShapes(plan),
    ...runShapes(plan),
    ...thingShapes(level, plan, part)
  ];
}

function groundShapes({ rows, view }: Plan, part: Part): Shape[] {
  const { left, top, right, bottom } = cornersOf(part);
  const shapes: Shape[] = [];
  for (let y = Math.max(0, top); y <= Math.min(bottom, rows.length - 1); y++) {
    const row = rows[y]!;
    for (let x = Math.max(0, left); x <= Math.min(right, row.length - 1); x++) {
      const char = row[x]!;
      if (char === '#') {
        let end = x;
        while (end < right && row[end + 1] === '#') end++;
        shapes.push({ is: 'rect', look: 'solid', x, y, width: end - x + 1, height: 1 });
        x = end;
      } else if (char === '-') {
        if (view === 'above') shapes.push({ is: 'rect', look: 'paper', x, y, width: 1, height: 1 });
        for (const at of [0.09, 0.28]) shapes.push(line([x, y + at], [x + 1, y + at]));
        if (view === 'above') for (const at of [0.5, 0.72, 0.93]) shapes.push(line([x, y + at], [x + 1, y + at]));
      } else if (char === '|') {
        shapes.push(line([x + 0.28, y], [x + 0.28, y + 1]), line([x + 0.72, y], [x + 0.72, y + 1]));
        for (const at of [0.25, 0.75]) shapes.push(line([x + 0.28, y + at], [x + 0.72, y + at]));
      } else if (view === 'above' && oneWay[char]) {
        const [dx, dy] = oneWay[char];
        const point = (along: number, aside: number): Cell => [
          x + 0.5 + dx * along - dy * aside,
          y + 0.5 + dy * along + dx * aside
        ];
        for (const at of [-0.15, 0.15])
          shapes.push({ is: 'path', look: 'line', points: [point(at - 0.12, 0.3), point(at + 0.16, 0), point(at - 0.12, -0.3)] });
      } else if (char !== '.') shapes.push({ is: 'text', look: 'letter', x: x + 0.5, y: y + 0.5, text: char, size: 0.6 });
    }
  }
  return shapes;
}

const line = (from: Cell, to: Cell): Shape => ({ is: 'path', look: 'line', points: [from, to] });

function areaShapes({ areas = {} }: Plan): Shape[] {
  return Object.values(areas).flatMap(({ name, from, to }): Shape[] => {
    const { left, top, right, bottom } = cornersOf({ from, to });
    const points: Cell[] = [
      [left, top],
      [right + 1, top],
      [right + 1, bottom + 1],
      [left, bottom + 1],
      [left, top]
    ];
    return [
      { is: 'path', look: 'area', points },
      { is: 'text', look: 'area', x: left + 0.2 + name.length * 0.16, y: top + 0.35, text: name, size: 0.5 }
    ];
  });
}

function linkShapes({ links = {} }: Plan): Shape[] {
  return Object.values(links).flatMap(({ from, to, both }): Shape[] => {
    const [a, b] = [from, to].map(([x, y]): Cell => [x + 0.5, y + 0.5]) as [Cell, Cell];
    const tip = (end: Cell, other: Cell): Shape => {
      const far = Math.hypot(end[0] - other[0], end[1] - other[1]) || 1;
      const [ux, uy] = [(end[0] - other[0]) / far, (end[1] - other[1]) / far];
      const wing = (side: number): Cell => [end[0] - ux * 0.35 - uy * side, end[1] - uy * 0.35 + ux * side];
      return { is: 'path', look: 'link', points: [wing(0.2), end, wing(-0.2)] };
    };
    return [{ is: 'path', look: 'link', points: [a, b] }, tip(b, a), ...(both ? [tip(a, b)] : [])];
  });
}

/** Where patrols go, and their points. */
const runShapes = ({ patrols = {} }: Plan): Shape[] => Object.values(patrols).flatMap((patrol) => runShape(patrol));

export function runShape({ points, turn }: Pick<PlanPatrol, 'points' | 'turn'>): Shape[] {
  const middle = ([x, y]: Cell): Cell => [x + 0.5, y + 0.5];
  const [first] = points;
  const along = first && turn === 'round' && points.length > 2 ? [...points, first] : points;
  const marks = points.map((point): Shape => {
    const [x, y] = middle(point);
    const corners: Cell[] = [
      [x, y - 0.16],
      [x + 0.16, y],
      [x, y + 0.16],
      [x - 0.16, y],
      [x, y - 0.16]
    ];
    return { is: 'path', look: 'patrol', filled: true, points: corners };
  });
  return [...(along.length > 1 ? [{ is: 'path', look: 'patrol', points: along.map(middle) } as const] : []), ...marks];
}

/** The foes that patrol: each in its cell, at its first point where nothing is said; those that are nowhere are left out. */
export function foeShapes(
  level: Level,
  plan: Plan,
  at: (patrol: Id) => Cell | undefined = (patrol) => plan.patrols![patrol]!.points[0]
): Shape[] {
  const letters = letterOf(level, plan);
  return Object.entries(plan.patrols ?? {}).flatMap(([id, { piece }]) => {
    const cell = at(id);
    const thing: PlanThing = { piece, cells: [] };
    return cell ? thingMark(level, thing, letters(thing), cell) : [];
  });
}

function letterOf(level: Level, plan: Plan): (thing: PlanThing) => string {
  const letters = new Map(Object.entries(lettersOf(level, plan)).map(([char, read]) => [JSON.stringify(read), char]));
  return (thing) => letters.get(JSON.stringify(readOf(thing))) ?? '?';
}

function thingShapes(level: Level, plan: Plan, part: Part): Shape[] {
  const { left, top, right, bottom } = cornersOf(part);
  const inSight = ([x, y]: Cell) => x >= left && x <= right && y >= top && y <= bottom;
  const letters = letterOf(level, plan);
  const rank = (thing: PlanThing) => ('gate' in thing ? 0 : 'piece' in thing ? 1 : 2);
  return Object.values(plan.things ?? {})
    .sort((a, b) => rank(a) - rank(b))
    .flatMap((thing) => {
      const letter = letters(thing);
      const cells = ('entry' in thing ? [thing.cell] : thing.cells).filter(inSight);
      return cells.flatMap((cell) => thingMark(level, thing, letter, cell));
    });
}

/** A thing in its cell, with its letter: what is taken round, what acts by touch square, entries with a point, gates in bars. */
function thingMark(level: Level, thing: PlanThing, text: string, [x, y]: Cell): Shape[] {
  const letter: Shape = { is: 'text', look: 'letter', x: x + 0.5, y: y + 0.52, text, size: 0.56 };
  if ('gate' in thing) {
    const bars = [0.15, 0.38, 0.62, 0.85].map((at): Shape => ({
      is: 'path',
      look: 'gate',
      points: [
        [x + at, y],
        [x + at, y + 1]
      ]
    }));
    return [...bars, { ...letter, look: 'gate' }];
  }
  const form = (points: Cell[], look: Look): Shape => ({
    is: 'path',
    look,
    filled: true,
    points: points.map(([px, py]): Cell => [x + px, y + py])
  });
  if ('entry' in thing)
    return [
      form(
        [
          [0.1, 0.12],
          [0.62, 0.12],
          [0.94, 0.5],
          [0.62, 0.88],
          [0.1, 0.88],
          [0.1, 0.12]
        ],
        'entry'
      ),
      letter
    ];
  const isTaken = level.pieces[thing.piece]?.kind === 'pickup';
  const corners: Cell[] = isTaken
    ? Array.from({ length: 13 }, (_, n): Cell => [
        0.5 + 0.4 * Math.cos((n * Math.PI) / 6),
        0.5 + 0.4 * Math.sin((n * Math.PI) / 6)
      ])
    : [
        [0.1, 0.1],
        [0.9, 0.1],
        [0.9, 0.9],
        [0.1, 0.9],
        [0.1, 0.1]
      ];
  return [form(corners, isTaken ? 'thing' : 'acts'), letter];
}
