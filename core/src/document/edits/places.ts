/** Edits of places and of the order of levels. Each gives a change (patch and inverse) and leaves the document as it is. */
import { cut } from '../cut.ts';
import { change, type Change, type Patch } from '../patch.ts';
import { same } from '../same.ts';
import {
  ruleLists,
  targetsOf,
  type FlowDocument,
  type Id,
  type Message,
  type MessageCase,
  type Outcome,
  type Place,
  type PlaceKind
} from '../types.ts';
import { documentKeys } from '../../vocabulary/document.ts';
import { placeKinds } from '../../vocabulary/places.ts';
import { idFrom } from './ids.ts';

/** A place with nothing in it. */
export function emptyPlace(kind: PlaceKind, name: string, outcome: Outcome = 'won'): Place {
  const base = { name, rules: [], expects: [] };
  if (kind === 'level') return { ...base, kind, entries: {}, pieces: {}, objectives: {}, spots: {}, passages: {} };
  return kind === 'ending' ? { ...base, kind, outcome } : { ...base, kind };
}

/** Where a new level goes: behind another level, or last in an order; in no order when neither is given. */
export interface Position {
  behind?: Id;
  order?: Id;
}

/** Adds a place, a level also to its order. Gives the new id with the change. */
export function addPlace(document: FlowDocument, place: Place, position: Position = {}): Change & { id: Id } {
  const id = idFrom(place.name, document.places, place.kind);
  const operations: Patch = [{ op: 'add', path: `/places/${id}`, value: place }];
  if (place.kind === 'level') operations.push(...intoOrder(document, id, position));
  return { ...change(document, `Add the ${placeKinds[place.kind].words} ${place.name}`, operations), id };
}

/** Adds a level between two that follow each other, and gives the first level's moves to the second to the new one. */
export function intoOrder(document: FlowDocument, id: Id, { behind, order }: Position): Patch {
  const into = order ?? Object.keys(document.orders).find((each) => behind && document.orders[each]!.levels.includes(behind));
  if (into === undefined) {
    // the first level of a flow begins its first order: without one, "next" would mean nothing
    if (Object.keys(document.orders).length > 0) return [];
    const name = 'Main round';
    return [
      { op: 'add', path: `/orders/${idFrom(name, document.orders, 'order')}`, value: { name, draw: 'fixed', levels: [id] } }
    ];
  }
  const { levels } = document.orders[into]!;
  const at = behind ? levels.indexOf(behind) + 1 : levels.length;
  return [{ op: 'add', path: `/orders/${into}/levels/${at || levels.length}`, value: id }];
}

/** Of which kind a place of that name is, where the name says so. */
export function kindSaid(name: string): PlaceKind | undefined {
  if (/\b(menu|pause|options|settings|title|select|map)\b/i.test(name)) return 'menu';
  if (/\b(game over|complete|credits|splash|loading|well done|intro|cutscene)\b/i.test(name)) return 'interlude';
  if (/\b(the end|ending|victory|won|lost)\b/i.test(name)) return 'ending';
  return undefined;
}

/** Of which kind a new place likely is: its name says so, else from where it is reached. */
export function likelyKind(document: FlowDocument, name: string, from: Id | undefined): PlaceKind {
  const said = kindSaid(name);
  if (said !== undefined) return said;
  const kind = from === undefined ? undefined : document.places[from]?.kind;
  return kind === 'level' ? 'interlude' : 'level';
}

/** Renames the flow. */
export function renameFlow(document: FlowDocument, name: string): Change {
  return change(document, `Rename the flow to ${name}`, [{ op: 'replace', path: '/name', value: name }]);
}

export function renamePlace(document: FlowDocument, id: Id, name: string): Change {
  const before = document.places[id]!.name;
  return change(document, `Rename ${before} to ${name}`, [{ op: 'replace', path: `/places/${id}/name`, value: name }]);
}

/** Brings a whole document back to what it was: one operation for each part that differs, so that ids keep their order. */
export function restore(document: FlowDocument, to: FlowDocument, label: string): Change {
  const operations = documentKeys.flatMap((part) =>
    JSON.stringify(document[part]) === JSON.stringify(to[part]) ? [] : fieldOperations(`/${part}`, document[part], to[part])
  );
  return change(document, label, operations);
}

export function setStart(document: FlowDocument, id: Id): Change {
  return change(document, `Play begins at ${document.places[id]!.name}`, [{ op: 'replace', path: '/start', value: id }]);
}

export interface Pointer {
  what: 'start' | 'rule' | 'order';
  /** Id of the rule or the order; of the start there is none. */
  id?: Id;
}

