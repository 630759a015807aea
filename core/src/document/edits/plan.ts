/** Edits of the plan of a level, and of how the player moves over plans. */
import { apply, change, type Change, type Patch } from '../patch.ts';
import { same } from '../same.ts';
import { countOf } from '../../vocabulary/pieces.ts';
import type { Cell, FlowDocument, Id, Level, Movement, Plan, PlanPatrol, PlanThing } from '../types.ts';
import { placedIn } from '../../plan/draw.ts';
import { changedFields, fieldOperations } from './places.ts';

const levelAt = (document: FlowDocument, level: Id) => document.places[level] as Level;

/**
 * Brings the plan of a level to what was drawn, cell by cell where it can: what two people draw in different cells merges. A
 * level without a plan gets one, in place of the spots that it has.
 */
export function setPlan(document: FlowDocument, level: Id, plan: Plan, label: string): Change {
  const place = levelAt(document, level);
  const named = `${place.name}: ${label}`;
  const path = `/places/${level}/plan`;
  if (!place.plan) {
    const counts = countOperations(place, level, new Set(), placedIn(plan));
    return change(document, named, [...spotsGone(place, `/places/${level}`), ...counts, { op: 'add', path, value: plan }]);
  }
  return change(document, named, [
    ...countOperations(place, level, placedIn(place.plan), placedIn(plan)),
    ...planOperations(path, place.plan, plan)
  ]);
}

/** A piece that is placed is as many as its cells; one that no longer is stays as many. */
function countOperations({ pieces, plan }: Level, level: Id, before: Set<Id>, after: Set<Id>): Patch {
  return Object.entries(pieces).flatMap(([id, piece]): Patch => {
    const path = `/places/${level}/pieces/${id}/count`;
    const n = countOf(piece);
    if (after.has(id)) return before.has(id) ? [] : fieldOperations(path, piece.count, undefined);
    if (!before.has(id) && (plan !== undefined || piece.at === undefined)) return [];
    return fieldOperations(path, piece.count, n > 1 ? n : undefined);
  });
}

/** A plan as `setPlan` leaves it that is brought to another: things that are taken away cell by cell keep their place. */
export const planAfter = (before: Plan, after: Plan): Plan =>
  apply({ plan: before }, planOperations('/plan', before, after)).plan;

/** Changes what is given of a patrol. */
export function setPatrol(document: FlowDocument, level: Id, id: Id, fields: Partial<PlanPatrol>, label: string): Change {
  const { plan } = levelAt(document, level);
  const patrols = { ...plan!.patrols, [id]: { ...plan!.patrols![id]!, ...fields } };
  return setPlan(document, level, { ...plan!, patrols }, label);
}

/** A level is drawn no longer: what followed from its plan stays as its own. */
export function removePlan(document: FlowDocument, level: Id): Change {
  const place = levelAt(document, level);
  const { plan: _plan, ...rest } = place;
  return change(document, `${place.name}: keep the spots, delete the plan`, [
    { op: 'replace', path: `/places/${level}`, value: rest }
  ]);
}

/** What a level says of its spots itself gives way to what follows from its plan. */
function spotsGone({ spots, passages, entries, pieces }: Level, path: string): Patch {
  return [
    ...fieldOperations(`${path}/spots`, spots, Object.keys(spots).length > 0 ? {} : spots),
    ...fieldOperations(`${path}/passages`, passages, Object.keys(passages).length > 0 ? {} : passages),
    ...Object.entries(entries).flatMap(([id, { spot }]) => fieldOperations(`${path}/entries/${id}/spot`, spot, undefined)),
    ...Object.entries(pieces).flatMap(([id, { at }]) => fieldOperations(`${path}/pieces/${id}/at`, at, undefined))
  ];
}

