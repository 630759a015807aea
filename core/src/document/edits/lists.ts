/** Edits of what places and rules share: entries, signals, groups, orders, expectations and accepted findings. */
import { cut } from '../cut.ts';
import { change, type Change, type Operation, type Patch } from '../patch.ts';
import {
  type Accepted,
  levelsOf,
  type Entry,
  type FlowDocument,
  type Id,
  type Level,
  type NamedNumber,
  type Order
} from '../types.ts';
import { idFrom } from './ids.ts';
import { shuffledIn } from './orders.ts';
import { changedFields, fieldOperations } from './places.ts';

export function addEntry(document: FlowDocument, level: Id, entry: Entry): Change & { id: Id } {
  const place = document.places[level] as Level;
  const id = idFrom(entry.name, place.entries, 'entry');
  const path = `/places/${level}/entries/${id}`;
  return { ...change(document, `${place.name}: add the entry ${entry.name}`, [{ op: 'add', path, value: entry }]), id };
}

export function changeEntry(document: FlowDocument, level: Id, id: Id, fields: Partial<Entry>): Change {
  const place = document.places[level] as Level;
  const entry = place.entries[id]!;
  const label = `${place.name}: change the entry ${entry.name}`;
  return change(document, label, changedFields(`/places/${level}/entries/${id}`, entry, fields));
}

/** Removes an entry, also from the plan of its level. What goes to it stays, and is then found as broken. */
export function removeEntry(document: FlowDocument, level: Id, id: Id): Change {
  const place = document.places[level] as Level;
  const label = `${place.name}: delete the entry ${place.entries[id]!.name}`;
  const placed = Object.entries(place.plan?.things ?? {}).filter(([, thing]) => 'entry' in thing && thing.entry === id);
  return change(document, label, [
    ...placed.map(([thing]): Operation => ({ op: 'remove', path: `/places/${level}/plan/things/${thing}` })),
    { op: 'remove', path: `/places/${level}/entries/${id}` }
  ]);
}

export function addSignal(document: FlowDocument, name: string): Change & { id: Id } {
  const id = idFrom(name, document.signals, 'signal');
  return { ...change(document, `Add the signal ${name}`, [{ op: 'add', path: `/signals/${id}`, value: { name } }]), id };
}

/** Adds a named number, under an id that no value has either: in conditions both stand alike. */
export function addNumber(document: FlowDocument, number: NamedNumber): Change & { id: Id } {
  const id = idFrom(number.name, { ...document.variables, ...document.numbers }, 'number');
  const label = `Add the number ${number.name}`;
  return { ...change(document, label, [{ op: 'add', path: `/numbers/${id}`, value: number }]), id };
}

export function setNumber(document: FlowDocument, id: Id, value: number): Change {
  const { name, value: before } = document.numbers[id]!;
  return change(document, `${name}: ${before} → ${value}`, [{ op: 'replace', path: `/numbers/${id}/value`, value }]);
}

export function addGroup(document: FlowDocument, name: string): Change & { id: Id } {
  const id = idFrom(name, document.groups, 'group');
  const value = { name, rules: [] };
  return { ...change(document, `Add the group ${name}`, [{ op: 'add', path: `/groups/${id}`, value }]), id };
}

/** Adds an order of one level; a fixed one, to be changed afterwards. */
export function addOrder(document: FlowDocument, name: string, level: Id): Change & { id: Id } {
  const id = idFrom(name, document.orders, 'order');
  const value: Order = { name, draw: 'fixed', levels: [level] };
  return { ...change(document, `Add the order ${name}`, [{ op: 'add', path: `/orders/${id}`, value }]), id };
}

const kinds = { signals: 'signal', groups: 'group', orders: 'order', numbers: 'number', assets: 'shared asset' } as const;

/** Renames a signal, a group, an order, a number or a shared asset. */
export function renameListed(document: FlowDocument, list: keyof typeof kinds, id: Id, name: string): Change {
  const before = document[list][id]!.name;
  const label = `Rename the ${kinds[list]} ${before} to ${name}`;
  return change(document, label, [{ op: 'replace', path: `/${list}/${id}/name`, value: name }]);
}

