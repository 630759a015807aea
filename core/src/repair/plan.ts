/** Findings in plans: what does not fit as it is drawn, and what stands where the player never comes. */
import type { Change } from '../document/patch.ts';
import { setPatrol, setPlan } from '../document/edits/plan.ts';
import { changePiece, removePiece } from '../document/edits/parts.ts';
import type { Cell, FlowDocument, Id, Level, Plan, PlanThing } from '../document/types.ts';
import { own } from '../document/types.ts';
import { evenRows, groundAt, isSame, stamped, thingsAt, usualPatrolSpeed, type Stamp } from '../plan/draw.ts';
import { faultsOf, patrolName, tooClose, type Fault } from '../plan/fits.ts';
import { derivedOf } from '../plan/grown.ts';
import { counted } from '../words/words.ts';
import { openSpots } from '../document/ground.ts';
import { named, type Offers } from './offers.ts';
import { goalNumbers } from './rules.ts';
import type { Verdict } from '../report/report.ts';

const levelAt = (document: FlowDocument, id: Id) => document.places[id] as Level & { plan: Plan };
const where = ([x, y]: Cell) => `${x}, ${y}`;

/** The cells in which the player can stand without anything being asked of it, and in which nothing stands. */
function freeCells(document: FlowDocument, level: Level & { plan: Plan }): Cell[] {
  const open = openSpots(level);
  const { spots } = derivedOf(document, level)!;
  const taken = new Set(
    Object.values(level.plan.things ?? {}).flatMap((thing) => ('entry' in thing ? [thing.cell] : thing.cells).map(String))
  );
  return [...open].flatMap((spot) => own(spots, spot)?.cells ?? []).filter((cell) => !taken.has(String(cell)));
}

/** Of some cells that which lies nearest to another. */
function nearest(cells: Cell[], [x, y]: Cell): Cell | undefined {
  const far = ([cx, cy]: Cell) => Math.abs(cx - x) + Math.abs(cy - y);
  return cells.reduce<Cell | undefined>((best, cell) => (best && far(best) <= far(cell) ? best : cell), undefined);
}

const planFits: Offers = (document, { subject }) => {
  const level = levelAt(document, subject);
  return faultsOf(document, level).flatMap((fault) => fixesOf(document, subject, level, fault));
};

