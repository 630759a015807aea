/** The rows of the lane and the column of every place in them. */
import { levelsOfOwner, type FlowDocument, type Id, type PlaceKind } from '../document/types.ts';
import { spread } from './columns.ts';
import type { Move } from './moves.ts';

export type RowKind = 'endings' | 'between' | 'levels' | 'menus';

export interface PlannedRow {
  kind: RowKind;
  order?: Id;
  name: string;
  places: Id[];
}

/** The rows from top to bottom. A level stands in the lane of the first order that lists it. */
export function rowsOf(document: FlowDocument): PlannedRow[] {
  const of = (kind: PlaceKind) => Object.keys(document.places).filter((id) => document.places[id]!.kind === kind);
  const levels = new Set(of('level'));
  const lanes: PlannedRow[] = Object.entries(document.orders).map(([order, { name, levels: listed }]) => {
    const places = listed.filter((id) => levels.delete(id));
    return { kind: 'levels', order, name, places };
  });
  const used = lanes.filter(({ places }) => places.length > 0);
  if (levels.size > 0 || used.length === 0)
    used.push({ kind: 'levels', name: used.length > 0 ? 'In no order' : 'Levels', places: [...levels] });
  return [
    { kind: 'endings', name: 'Endings', places: of('ending') },
    { kind: 'between', name: 'Interludes', places: of('interlude') },
    ...used,
    { kind: 'menus', name: 'Menus', places: of('menu') }
  ];
}

export function columnsOfPlaces(document: FlowDocument, rows: PlannedRow[], moves: Move[]): Map<Id, number> {
  const columns = new Map<Id, number>();
  for (const row of rows)
    if (row.kind === 'levels' || row.kind === 'menus') row.places.forEach((id, index) => columns.set(id, index));
  const neighbours = new Map<Id, Set<Id>>();
  const join = (a: Id, b: Id) => {
    if (!neighbours.has(a)) neighbours.set(a, new Set());
    neighbours.get(a)!.add(b);
  };
  for (const { from, to } of moves) {
    if (!('place' in to)) continue;
    for (const source of 'place' in from ? [from.place] : (levelsOfOwner(document, from) ?? [])) {
      join(to.place, source);
      join(source, to.place);
    }
  }
  const known = (id: Id, ...kinds: PlaceKind[]) =>
    [...(neighbours.get(id) ?? [])].filter(
      (other) => columns.has(other) && (kinds.length === 0 || kinds.includes(document.places[other]!.kind))
    );
  const mean = (ids: Id[]) => ids.reduce((sum, id) => sum + columns.get(id)!, 0) / ids.length;
  const wish = (id: Id) => {
    const levels = known(id, 'level');
    const near = levels.length > 0 ? levels : known(id);
    return near.length > 0 ? mean(near) : 0;
  };
  for (const kind of ['between', 'endings'] as const) {
    const { places } = rows.find((row) => row.kind === kind)!;
    for (const [id, column] of spread(places.map((id) => ({ id, wish: wish(id) })))) columns.set(id, column);
  }
  return columns;
}
