/**
 * A plan as text, and grids from elsewhere: rows of characters, or separated values (RFC 4180) with a word in each cell. What
 * their characters mean is kept with the plan (`reads`), so that it can be drawn again from the level files of a game.
 */
import Papa from 'papaparse';
import type { Cell, Id, Level, Plan, PlanRead, PlanThing } from '../document/types.ts';
import { groundsOf, mostCells } from '../vocabulary/ground.ts';
import { groundAt, stamped, stillPlaced, type Stamp } from './draw.ts';
import { keyOf, lettersOf, readOf } from './letters.ts';

/** The plan as text, a character a cell; where several things stand in one, that which is seen. */
export function textOf(level: Level, plan: Plan): string {
  return grid(level, plan)
    .map((row) => row.join(''))
    .join('\n');
}

/** The plan as comma-separated values, the characters of its text. */
export const csvOf = (level: Level, plan: Plan): string => `${Papa.unparse(grid(level, plan), { newline: '\r\n' })}\r\n`;

function grid(level: Level, plan: Plan): string[][] {
  const chars = new Map(Object.entries(lettersOf(level, plan)).map(([char, read]) => [keyOf(read), char]));
  const seen = new Map<string, string>();
  const rank = (thing: PlanThing) => ('entry' in thing ? 2 : 'piece' in thing ? 1 : 0);
  for (const thing of Object.values(plan.things ?? {}).sort((a, b) => rank(a) - rank(b)))
    for (const cell of 'entry' in thing ? [thing.cell] : thing.cells) seen.set(cell.join(), chars.get(keyOf(readOf(thing)))!);
  return plan.rows.map((row, y) => [...row].map((ground, x) => seen.get(`${x},${y}`) ?? ground));
}

/** Whether a grid has words between separators, not characters side by side. */
export const isSeparated = (text: string): boolean => /[,;\t]/.test(text);

/** The cells of a grid from elsewhere: characters, or what stands between separators; an empty one is a blank. */
export function gridOf(text: string): string[][] {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '').replace(/^\n+/, '');
  if (!isSeparated(lines)) return lines.split('\n').map((line) => [...line]);
  const { data } = Papa.parse<string[]>(lines, { skipEmptyLines: true });
  const rows = data.map((row) => row.map((cell) => cell.trim() || ' '));
  // a separator after the last cell makes none
  const hasTail = rows.length > 1 && rows.every((row) => row.at(-1) === ' ');
  return hasTail ? rows.map((row) => row.slice(0, -1)) : rows;
}

/** The cells of a grid that mean nothing yet, with how often each is there, in the order met. */
export function unknownIn(cells: string[][], level: Level, plan: Plan): Map<string, number> {
  const known = meanings(level, plan);
  const found = new Map<string, number>();
  for (const row of cells) for (const cell of row) if (!known(cell)) found.set(cell, (found.get(cell) ?? 0) + 1);
  return found;
}

function meanings(level: Level, plan: Plan): (cell: string) => PlanRead | undefined {
  const { reads = {} } = plan;
  const letters = lettersOf(level, plan);
  const grounds = groundsOf(plan.view);
  return (cell) =>
    Object.hasOwn(reads, cell)
      ? reads[cell]
      : Object.hasOwn(letters, cell)
        ? letters[cell]
        : grounds.includes(cell)
          ? cell
          : undefined;
}

/** A grid is larger than a plan can be. */
export class TooLarge extends Error {
  constructor(width: number, height: number) {
    super(`The grid has ${width} × ${height} cells. A plan has at most ${mostCells.x} × ${mostCells.y}.`);
  }
}

/**
 * The plan as a grid draws it. What cannot be told by its characters stays: links, areas, the ground under a thing that was
 * there already, and things of which no character speaks: in a grid from elsewhere those that `reads` does not name, in the
 * plan's own text (`isOwn`) none. Cells that mean nothing are solid. Throws `TooLarge`.
 */
export function drawnFrom(cells: string[][], level: Level, plan: Plan, isOwn = false): Plan {
  const width = Math.max(0, ...cells.map(({ length }) => length));
  if (width > mostCells.x || cells.length > mostCells.y) throw new TooLarge(width, cells.length);
  const meaning = meanings(level, plan);
  const before = grid(level, plan);
  const isUnchanged = ([x, y]: Cell) => before[y]?.[x] !== undefined && before[y][x] === cells[y]?.[x];
  const rows = cells.map((row, y) =>
    row
      .map((char, x) => {
        const read = meaning(char);
        if (isUnchanged([x, y])) return groundAt(plan, [x, y])!;
        return read === undefined ? '#' : typeof read === 'string' ? read : '.';
      })
      .join('')
  );
  const spoken = new Set(Object.values({ ...(isOwn && lettersOf(level, plan)), ...plan.reads }).map(keyOf));
  const stays = (thing: PlanThing, cell: Cell) =>
    isUnchanged(cell) || (!spoken.has(keyOf(readOf(thing))) && cells[cell[1]]?.[cell[0]] !== undefined);
  const things = Object.entries(plan.things ?? {}).flatMap(([id, thing]): [Id, PlanThing][] => {
    if ('entry' in thing) return stays(thing, thing.cell) ? [[id, thing]] : [];
    // one that is drawn elsewhere keeps its id
    return [[id, { ...thing, cells: thing.cells.filter((cell) => stays(thing, cell)) }]];
  });
  const placed = new Map<string, { stamp: Stamp; cells: Cell[] }>();
  cells.forEach((row, y) =>
    row.forEach((char, x) => {
      const read = meaning(char);
      if (read === undefined || typeof read === 'string' || isUnchanged([x, y])) return;
      const one = placed.get(keyOf(read)) ?? { stamp: read, cells: [] };
      one.cells.push([x, y]);
      placed.set(keyOf(read), one);
    })
  );
  const drawn: Plan = {
    ...plan,
    rows,
    ...((plan.things !== undefined || placed.size > 0) && { things: Object.fromEntries(things) })
  };
  const whole = [...placed.values()].reduce((now, { stamp, cells: here }) => stamped(now, here, stamp), drawn);
  return whole.things ? { ...whole, things: stillPlaced(whole.things) } : whole;
}