/** What fixes one fault of a plan. */
function fixesOf(document: FlowDocument, id: Id, level: Level & { plan: Plan }, fault: Fault): Change[] {
  const { is, cells, of = '', patrol } = fault;
  const { plan, pieces, entries } = level;
  const put = (plan: Plan, label: string) => named(label, setPlan(document, id, plan, label));
  const name = own(pieces, of)?.name ?? own(entries, of)?.name ?? of;
  const stamp: Stamp = own(entries, of) && !own(pieces, of) ? { entry: of } : { piece: of };
  const entryAt = (thing: { entry: Id; cell: Cell }, label: string): Change[] => {
    const to = nearest(freeCells(document, level), thing.cell);
    return to ? [put(stamped(plan, [to], { entry: thing.entry }), `${label} to ${where(to)}`)] : [];
  };
  const entry = Object.values(plan.things ?? {}).find(
    (thing) => 'entry' in thing && cells.some((cell) => isSame(cell, thing.cell))
  );
  const gone = () =>
    put(withoutThing(plan, of, cells), `Take ${name} out of the plan ${cells.length > 0 ? `at ${where(cells[0]!)}` : ''}`.trim());
  switch (is) {
    case 'uneven rows':
      return [put(evenRows(plan), 'Fill short rows with solid ground')];
    case 'no ground':
      return ['#', '.'].map((ground) =>
        put(stamped(plan, cells, { ground }), `Make “${of}” ${ground === '#' ? 'solid' : 'open'} ground`)
      );
    case 'no such thing':
      return [gone()];
    case 'not placed': {
      const [start] = freeCells(document, level);
      const placed = start ? [put(stamped(plan, [start], stamp), `Place ${name} at ${where(start)}`)] : [];
      return own(pieces, of) ? [...placed, named(`Delete ${name}`, removePiece(document, id, of))] : placed;
    }
    case 'no footing':
      return entry && 'entry' in entry ? entryAt(entry, `Move ${name}`) : [];
    case 'outside':
      return entry && 'entry' in entry ? entryAt(entry, `Move ${name}`) : [gone()];
    case 'in solid ground':
      return [
        put(
          stamped(plan, cells, { ground: '.' }),
          `Open the ground ${cells.length > 1 ? `of ${name}` : `at ${where(cells[0]!)}`}`
        ),
        ...(entry && 'entry' in entry ? entryAt(entry, `Move ${name}`) : [gone()])
      ];
    case 'two in a cell': {
      const keeps = cells.map((cell) => thingsAt(plan, cell).filter(({ thing }) => 'piece' in thing)[0]?.thing);
      const alone = cells.reduce((now, cell, index) => {
        const first = keeps[index];
        return first && 'piece' in first ? stamped(now, [cell], { piece: first.piece }) : now;
      }, plan);
      return alone === plan ? [] : [put(alone, 'Leave one piece in each cell')];
    }
    case 'trapdoor':
      return [
        put(
          stamped(
            plan,
            cells.map(([x, y]): Cell => [x, y + 1]),
            { ground: '-' }
          ),
          'Put a ledge beneath the gate'
        )
      ];
    case 'no patrol':
      return [
        named(`Make ${name} a foe`, changePiece(document, id, of, { kind: 'foe' })),
        ...withoutPatrol(document, id, patrol!)
      ];
    case 'no speed': {
      const label = `Let ${name} go ${usualPatrolSpeed} cells a second`;
      return [named(label, setPatrol(document, id, patrol!, { speed: usualPatrolSpeed }, label))];
    }
    case 'patrol blocked':
      return [
        ...(cells.some((cell) => groundAt(plan, cell) === '#')
          ? [put(stamped(plan, cells, { ground: '.' }), `Open the ground where ${name} goes`)]
          : []),
        ...withoutPoints(document, id, fault),
        ...withoutPatrol(document, id, patrol!)
      ];
    case 'idle point':
      return fault.points
        ? withoutPoints(document, id, fault)
        : [
            put(stamped(withoutPatrolIn(plan, patrol!), cells, { piece: of }), `Let ${name} stand at ${where(cells[0]!)}`),
            ...withoutPatrol(document, id, patrol!)
          ];
    case 'link':
    case 'too much':
      return [];
  }
}

function withoutPoints(document: FlowDocument, id: Id, { patrol, points = [], of = '' }: Fault): Change[] {
  const level = levelAt(document, id);
  const before = level.plan.patrols![patrol!]!.points;
  const left = before.filter((_, index) => !points.includes(index));
  if (left.length === before.length || left.length === 0) return [];
  const numbers = points.map((point) => point + 1).join(', ');
  const label = `Take point${points.length > 1 ? 's' : ''} ${numbers} of ${level.pieces[of]!.name} away`;
  return [named(label, setPatrol(document, id, patrol!, { points: left }, label))];
}

export function withoutPatrol(document: FlowDocument, id: Id, patrol: Id): Change[] {
  const level = levelAt(document, id);
  const label = `Take the patrol of ${patrolName(level, patrol)} away`;
  return [named(label, setPlan(document, id, withoutPatrolIn(level.plan, patrol), label))];
}

function withoutPatrolIn(plan: Plan, patrol: Id): Plan {
  const { [patrol]: _, ...patrols } = plan.patrols!;
  return { ...plan, patrols };
}

