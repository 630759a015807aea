/**
 * Merges two versions of a flow that go back to one: what only one of them has changed is taken from it, part by part, as the
 * edits of two people are; what both have changed in different ways is a conflict.
 */
import { bare, grown } from '../plan/grown.ts';
import { documentParts } from '../vocabulary/document.ts';
import { same } from './same.ts';
import type { FlowDocument } from './types.ts';
import { mapsWithin } from './write.ts';

export interface MergeConflict {
  /** Where it stands, as a JSON Pointer (RFC 6901). */
  pointer: string;
  /** What it was and is; undefined where it is not there. */
  base: unknown;
  ours: unknown;
  theirs: unknown;
}

export interface Merged {
  /** With what is ours where there is a conflict. */
  document: FlowDocument;
  conflicts: MergeConflict[];
}

export function merge(base: FlowDocument, ours: FlowDocument, theirs: FlowDocument): Merged {
  const conflicts: MergeConflict[] = [];
  // what follows from plans follows from the merged ones
  const [was, own, other] = [base, ours, theirs].map(plainOf);
  const merged = new Merging(conflicts).value('', was, own, other) as FlowDocument;
  return { document: grown(merged), conflicts };
}

const plainOf = (document: FlowDocument): FlowDocument => ({
  ...document,
  places: Object.fromEntries(
    Object.entries(document.places).map(([id, place]) => [id, place.kind === 'level' ? bare(place) : place])
  )
});

type Parts = Record<string, unknown>;
const isMap = (value: unknown): value is Parts => typeof value === 'object' && value !== null && !Array.isArray(value);

/** Whether things by their ids stand there: two of which both have made one are not one thing. */
function holdsThings(pointer: string): boolean {
  const [first, ...rest] = pointer.split('/').slice(1);
  const last = rest.at(-1);
  return rest.length === 0 ? documentParts[first as keyof FlowDocument] === 'map' : rest.length > 1 && mapsWithin.has(last!);
}

class Merging {
  constructor(private readonly conflicts: MergeConflict[]) {}

  value(pointer: string, base: unknown, ours: unknown, theirs: unknown): unknown {
    if (same(ours, theirs) || same(base, theirs)) return ours;
    if (same(base, ours)) return theirs;
    const isMerged = isMap(base) || (base === undefined && holdsThings(pointer));
    if (isMap(ours) && isMap(theirs) && isMerged) return this.map(pointer, base ?? {}, ours, theirs);
    if (Array.isArray(ours) && Array.isArray(theirs) && Array.isArray(base)) {
      const found = this.list(pointer, base, ours, theirs);
      if (found) return found;
    }
    if (typeof base === 'string' && typeof ours === 'string' && typeof theirs === 'string') {
      const row = /\/plan\/rows\/\d+$/.test(pointer) ? rowOf(base, ours, theirs) : undefined;
      if (row !== undefined) return row;
    }
    this.conflicts.push({ pointer, base, ours, theirs });
    return ours;
  }

  private map(pointer: string, base: Parts, ours: Parts, theirs: Parts): Parts {
    const merged: Parts = {};
    for (const key of ordered(Object.keys(base), Object.keys(ours), Object.keys(theirs))) {
      const value = this.value(
        `${pointer}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`,
        base[key],
        ours[key],
        theirs[key]
      );
      if (value !== undefined) merged[key] = value;
    }
    return merged;
  }

  /** Lists whose elements are told apart, by their id or as what they are; undefined for others. */
  private list(pointer: string, base: unknown[], ours: unknown[], theirs: unknown[]): unknown[] | undefined {
    // rows of a plan stand where they stand
    if (pointer.endsWith('/plan/rows')) {
      if (base.length !== ours.length || base.length !== theirs.length) return undefined;
      return ours.map((row, at) => this.value(`${pointer}/${at}`, base[at], row, theirs[at]));
    }
    const lists = [base, ours, theirs].map((list) => list.map(keyOf));
    if (lists.some((keys) => new Set(keys).size < keys.length)) return undefined;
    const [keys, own, others] = lists as [string[], string[], string[]];
    const moved = movedIn(keys, others);
    // what both have moved is not to be put where one of them wants it
    if (!same(common(own, others), common(others, own)) && movedIn(keys, own).some((key) => moved.includes(key)))
      return undefined;
    const [was, is, other] = [placesOf(keys), placesOf(own), placesOf(others)];
    const of = (list: unknown[], places: Places, key: string) => list[places.get(key) ?? -1];
    const isMoved = new Set(moved);
    const order = ordered(
      keys,
      own.filter((key) => !isMoved.has(key)),
      others
    );
    return order.flatMap((key) => {
      if (!is.has(key) && !other.has(key)) return [];
      const value = this.value(`${pointer}/${is.get(key) ?? '-'}`, of(base, was, key), of(ours, is, key), of(theirs, other, key));
      return value === undefined ? [] : [value];
    });
  }
}

/** What an element of a list is known by: its id, else all that it is. */
const keyOf = (value: unknown): string => (isMap(value) && typeof value.id === 'string' ? value.id : JSON.stringify(value));

type Places = ReadonlyMap<string, number>;
const placesOf = (keys: string[]): Places => new Map(keys.map((key, at) => [key, at]));

function common(keys: string[], others: string[]): string[] {
  const there = new Set(others);
  return keys.filter((key) => there.has(key));
}

/** What of a list has been moved in another version: all but the most that is still in its order. */
function movedIn(base: string[], keys: string[]): string[] {
  const left = common(keys, base);
  const was = placesOf(base);
  const places = left.map((key) => was.get(key)!);
  // the longest rising row of places (M. Fredman, On computing the length of longest increasing subsequences, 1975)
  const ends: number[] = [];
  const before: number[] = [];
  places.forEach((place, at) => {
    let low = 0;
    for (let high = ends.length; low < high;) {
      const middle = (low + high) >> 1;
      if (places[ends[middle]!]! < place) low = middle + 1;
      else high = middle;
    }
    before[at] = low > 0 ? ends[low - 1]! : -1;
    ends[low] = at;
  });
  const kept = new Set<number>();
  for (let at = ends.at(-1) ?? -1; at >= 0; at = before[at]!) kept.add(at);
  return left.filter((_, at) => !kept.has(at));
}

/** The keys of all: in the order of the first version, what only the second has behind what it stands behind there. */
function ordered(base: string[], first: string[], second: string[]): string[] {
  const [known, others, order] = [new Set(base), new Set(second), [...first]];
  const there = new Set(first);
  let before: string | undefined;
  for (const key of second) {
    if (!there.has(key)) {
      let at = before === undefined ? 0 : order.indexOf(before) + 1;
      // behind what the first has put there too
      while (at < order.length && !known.has(order[at]!) && !others.has(order[at]!)) at++;
      order.splice(at, 0, key);
      there.add(key);
    }
    before = key;
  }
  // what both have taken away is known to neither
  return [...order, ...base.filter((key) => !there.has(key))];
}

/** A row of a plan in which both have drawn, in different cells; undefined where they have drawn in the same one. */
function rowOf(base: string, ours: string, theirs: string): string | undefined {
  if (base.length !== ours.length || base.length !== theirs.length) return undefined;
  let row = '';
  for (let x = 0; x < base.length; x++) {
    const [was, own, other] = [base[x]!, ours[x]!, theirs[x]!];
    if (own !== was && other !== was && own !== other) return undefined;
    row += own === was ? other : own;
  }
  return row;
}
