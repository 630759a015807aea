/** Drawing a plan: each function gives another plan and leaves the one it was given (docs/flow-format.md, section 13). */
import type { Cell, Id, Plan, PlanPatrol, PlanThing } from '../document/types.ts';
import { freeId } from '../document/ids.ts';
import { mostCells } from '../vocabulary/ground.ts';

/** What a stamp puts into a cell; `nothing` takes away what stands there, and where nothing does opens the ground. */
export type Stamp = { ground: string } | { piece: Id } | { entry: Id } | { gate: string } | { nothing: true };

/** A rectangle of cells; both corners belong to it, whichever they are. */
export interface Part {
  from: Cell;
  to: Cell;
}

export const isSame = ([ax, ay]: Cell, [bx, by]: Cell): boolean => ax === bx && ay === by;
export const widthOf = ({ rows }: Plan): number => Math.max(0, ...rows.map(({ length }) => length));

/** The corners of a part, left and top first. */
export function cornersOf({ from, to }: Part): { left: number; top: number; right: number; bottom: number } {
  return {
    left: Math.min(from[0], to[0]),
    top: Math.min(from[1], to[1]),
    right: Math.max(from[0], to[0]),
    bottom: Math.max(from[1], to[1])
  };
}

export function isIn(part: Part, [x, y]: Cell): boolean {
  const { left, top, right, bottom } = cornersOf(part);
  return x >= left && x <= right && y >= top && y <= bottom;
}

/** An empty plan: open, with solid ground around it; from the side open at the top. */
export function emptyPlan(view: Plan['view'], width: number, height: number): Plan {
  const rows = Array.from({ length: height }, (_, y) => {
    const isEdge = y === height - 1 || (y === 0 && view === 'above');
    return isEdge ? '#'.repeat(width) : `#${'.'.repeat(Math.max(0, width - 2))}#`.slice(0, width);
  });
  return { view, rows };
}

/** The character of the ground in a cell; undefined outside of the rows. */
export const groundAt = ({ rows }: Plan, [x, y]: Cell): string | undefined => rows[y]?.[x];

/** The pieces that a plan places; what patrols and what is below is placed too. */
export function placedIn({ things = {}, patrols = {}, below }: Plan): Set<Id> {
  const placed = Object.values(things).flatMap((thing) => ('piece' in thing && thing.cells.length > 0 ? [thing.piece] : []));
  const patrolling = Object.values(patrols).map(({ piece }) => piece);
  return new Set([...placed, ...patrolling, ...(below === undefined ? [] : [below])]);
}

const cellsOf = (thing: PlanThing): Cell[] => ('entry' in thing ? [thing.cell] : thing.cells);
const kindOf = (thing: PlanThing) => ('piece' in thing ? 'piece' : 'entry' in thing ? 'entry' : 'gate');

/** What stands in a cell, in the order in which it is seen: the entry on top. */
export function thingsAt({ things = {} }: Plan, cell: Cell): { id: Id; thing: PlanThing }[] {
  const there = Object.entries(things).filter(([, thing]) => cellsOf(thing).some((each) => isSame(each, cell)));
  const rank = { entry: 0, piece: 1, gate: 2 };
  return there.map(([id, thing]) => ({ id, thing })).sort((a, b) => rank[kindOf(a.thing)] - rank[kindOf(b.thing)]);
}

