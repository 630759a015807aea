/** Copies of places: beside the original, or carried to another flow. A copy is independent of what it was made from. */
import { cut } from '../cut.ts';
import { change, type Change, type Patch } from '../patch.ts';
import { isLevel, type FlowDocument, type Id, type Place, type Rule, type Target } from '../types.ts';
import { idFrom, ruleId } from './ids.ts';

/** Places on their way to a clipboard, with what their rules speak of. */
export interface Clip {
  format: 'crow-lane-places';
  version: 1;
  places: Record<Id, Place>;
  variables: FlowDocument['variables'];
  signals: FlowDocument['signals'];
}

export interface Pasted extends Change {
  /** The new ids, in the order of the clip. */
  ids: Id[];
  /** Names of what the pasted rules speak of and this flow does not have. */
  missing: string[];
}

/** The places with these ids, and the values and signals that the flow has. */
export function copyPlaces(document: FlowDocument, ids: Id[]): Clip {
  const places = Object.fromEntries(ids.map((id) => [id, structuredClone(document.places[id]!)]));
  const text = JSON.stringify(places);
  const named = <T>(map: Record<Id, T>) =>
    Object.fromEntries(Object.entries(map).filter(([id]) => new RegExp(`\\b${id}\\b`).test(text)));
  return {
    format: 'crow-lane-places',
    version: 1,
    places,
    variables: structuredClone(named(document.variables)),
    signals: structuredClone(named(document.signals))
  };
}

/**
 * Adds the places of a clip under new ids, their rules under new ids too. Moves between them lead to the copies; moves
 * to places that this flow has by the same id lead there; all others dangle and are listed. Values and signals that
 * the flow lacks come along. A level that follows another in an order stands behind it.
 */
export function pastePlaces(document: FlowDocument, clip: Clip): Pasted {
  const operations: Patch = [];
  const taken: Record<Id, unknown> = { ...document.places };
  const ids = new Map<Id, Id>();
  const names = new Set(Object.values(document.places).map(({ name }) => name));
  for (const id of Object.keys(clip.places)) {
    const fresh = idFrom(id.replaceAll('_', ' '), taken, 'place');
    ids.set(id, fresh);
    taken[fresh] = true;
  }
  for (const list of ['variables', 'signals'] as const) {
    for (const [id, value] of Object.entries(clip[list]))
      if (!Object.hasOwn(document[list], id)) operations.push({ op: 'add', path: `/${list}/${id}`, value });
  }
  const missing = new Set<string>();
  const rules = new Set<Id>();
  const freshRule = () => {
    for (;;) {
      const id = ruleId(document);
      if (!rules.has(id)) {
        rules.add(id);
        return id;
      }
    }
  };
  const aimed = (target: Target): Target => {
    if ('place' in target) {
      const to = ids.get(target.place) ?? target.place;
      if (!ids.has(target.place) && !Object.hasOwn(document.places, target.place)) missing.add(target.place);
      return { ...target, place: to };
    }
    if (target.order !== undefined && !Object.hasOwn(document.orders, target.order)) missing.add(target.order);
    return target.else ? { ...target, else: aimed(target.else) } : target;
  };
  const copied = (rule: Rule): Rule => ({ ...rule, id: freshRule(), ...(rule.go ? { go: aimed(rule.go) } : {}) });
  for (const [id, place] of Object.entries(clip.places)) {
    const name = freeName(place.name, names);
    names.add(name);
    const value: Place = { ...structuredClone(place), name, rules: place.rules.map(copied) };
    if (value.kind === 'level' && value.group !== undefined && !Object.hasOwn(document.groups, value.group)) {
      missing.add(value.group);
      delete value.group;
    }
    operations.push({ op: 'add', path: `/places/${ids.get(id)!}`, value });
  }
  operations.push(...intoOrders(document, ids));
  const fresh = [...ids.values()];
  const what = fresh.length === 1 ? Object.values(clip.places)[0]!.name : `${fresh.length} places`;
  return { ...change(document, `Paste ${what}`, operations), ids: fresh, missing: [...missing] };
}

/** Copies one place beside itself. */
export function duplicatePlace(document: FlowDocument, id: Id): Pasted {
  const pasted = pastePlaces(document, copyPlaces(document, [id]));
  return { ...pasted, label: `Duplicate ${document.places[id]!.name}` };
}

/** A copied level stands behind its original, where that is in an order of this flow. */
function intoOrders(document: FlowDocument, ids: Map<Id, Id>): Patch {
  return Object.entries(document.orders).flatMap(([order, { levels }]) => {
    const originals = [...ids.keys()].filter((id) => isLevel(document, id) && levels.includes(id));
    const at = Math.max(-1, ...originals.map((id) => levels.indexOf(id))) + 1;
    return originals.map((id, n): Patch[number] => ({
      op: 'add',
      path: `/orders/${order}/levels/${at + n}`,
      value: ids.get(id)!
    }));
  });
}

/** "Quay", "Quay 2", "Quay 3": names are told apart, and stay within 80 characters. */
function freeName(name: string, taken: Set<string>): string {
  if (!taken.has(name)) return name;
  const base = cut(name.replace(/ \d+$/, ''), 74);
  for (let n = 2; ; n++) if (!taken.has(`${base} ${n}`)) return `${base} ${n}`;
}