/** What points to a place from elsewhere: its own rules go with it and do not count. */
export function pointersTo(document: FlowDocument, id: Id): Pointer[] {
  const found: Pointer[] = document.start === id ? [{ what: 'start' }] : [];
  for (const { owner, rules } of ruleLists(document)) {
    if ('place' in owner && owner.place === id) continue;
    for (const rule of rules)
      if (rule.go && targetsOf(rule.go).some((to) => 'place' in to && to.place === id)) found.push({ what: 'rule', id: rule.id });
  }
  for (const [order, { levels }] of Object.entries(document.orders))
    if (levels.includes(id)) found.push({ what: 'order', id: order });
  return found;
}

/** Removes a place and takes it out of every order. Rules elsewhere that go to it stay, and are then found as broken. */
export function removePlace(document: FlowDocument, id: Id): Change {
  return change(document, `Delete ${document.places[id]!.name}`, [
    ...outOfOrders(document, id),
    { op: 'remove', path: `/places/${id}` }
  ]);
}

/** Takes a level out of every order and its rows; an order of which it is the only level goes. */
export function outOfOrders(document: FlowDocument, id: Id): Patch {
  const operations: Patch = [];
  for (const [order, value] of Object.entries(document.orders)) {
    const index = value.levels.indexOf(id);
    if (index < 0) continue;
    if (value.levels.length === 1) {
      operations.push({ op: 'remove', path: `/orders/${order}` });
      continue;
    }
    operations.push({ op: 'remove', path: `/orders/${order}/levels/${index}` });
    if (value.draw === 'table') {
      const rows = value.rows.map((row) => row.filter((level) => level !== id)).filter((row) => row.length > 0);
      operations.push({
        op: 'replace',
        path: `/orders/${order}/rows`,
        value: rows.length > 0 ? rows : [value.levels.filter((level) => level !== id)]
      });
    }
  }
  return operations;
}

/** Sets or, with undefined, removes a plain field of a place: goal, outcome, progress, group, brief. */
export function setPlaceField(
  document: FlowDocument,
  id: Id,
  field: 'brief' | 'goal' | 'outcome' | 'progress' | 'group',
  value: string | number | undefined
): Change {
  const place = document.places[id]!;
  return change(
    document,
    `${place.name}: ${field}`,
    fieldOperations(`/places/${id}/${field}`, (place as unknown as Record<string, unknown>)[field], value)
  );
}

/** The texts of a place: one without a condition is plain text, none or an empty one is none at all. */
export function setMessage(document: FlowDocument, id: Id, cases: MessageCase[]): Change {
  const { name, message: before } = document.places[id]!;
  const only = cases.length === 1 && cases[0]!.if === undefined ? cases[0]!.text : undefined;
  const after: Message | undefined = cases.length === 0 || only === '' ? undefined : (only ?? cases);
  if (same(before, after)) return change(document, `${name}: text`, []);
  return change(document, `${name}: text`, fieldOperations(`/places/${id}/message`, before, after));
}

/** Gives a place other tags: each once, without blanks around it; at most 50 of 80 letters. */
export function setTags(document: FlowDocument, id: Id, names: string[]): Change {
  const { name, tags: before } = document.places[id]!;
  const tags = [...new Set(names.map((each) => cut(each.trim(), 80)))].filter((each) => each !== '').slice(0, 50);
  if (JSON.stringify(before ?? []) === JSON.stringify(tags)) return change(document, `${name}: tags`, []);
  return change(document, `${name}: tags`, fieldOperations(`/places/${id}/tags`, before, tags.length > 0 ? tags : undefined));
}

/** The operation that brings a field from one value to another; none when they are the same. */
export function fieldOperations(path: string, before: unknown, after: unknown): Patch {
  if (before === after) return [];
  if (after === undefined) return [{ op: 'remove', path }];
  return [{ op: before === undefined ? 'add' : 'replace', path, value: after }];
}

/** Moves a level within an order to stand at `index`. */
export function moveLevel(document: FlowDocument, order: Id, level: Id, index: number): Change {
  const from = document.orders[order]!.levels.indexOf(level);
  return change(document, `Move ${document.places[level]?.name ?? level} to place ${index + 1}`, [
    { op: 'remove', path: `/orders/${order}/levels/${from}` },
    { op: 'add', path: `/orders/${order}/levels/${index}`, value: level }
  ]);
}

/** The operations that bring an object's fields to new values, one field each, so that two people can change two fields. */
export function changedFields<T extends object>(path: string, before: T, fields: Partial<T>) {
  return Object.entries(fields).flatMap(([key, value]) =>
    fieldOperations(`${path}/${key}`, (before as Record<string, unknown>)[key], value)
  );
}