/** Puts a stamp into cells; those outside of the rows stay as they are. */
export function stamped(plan: Plan, cells: Cell[], stamp: Stamp): Plan {
  const inside = cells.filter((cell) => groundAt(plan, cell) !== undefined);
  if (inside.length === 0) return plan;
  if ('ground' in stamp) return { ...plan, rows: painted(plan.rows, inside, () => stamp.ground) };
  if ('nothing' in stamp) return emptied(plan, inside);
  const things = { ...plan.things };
  // a cell holds one piece, and an entry or a gate beside it
  const kind = 'piece' in stamp ? 'piece' : 'entry' in stamp ? 'entry' : 'gate';
  const placed = kind === 'entry' ? inside.slice(-1) : inside;
  const isHere = among(placed);
  for (const [id, thing] of Object.entries(things)) {
    if (kindOf(thing) !== kind || isSameThing(thing, stamp)) continue;
    if (!('entry' in thing)) things[id] = withCells(thing, without(thing.cells, isHere));
  }
  const own = Object.entries(things).find(([, thing]) => isSameThing(thing, stamp));
  const [id, thing] = own ?? [newId(plan, stamp), made(stamp)];
  things[id] =
    'entry' in thing
      ? { ...thing, cell: placed[0]! }
      : { ...thing, cells: [...thing.cells, ...without(placed, among(thing.cells))] };
  // one that stood nowhere before may be placed next
  const isLeft = (id: Id, thing: PlanThing) => 'entry' in thing || thing.cells.length > 0 || things[id] === plan.things?.[id];
  return { ...plan, things: Object.fromEntries(Object.entries(things).filter(([each, left]) => isLeft(each, left))) };
}

function isSameThing(thing: PlanThing, stamp: Stamp): boolean {
  if ('piece' in stamp) return 'piece' in thing && thing.piece === stamp.piece;
  if ('entry' in stamp) return 'entry' in thing && thing.entry === stamp.entry;
  return 'gate' in stamp && 'gate' in thing && thing.gate === stamp.gate;
}

function made(stamp: Exclude<Stamp, { ground: string } | { nothing: true }>): PlanThing {
  if ('piece' in stamp) return { piece: stamp.piece, cells: [] };
  return 'entry' in stamp ? { entry: stamp.entry, cell: [0, 0] } : { gate: stamp.gate, cells: [] };
}

/** The id of a thing that is placed first: that of its piece or entry, where it is free. */
const newId = ({ things = {} }: Plan, stamp: Exclude<Stamp, { ground: string } | { nothing: true }>): Id =>
  freeId('piece' in stamp ? stamp.piece : 'entry' in stamp ? stamp.entry : 'gate', things);

/** A link from a cell to another. */
export function withLink(plan: Plan, from: Cell, to: Cell): Plan {
  const { links = {} } = plan;
  return { ...plan, links: { ...links, [freeId('link', links)]: { from, to } } };
}

/** An area with a name to begin with. */
export function withArea(plan: Plan, { from, to }: Part): Plan {
  const { areas = {} } = plan;
  const name = `Area ${Object.keys(areas).length + 1}`;
  return { ...plan, areas: { ...areas, [freeId('area', areas)]: { name, from, to } } };
}

/** As fast as a foe usually patrols, in cells a second. */
export const usualPatrolSpeed = 2;

/** A patrol of a piece from point to point. */
export function withPatrol(plan: Plan, piece: Id, points: Cell[], turn: PlanPatrol['turn']): Plan {
  const { patrols = {} } = plan;
  const id = freeId(`${piece}_patrol`, patrols);
  return { ...plan, patrols: { ...patrols, [id]: { piece, points, turn, speed: usualPatrolSpeed } } };
}

/** Whether a cell is one of these. */
function among(cells: Cell[]): (cell: Cell) => boolean {
  const keys = new Set(cells.map((cell) => cell.join()));
  return (cell) => keys.has(cell.join());
}

function without(cells: Cell[], isGone: (cell: Cell) => boolean): Cell[] {
  return cells.some(isGone) ? cells.filter((cell) => !isGone(cell)) : cells;
}

const withCells = <T extends { cells: Cell[] }>(thing: T, cells: Cell[]): T =>
  cells === thing.cells ? thing : { ...thing, cells };

/** Things that still stand somewhere. */
export const stillPlaced = (things: Record<Id, PlanThing>): Record<Id, PlanThing> =>
  Object.fromEntries(Object.entries(things).filter(([, thing]) => 'entry' in thing || thing.cells.length > 0));

