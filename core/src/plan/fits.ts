/** What of a plan cannot be as it is drawn (docs/flow-format.md, section 13; the checks `plan-fits` and `too-close`). */
import { own, type Cell, type FlowDocument, type Id, type Level, type PlanPatrol, type PlanThing } from '../document/types.ts';
import { groundsOf, mostPassages, mostSpots } from '../vocabulary/ground.ts';
import { canPatrol } from '../vocabulary/pieces.ts';
import { isSame, thingsAt, widthOf } from './draw.ts';
import { derivedOf, drawnOf } from './grown.ts';
import { Ground } from './ground.ts';
import { idlePoints, patrolSpeed, runOf } from './patrols.ts';

export type FaultKind =
  | 'uneven rows'
  | 'no ground'
  | 'no such thing'
  | 'not placed'
  | 'no footing'
  | 'outside'
  | 'in solid ground'
  | 'two in a cell'
  | 'trapdoor'
  | 'link'
  | 'no patrol'
  | 'no speed'
  | 'patrol blocked'
  | 'idle point'
  | 'too much';

/** One thing that does not fit, with the cells in which it shows. */
export interface Fault {
  is: FaultKind;
  text: string;
  cells: Cell[];
  /** The piece or entry that it is about, or the character. */
  of?: string;
  /** The patrol that it is about, and its points. */
  patrol?: Id;
  points?: number[];
}

/** Faults that leave a plan as it can be played, if rarely as intended. */
export const mildFaults: readonly FaultKind[] = ['trapdoor', 'idle point'];

/** As many passages as can lead from a spot to another. */
const mostBetween = 8;
const mostCellsTold = 4;

/** "at 3, 4; 5, 4 and 6, 4"; of many cells the first ones, and the number of the rest. */
export function atCells(cells: Cell[]): string {
  const told = cells.slice(0, mostCellsTold).map(([x, y]) => `${x}, ${y}`);
  const more = cells.length - told.length;
  if (more > 0) return `at ${told.join('; ')} and ${more} more`;
  return `at ${told.length > 1 ? `${told.slice(0, -1).join('; ')} and ${told.at(-1)!}` : told[0]!}`;
}

/** All that does not fit in the plan of a level, worst first; none without a plan. */
export function faultsOf(document: FlowDocument, level: Level): Fault[] {
  const drawn = drawnOf(document, level);
  if (!drawn) return [];
  const ground = new Ground(drawn);
  return [
    // beside this all else hardly counts
    ...tooMuch(document, level),
    ...rowFaults(level, ground),
    ...thingFaults(level, ground),
    ...linkFaults(level, ground),
    ...Object.entries(level.plan!.patrols ?? {}).flatMap(([id, patrol]) => patrolFaults(document, level, ground, id, patrol)),
    ...trapdoors(ground)
  ];
}

const cellsOf = (thing: PlanThing): Cell[] => ('entry' in thing ? [thing.cell] : thing.cells);

function rowFaults({ plan }: Level, ground: Ground): Fault[] {
  const { rows, view } = plan!;
  const faults: Fault[] = [];
  const width = widthOf(plan!);
  const short = rows.flatMap((row, y): Cell[] => (row.length < width ? [[row.length, y]] : []));
  if (short.length > 0) {
    const first = short[0]!;
    const text = `Row ${first[1]} has ${first[0]} cells and the widest row ${width}${
      short.length > 1 ? `; ${short.length} rows are too short` : ''
    }. What is missing counts as solid.`;
    faults.push({ is: 'uneven rows', text, cells: short });
  }
  const known = new Set(groundsOf(view));
  const unknown = new Map<string, Cell[]>();
  rows.forEach((row, y) =>
    [...row].forEach((char, x) => {
      if (known.has(char)) return;
      if (!unknown.has(char)) unknown.set(char, []);
      unknown.get(char)!.push([x, y]);
    })
  );
  for (const [char, cells] of unknown)
    faults.push({
      is: 'no ground',
      of: char,
      text: `“${char}” ${atCells(cells)} is no ground seen from ${view === 'side' ? 'the side' : 'above'}. It counts as solid.`,
      cells
    });
  const { width: w, height: h } = ground;
  const canStand = Array.from({ length: w * h }, (_, cell) => cell).some((cell) => ground.isFooting(...ground.cellOf(cell)));
  if (!canStand) faults.push({ is: 'no footing', text: 'The player can stand in no cell.', cells: [] });
  return faults;
}