/** A plan without a piece or an entry, everywhere or in some cells. */
function withoutThing(plan: Plan, of: string, cells: Cell[]): Plan {
  const isHere = (cell: Cell) => cells.some((each) => isSame(each, cell));
  const { below, ...rest } = plan;
  const things = Object.entries(plan.things ?? {}).flatMap(([id, thing]): (readonly [Id, PlanThing])[] => {
    if ('entry' in thing) return thing.entry === of && isHere(thing.cell) ? [] : [[id, thing] as const];
    if (!('piece' in thing) || thing.piece !== of) return [[id, thing] as const];
    const left = thing.cells.filter((cell) => !isHere(cell));
    return left.length > 0 ? [[id, { ...thing, cells: left }] as const] : [];
  });
  return {
    ...rest,
    ...(below !== undefined && (below !== of || cells.length > 0) && { below }),
    ...(plan.things && { things: Object.fromEntries(things) }),
    ...(plan.patrols && {
      patrols: Object.fromEntries(Object.entries(plan.patrols).filter(([, { piece }]) => piece !== of || cells.length > 0))
    })
  };
}

const tooCloseOffers: Offers = (document, { subject }) => {
  const [id, piece] = subject.split('/') as [Id, Id];
  const level = levelAt(document, id);
  const { name } = level.pieces[piece]!;
  const [cell] = tooClose(level).get(piece) ?? [];
  if (!cell) return [];
  const label = `Take ${name} away at ${where(cell)}`;
  return [named(label, setPlan(document, id, withoutThing(level.plan, piece, [cell]), label))];
};

/** What is out of reach in a plan comes to stand where the player gets, or gates that are never opened are left open. */
export function planned(document: FlowDocument, id: Id, { why = [] }: Verdict, piece?: Id): Change[] {
  const level = levelAt(document, id);
  const far = new Set(why.flatMap(({ spots = [] }) => spots));
  const open = openSpots(level);
  const { placed } = derivedOf(document, level)!;
  const lost = placed.filter(
    (each) =>
      own(level.pieces, each.piece) !== undefined &&
      (piece === undefined || each.piece === piece) &&
      each.spots.every((spot) => far.has(spot) || !open.has(spot))
  );
  const byPiece = new Map<Id, Cell[]>();
  for (const each of lost) byPiece.set(each.piece, [...(byPiece.get(each.piece) ?? []), each.cell]);
  const gates = Object.entries(level.plan.things ?? {}).filter(([, thing]) => 'gate' in thing);
  return [
    ...[...byPiece].slice(0, 3).flatMap(([of, cells]) => brought(document, id, of, cells)),
    ...gates.slice(0, 3).flatMap(([gate, thing]) => opened(document, id, gate, thing))
  ];
}

/** A gate asks for what there is, or for nothing. */
function opened(document: FlowDocument, id: Id, gate: Id, thing: PlanThing): Change[] {
  if (!('gate' in thing) || thing.cells.length === 0) return [];
  const { plan } = levelAt(document, id);
  const name = thing.name ?? `the gate at ${where(thing.cells[0]!)}`;
  const changed = (to: PlanThing | undefined, label: string) => {
    const { [gate]: _, ...others } = plan.things!;
    return named(label, setPlan(document, id, { ...plan, things: to ? { ...plan.things, [gate]: to } : others }, label));
  };
  return [
    ...goalNumbers(document, [id], [{ text: thing.gate, put: (text, words) => changed({ ...thing, gate: text }, words) }]),
    changed(undefined, `Leave ${name} open`)
  ];
}

/** Pieces go to the nearest cells in which the player can stand. */
function brought(document: FlowDocument, id: Id, piece: Id, cells: Cell[]): Change[] {
  const level = levelAt(document, id);
  const free = freeCells(document, level);
  let plan: Plan = level.plan;
  for (const cell of cells) {
    const to = nearest(free, cell);
    if (!to) return [];
    free.splice(free.indexOf(to), 1);
    plan = stamped(withoutThing(plan, piece, [cell]), [to], { piece });
  }
  const label = `Move ${counted(level.pieces[piece]!.name, cells.length)} to where the player gets`;
  return [named(label, setPlan(document, id, plan, label))];
}

export const planRepairs = { 'plan-fits': planFits, 'too-close': tooCloseOffers };