function painted(rows: string[], cells: Cell[], ground: (cell: Cell) => string): string[] {
  const copies = new Map<number, string[]>();
  for (const cell of cells) {
    const [x, y] = cell;
    if (!copies.has(y)) copies.set(y, [...rows[y]!]);
    copies.get(y)![x] = ground(cell);
  }
  return rows.map((row, y) => copies.get(y)?.join('') ?? row);
}

/** Takes away what stands in cells; the ground of a cell without anything is opened. */
function emptied(plan: Plan, cells: Cell[]): Plan {
  const isHere = among(cells);
  const isTaken = among(Object.values(plan.things ?? {}).flatMap(cellsOf));
  const bare = without(cells, isTaken);
  const things = Object.entries(plan.things ?? {}).flatMap(([id, thing]): [Id, PlanThing][] =>
    'entry' in thing ? (isHere(thing.cell) ? [] : [[id, thing]]) : [[id, withCells(thing, without(thing.cells, isHere))]]
  );
  return {
    ...plan,
    rows: bare.length === cells.length ? painted(plan.rows, bare, () => '.') : plan.rows,
    ...(plan.things && { things: stillPlaced(Object.fromEntries(things)) })
  };
}

/** The cells of a straight line (J. E. Bresenham, Algorithm for computer control of a digital plotter, 1965). */
export function lineCells([x, y]: Cell, [tx, ty]: Cell): Cell[] {
  const cells: Cell[] = [];
  const [dx, dy] = [Math.abs(tx - x), -Math.abs(ty - y)];
  const [sx, sy] = [x < tx ? 1 : -1, y < ty ? 1 : -1];
  for (let error = dx + dy; ;) {
    cells.push([x, y]);
    if (x === tx && y === ty) return cells;
    const twice = 2 * error;
    if (twice >= dy) {
      error += dy;
      x += sx;
    }
    if (twice <= dx) {
      error += dx;
      y += sy;
    }
  }
}

export function partCells(part: Part): Cell[] {
  const { left, top, right, bottom } = cornersOf(part);
  return Array.from({ length: bottom - top + 1 }, (_, y) =>
    Array.from({ length: right - left + 1 }, (_, x): Cell => [left + x, top + y])
  ).flat();
}

/** All cells of the same ground that hang together with a cell, side by side. */
export function fillCells(plan: Plan, start: Cell): Cell[] {
  const wanted = groundAt(plan, start);
  if (wanted === undefined) return [];
  const width = widthOf(plan);
  const seen = new Set([start[1] * width + start[0]]);
  const cells: Cell[] = [start];
  for (const [x, y] of cells)
    for (const next of [
      [x + 1, y],
      [x - 1, y],
      [x, y + 1],
      [x, y - 1]
    ] as Cell[]) {
      const code = next[1] * width + next[0];
      if (groundAt(plan, next) !== wanted || seen.has(code)) continue;
      seen.add(code);
      cells.push(next);
    }
  return cells;
}

const turned: Record<string, string> = { '<': '>', '>': '<' };

/** Turns a part round, left to right, with all that stands in it. */
export function mirrored(plan: Plan, part: Part): Plan {
  const { left, right } = cornersOf(part);
  return carried(
    plan,
    part,
    ([x, y]) => [left + right - x, y],
    (ground) => turned[ground] ?? ground
  );
}

/** Moves a part, with all that stands in it, over what is there; it leaves open ground behind. What goes outside is lost. */
export function movedPart(plan: Plan, part: Part, [dx, dy]: Cell): Plan {
  return carried(
    plan,
    part,
    ([x, y]) => [x + dx, y + dy],
    (ground) => ground
  );
}