function thingFaults(level: Level, ground: Ground): Fault[] {
  const { plan, pieces, entries, name } = level;
  const faults: Fault[] = [];
  const placed = new Set<Id>(Object.values(plan!.patrols ?? {}).map(({ piece }) => piece));
  const arrived = new Set<Id>();
  const nameOf = (thing: PlanThing) =>
    'piece' in thing
      ? (pieces[thing.piece]?.name ?? thing.piece)
      : 'entry' in thing
        ? (entries[thing.entry]?.name ?? thing.entry)
        : (thing.name ?? 'A gate');
  const ofThing = (thing: PlanThing) => ('piece' in thing ? thing.piece : 'entry' in thing ? thing.entry : undefined);
  for (const thing of Object.values(plan!.things ?? {})) {
    // what was taken away cell by cell is not there
    if ('piece' in thing && thing.cells.length === 0) continue;
    const of = ofThing(thing);
    const own = of === undefined ? {} : { of };
    const cells = cellsOf(thing);
    const said = (is: FaultKind, where: Cell[], text: string) => faults.push({ is, text, cells: where, ...own });
    if ('piece' in thing) {
      placed.add(thing.piece);
      const kind = pieces[thing.piece]?.kind;
      if (kind === undefined) said('no such thing', cells, `The plan places ${thing.piece}, which ${name} does not have.`);
      else if (kind === 'player')
        said('no such thing', cells, `${nameOf(thing)} is a player: players arrive at entries and are not placed.`);
    } else if ('entry' in thing) {
      if (entries[thing.entry] === undefined)
        said('no such thing', cells, `The plan places the entry ${thing.entry}, which ${name} does not have.`);
      else if (arrived.has(thing.entry)) said('two in a cell', cells, `The entry ${nameOf(thing)} is placed twice.`);
      arrived.add(thing.entry);
    }
    const outside = cells.filter(([x, y]) => ground.at(x, y) === undefined);
    if (outside.length > 0) said('outside', outside, `${nameOf(thing)} ${atCells(outside)} is outside of the plan.`);
    const within = cells.filter(([x, y]) => ground.at(x, y) !== undefined);
    const buried = within.filter(([x, y]) => ground.isSolid(x, y));
    if (buried.length > 0) said('in solid ground', buried, `${nameOf(thing)} ${atCells(buried)} is in solid ground.`);
    else if ('entry' in thing && within.length > 0 && !ground.isFooting(...thing.cell))
      said('no footing', within, `The player arrives at ${nameOf(thing)}, ${thing.cell.join(', ')}, and cannot stand there.`);
  }
  const crowded = crowdedCells(plan!.things ?? {});
  if (crowded.length > 0) {
    const names = thingsAt(plan!, crowded[0]!)
      .filter(({ thing }) => 'piece' in thing)
      .map(({ thing }) => nameOf(thing));
    faults.push({
      is: 'two in a cell',
      cells: crowded,
      text: `${names.join(' and ')} stand in one cell ${atCells(crowded.slice(0, 1))}${
        crowded.length > 1 ? `; ${crowded.length} cells hold two pieces` : ''
      }. A cell holds one piece.`
    });
  }
  for (const [id, { name: called }] of Object.entries(entries))
    if (!arrived.has(id)) faults.push({ is: 'not placed', of: id, cells: [], text: `The entry ${called} is not placed.` });
  for (const [id, { name: called, kind }] of Object.entries(pieces))
    if (kind !== 'player' && !placed.has(id) && plan!.below !== id)
      faults.push({ is: 'not placed', of: id, cells: [], text: `${called} is not placed. It counts as everywhere.` });
  if (plan!.below !== undefined && pieces[plan!.below] === undefined)
    faults.push({
      is: 'no such thing',
      of: plan!.below,
      cells: [],
      text: `A fall out of the rows touches ${plan!.below}, which ${name} does not have.`
    });
  return faults;
}