function planOperations(path: string, before: Plan, after: Plan): Patch {
  const { rows, things, links, areas, patrols, ...rest } = after;
  const { rows: rowsBefore, things: thingsBefore, ...mapsBefore } = before;
  const { links: linksBefore, areas: areasBefore, patrols: patrolsBefore, ...restBefore } = mapsBefore;
  return [
    ...rowOperations(`${path}/rows`, rowsBefore, rows),
    ...mapOperations(`${path}/things`, thingsBefore, things, thingOperations, emptied),
    ...mapOperations(`${path}/links`, linksBefore, links, replaced),
    ...mapOperations(`${path}/areas`, areasBefore, areas, replaced),
    ...mapOperations(`${path}/patrols`, patrolsBefore, patrols, replaced),
    ...Object.keys({ ...restBefore, ...rest }).flatMap((key) => {
      const [was, is] = [restBefore, rest].map((each) => (each as Record<string, unknown>)[key]);
      return same(was, is) ? [] : fieldOperations(`${path}/${key}`, was, is);
    })
  ];
}

function rowOperations(path: string, before: string[], after: string[]): Patch {
  if (before.length !== after.length) return [{ op: 'replace', path, value: after }];
  return after.flatMap((row, y) => fieldOperations(`${path}/${y}`, before[y], row));
}

function mapOperations<T>(
  path: string,
  before: Record<Id, T> | undefined,
  after: Record<Id, T> | undefined,
  changed: (path: string, before: T, after: T) => Patch,
  /** What stays of a thing that is gone. */
  remains?: (before: T) => T | undefined
): Patch {
  if (before === undefined || after === undefined) return fieldOperations(path, before, after);
  return Object.keys({ ...before, ...after }).flatMap((id) => {
    const [was, is] = [before[id], after[id]];
    if (was !== undefined && is !== undefined) return same(was, is) ? [] : changed(`${path}/${id}`, was, is);
    const rest = was && remains?.(was);
    return rest ? changed(`${path}/${id}`, was, rest) : fieldOperations(`${path}/${id}`, was, is);
  });
}

/** A piece that is taken away cell by cell, so that others can place it meanwhile. */
const emptied = (thing: PlanThing): PlanThing | undefined => ('piece' in thing ? { ...thing, cells: [] } : undefined);

const replaced = (path: string, _before: unknown, after: unknown): Patch => [{ op: 'replace', path, value: after }];

/** More cells than this are written at once. */
const mostSingle = 60;

/** Cells come and go one by one, so that two people can place the same piece. */
function thingOperations(path: string, before: PlanThing, after: PlanThing): Patch {
  if ('entry' in before || 'entry' in after) return replaced(path, before, after);
  const { cells: cellsBefore, ...restBefore } = before;
  const { cells, ...rest } = after;
  if (!same(restBefore, rest)) return replaced(path, before, after);
  const keys = new Set(cells.map((cell) => cell.join()));
  const keysBefore = new Set(cellsBefore.map((cell) => cell.join()));
  const gone = cellsBefore.flatMap((cell, index) => (keys.has(cell.join()) ? [] : [index])).reverse();
  const come = cells.filter((cell) => !keysBefore.has(cell.join()));
  if (gone.length + come.length > mostSingle) return [{ op: 'replace', path: `${path}/cells`, value: cells }];
  return [
    ...gone.map((index): Patch[number] => ({ op: 'remove', path: `${path}/cells/${index}` })),
    ...come.map((cell: Cell): Patch[number] => ({ op: 'add', path: `${path}/cells/-`, value: cell }))
  ];
}

/** How the player moves in all levels, or in one that has a movement of its own; undefined takes that away. */
export function setMovement(document: FlowDocument, level: Id | undefined, movement: Movement | undefined): Change {
  const place = level === undefined ? undefined : levelAt(document, level);
  const before = place ? place.movement : document.movement;
  const label = place ? `${place.name}: how the player moves` : 'How the player moves';
  const path = level === undefined ? '/movement' : `/places/${level}/movement`;
  if (before === undefined || movement === undefined) return change(document, label, fieldOperations(path, before, movement));
  const fields = Object.fromEntries(
    Object.keys({ ...before, ...movement }).map((key) => [key, (movement as Record<string, unknown>)[key]])
  );
  return change(document, label, changedFields(path, before, fields as Movement));
}