function carried(plan: Plan, part: Part, to: (cell: Cell) => Cell, turn: (ground: string) => string): Plan {
  const cells = partCells(part).filter((cell) => groundAt(plan, cell) !== undefined);
  const isTarget = new Set(cells.map((cell) => to(cell).join()));
  const isSource = new Set(cells.map((cell) => cell.join()));
  const carry = (all: Cell[]): Cell[] =>
    all.flatMap((cell): Cell[] => {
      if (isSource.has(cell.join())) return groundAt(plan, to(cell)) === undefined ? [] : [to(cell)];
      return isTarget.has(cell.join()) ? [] : [cell];
    });
  const opened = painted(plan.rows, cells, () => '.');
  const laid = cells.filter((cell) => groundAt(plan, to(cell)) !== undefined);
  const grounds = new Map(laid.map((cell) => [to(cell).join(), turn(groundAt(plan, cell)!)]));
  const rows = painted(opened, laid.map(to), (cell) => grounds.get(cell.join())!);
  const end = (cell: Cell): Cell => (isSource.has(cell.join()) ? to(cell) : cell);
  const things = Object.entries(plan.things ?? {}).flatMap(([id, thing]): [Id, PlanThing][] => {
    if (!('entry' in thing)) return [[id, { ...thing, cells: carry(thing.cells) }]];
    const [cell] = carry([thing.cell]);
    return cell ? [[id, { ...thing, cell }]] : [];
  });
  return {
    ...plan,
    rows,
    ...(plan.things && { things: stillPlaced(Object.fromEntries(things)) }),
    ...(plan.links && {
      links: mapped(plan.links, (link) => ({ ...link, from: end(link.from), to: end(link.to) }))
    }),
    ...(plan.patrols && {
      patrols: mapped(plan.patrols, (patrol) => ({ ...patrol, points: patrol.points.map(end) }))
    })
  };
}

const mapped = <A>(map: Record<Id, A>, to: (value: A) => A): Record<Id, A> =>
  Object.fromEntries(Object.entries(map).map(([id, value]) => [id, to(value)]));

/** Another size, with new open cells at the right and at the bottom; what falls outside is lost. */
export function resized(plan: Plan, width: number, height: number): Plan {
  const [w, h] = [Math.min(Math.max(1, width), mostCells.x), Math.min(Math.max(1, height), mostCells.y)];
  const rows = Array.from({ length: h }, (_, y) => (plan.rows[y] ?? '').slice(0, w).padEnd(w, '.'));
  const inside = ([x, y]: Cell) => x < w && y < h;
  const things = Object.entries(plan.things ?? {}).flatMap(([id, thing]): [Id, PlanThing][] => {
    if (!('entry' in thing)) return [[id, { ...thing, cells: thing.cells.filter(inside) }]];
    return inside(thing.cell) ? [[id, thing]] : [];
  });
  const patrols = Object.entries(plan.patrols ?? {}).flatMap(([id, patrol]): [Id, PlanPatrol][] => {
    const points = patrol.points.filter(inside);
    return points.length > 0 ? [[id, { ...patrol, points }]] : [];
  });
  const kept = <T extends Part>(map: Record<Id, T>, isKept: (part: T) => boolean) =>
    Object.fromEntries(Object.entries(map).filter(([, part]) => isKept(part)));
  return {
    ...plan,
    rows,
    ...(plan.things && { things: stillPlaced(Object.fromEntries(things)) }),
    ...(plan.links && { links: kept(plan.links, ({ from, to }) => inside(from) && inside(to)) }),
    ...(plan.areas && { areas: kept(plan.areas, ({ from, to }) => inside(from) || inside(to)) }),
    ...(plan.patrols && { patrols: Object.fromEntries(patrols) })
  };
}

/** Rows of one length: what short ones lack is solid, as it is taken for. */
export function evenRows(plan: Plan): Plan {
  const width = widthOf(plan);
  return { ...plan, rows: plan.rows.map((row) => row.padEnd(width, '#')) };
}