/** Cells with more than one piece. */
function crowdedCells(things: Record<Id, PlanThing>): Cell[] {
  const held = new Set<string>();
  const crowded: Cell[] = [];
  for (const thing of Object.values(things)) {
    if (!('piece' in thing)) continue;
    for (const cell of thing.cells) {
      if (held.has(cell.join())) crowded.push(cell);
      held.add(cell.join());
    }
  }
  return crowded;
}

function linkFaults({ plan }: Level, ground: Ground): Fault[] {
  return Object.values(plan!.links ?? {}).flatMap(({ from, to, both, name = 'A link' }): Fault[] => {
    const begins = both ? [from, to] : [from];
    const lost = [from, to].filter(([x, y]) => ground.at(x, y) === undefined);
    if (lost.length > 0) return [{ is: 'link', cells: lost, text: `${name} ${atCells(lost)} is outside of the plan.` }];
    const bad = begins.filter(([x, y]) => !ground.isFooting(x, y));
    return bad.length === 0
      ? []
      : [{ is: 'link', cells: bad, text: `${name} begins ${atCells(bad)}, where the player cannot stand.` }];
  });
}

/** A foe goes over what is open from point to point, and every point makes a difference. */
function patrolFaults(document: FlowDocument, level: Level, ground: Ground, id: Id, patrol: PlanPatrol): Fault[] {
  const { piece, points } = patrol;
  const kind = own(level.pieces, piece)?.kind;
  if (kind === undefined)
    return [{ is: 'no such thing', of: piece, cells: [], text: `${piece} patrols, which ${level.name} does not have.` }];
  const name = patrolName(level, id);
  const faults: Fault[] = [];
  const said = (is: FaultKind, text: string, cells: Cell[] = [], more: Partial<Fault> = {}) =>
    faults.push({ is, text: `${name}: ${text}`, cells, of: piece, patrol: id, ...more });
  if (!canPatrol(kind))
    said('no patrol', `it is ${kind === 'exit' || kind === 'other' ? 'an' : 'a'} ${kind}, and only foes and hazards patrol.`);
  const speed = patrolSpeed(document, patrol);
  if (speed === undefined) said('no speed', `there is no number “${patrol.speed}” for its speed.`);
  else if (speed <= 0) said('no speed', `its speed is ${speed}, and has to be above 0.`);
  const isOutside = (cell: Cell) => ground.at(...cell) === undefined;
  const lost = numbered(points, isOutside);
  const placed = (found: number[]) => found.map((point) => points[point]!);
  if (lost.length > 0) said('patrol blocked', `${pointWords(lost)} outside of the plan.`, placed(lost), { points: lost });
  const buried = numbered(points, (cell) => !isOutside(cell) && !ground.isOpen(...cell));
  if (buried.length > 0)
    said('patrol blocked', `${pointWords(buried)} in solid ground ${atCells(placed(buried))}.`, placed(buried), {
      points: buried
    });
  const run = runOf(patrol).filter((cell) => !points.some((point) => isSame(point, cell)));
  const walls = apartFrom(run, (cell) => !isOutside(cell) && !ground.isOpen(...cell));
  if (walls.length > 0) said('patrol blocked', `it goes through solid ground ${atCells(walls)}.`, walls);
  const gates = apartFrom(runOf(patrol), (cell) => !isOutside(cell) && ground.gates.has(ground.at(...cell)!));
  if (gates.length > 0) said('patrol blocked', `it goes through a gate ${atCells(gates)}; foes open none.`, gates);
  const idle = idlePoints(patrol);
  for (const point of idle) {
    const same = point === points.length - 1 && isSame(points[point]!, points[0]!) ? 1 : point;
    said('idle point', `point ${point + 1} is where point ${same} is: it is skipped.`, [points[point]!], { points: [point] });
  }
  if (points.length - idle.length < 2) said('idle point', 'it has one point and stands still.', [points[0]!]);
  return faults;
}

const numbered = (points: Cell[], isMeant: (cell: Cell) => boolean): number[] =>
  points.flatMap((cell, index) => (isMeant(cell) ? [index] : []));

/** The cells that are meant, each once. */
const apartFrom = (cells: Cell[], isMeant: (cell: Cell) => boolean): Cell[] =>
  cells.filter((cell, index) => isMeant(cell) && cells.findIndex((each) => isSame(each, cell)) === index);