/** Removes one of them. The levels of a group are then in none; its rules go with it. */
export function removeListed(document: FlowDocument, list: keyof typeof kinds, id: Id): Change {
  const operations: Patch = [];
  if (list === 'groups') {
    for (const [level, { group }] of levelsOf(document))
      if (group === id) operations.push({ op: 'remove', path: `/places/${level}/group` });
  }
  operations.push({ op: 'remove', path: `/${list}/${id}` });
  return change(document, `Delete the ${kinds[list]} ${document[list][id]!.name}`, operations);
}

/** Says how an order is played. A table begins with one row, the levels as they are listed. */
export function setDraw(document: FlowDocument, id: Id, draw: Order['draw']): Change {
  const { name, brief, levels } = document.orders[id]!;
  const words = { fixed: 'as listed', table: 'by a drawn row', bag: 'drawn one by one' };
  const base = { name, ...(brief === undefined ? {} : { brief }) };
  const value: Order = draw === 'table' ? { ...base, draw, levels, rows: [[...levels]] } : { ...base, draw, levels };
  return change(document, `${name} is played ${words[draw]}`, [{ op: 'replace', path: `/orders/${id}`, value }]);
}

/** Puts a level last into an order and shuffles it into its rows, or takes it out of both. The last level of an order stays. */
export function setListed(document: FlowDocument, order: Id, level: Id, listed: boolean): Change {
  const value = document.orders[order]!;
  const { name, levels } = value;
  const place = document.places[level]?.name ?? level;
  const at = levels.indexOf(level);
  if (listed === at >= 0 || (!listed && levels.length === 1)) return change(document, `${place} stays`, []);
  const path = `/orders/${order}/levels/${listed ? '-' : at}`;
  const operations: Patch = listed ? [{ op: 'add', path, value: level }] : [{ op: 'remove', path }];
  if (value.draw === 'table') {
    const changed = value.rows.map((row, at) => (listed ? shuffledIn(row, level, at) : row.filter((id) => id !== level)));
    const rows = changed.filter((row) => row.length > 0);
    operations.push({ op: 'replace', path: `/orders/${order}/rows`, value: rows });
  }
  return change(document, listed ? `Put ${place} into ${name}` : `Take ${place} out of ${name}`, operations);
}

/** A note on the flow or on something listed; undefined takes it away. */
export function setBrief(
  document: FlowDocument,
  of: { list: 'variables' | 'numbers' | 'signals' | 'groups' | 'orders'; id: Id } | undefined,
  brief: string | undefined
): Change {
  const subject: { name: string; brief?: string } = of ? document[of.list][of.id]! : document;
  const path = of ? `/${of.list}/${of.id}/brief` : '/brief';
  return change(document, `Note on ${subject.name}`, fieldOperations(path, subject.brief, brief));
}

/** The conditions that must hold whenever a place has been entered. */
export function setExpects(document: FlowDocument, place: Id, expects: string[]): Change {
  const { name } = document.places[place]!;
  return change(document, `${name}: what is expected`, [{ op: 'replace', path: `/places/${place}/expects`, value: expects }]);
}

/**
 * Accepts a finding with a reason; one that is accepted already gets the new one. `rests` is what it rests on: where that
 * changes later, it is a finding again.
 */
export function accept(document: FlowDocument, check: string, subject: string, reason: string, rests?: string): Change {
  const at = document.accepted.findIndex((each) => each.check === check && each.subject === subject);
  const value: Accepted = { check, subject, reason, ...(rests === undefined ? {} : { rests }) };
  const operation: Patch = [
    at < 0 ? { op: 'add', path: '/accepted/-', value } : { op: 'replace', path: `/accepted/${at}`, value }
  ];
  return change(document, cut(`Accept a finding: ${reason}`, 200), operation);
}

/** Takes an accepted finding off the list. */
export function unaccept(document: FlowDocument, index: number): Change {
  return change(document, 'A finding is no longer accepted', [{ op: 'remove', path: `/accepted/${index}` }]);
}