const pointWords = (points: number[]): string =>
  points.length === 1 ? `point ${points[0]! + 1} is` : `points ${points.map((point) => point + 1).join(', ')} are`;

/** What a patrol is called: after its piece, numbered where the piece has several. */
export function patrolName({ plan, pieces }: Level, id: Id): string {
  const patrols = Object.entries(plan?.patrols ?? {});
  const piece = patrols.find(([each]) => each === id)?.[1].piece;
  if (piece === undefined) return id;
  const alike = patrols.filter((each) => each[1].piece === piece);
  const name = own(pieces, piece)?.name ?? piece;
  return alike.length > 1 ? `${name}, patrol ${alike.findIndex(([each]) => each === id) + 1}` : name;
}

/** Seen from the side, a gate holds nobody up: beneath it there is ground, a climb, or another part of a gate. */
function trapdoors(ground: Ground): Fault[] {
  if (ground.drawn.plan.view === 'above') return [];
  const cells = [...ground.gates.keys()]
    .map((cell) => ground.cellOf(cell))
    .filter(([x, y]) => {
      const below = ground.at(x, y + 1);
      const holds = '#-|'.includes(ground.char(x, y + 1)) || ground.char(x, y) === '|';
      return !ground.isSolid(x, y) && !holds && !(below !== undefined && ground.gates.has(below));
    });
  if (cells.length === 0) return [];
  const text = `A gate ${atCells(cells)} is a trapdoor: a gate is no floor, and there is nothing beneath it to stand on.`;
  return [{ is: 'trapdoor', cells, text }];
}

const tooMuchSaid = {
  places: 'The player jumps or falls so far on so much ground that not all can be looked at',
  leads: 'So many different things can be touched on a jump or a fall that not all orders of them can be looked at'
};

function tooMuch(document: FlowDocument, level: Level): Fault[] {
  const { spots, passages, tooMany } = derivedOf(document, level)!;
  const faults: Fault[] = [];
  const many = (text: string, cells: Cell[] = []) => faults.push({ is: 'too much', text, cells });
  if (tooMany) many(`${tooMuchSaid[tooMany]}: all of it counts as one spot now.`);
  const [s, p] = [Object.keys(spots).length, Object.keys(passages).length];
  if (s > mostSpots)
    many(`${s} spots follow from the plan. More than ${mostSpots} are not looked at: all of it counts as one spot now.`);
  else if (p > mostPassages)
    many(`${p} passages follow from the plan. More than ${mostPassages} are not looked at: all of it counts as one spot now.`);
  const between = new Map<string, number>();
  for (const { from, to } of Object.values(passages)) between.set(`${from} ${to}`, (between.get(`${from} ${to}`) ?? 0) + 1);
  for (const [ends, n] of between) {
    if (n <= mostBetween) continue;
    const [from, to] = ends.split(' ').map((id) => spots[id]!) as [{ name: string; cells: Cell[] }, { name: string }];
    many(
      `${n} passages lead from ${from.name} to ${to.name}, each under other conditions. More than ${mostBetween} are hard to follow.`,
      [from.cells[0]!]
    );
  }
  return faults;
}

/** More pieces than this keep apart on purpose, where so great a share of them does. */
const apart = { pieces: 20, share: 0.9 };

/** By piece the cells that have one of the same piece beside them, where nearly all others keep apart. */
export function tooClose({ plan }: Level): Map<Id, Cell[]> {
  const found = new Map<Id, Cell[]>();
  const byPiece = new Map<Id, Cell[]>();
  for (const thing of Object.values(plan?.things ?? {}))
    if ('piece' in thing) byPiece.set(thing.piece, [...(byPiece.get(thing.piece) ?? []), ...thing.cells]);
  for (const [piece, cells] of byPiece) {
    if (cells.length <= apart.pieces) continue;
    const there = new Set(cells.map((cell) => cell.join()));
    const close = cells.filter(([x, y]) =>
      [
        [x + 1, y],
        [x - 1, y],
        [x, y + 1],
        [x, y - 1]
      ].some((cell) => there.has(cell.join()))
    );
    if (close.length > 0 && close.length <= cells.length * (1 - apart.share)) found.set(piece, close);
  }
  return found;
}
