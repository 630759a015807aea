/**
 * Changes as data: JSON Patch (RFC 6902) with its inverse. Two things beyond the RFC's letter, both within it: what an
 * operation replaces or takes away, and what it stands behind in a list, is tested before it, so that a patch on a stale
 * document is either still right or refused (what adds a key is refused by itself where the key is there; what goes to
 * the head or end of a list, or only moves a key last, rests on nothing); and as the key order of maps is their display order, `move` of a key onto itself (a remove and an
 * add, says the RFC) puts that key last, which is how an inverse brings a key back to its old place.
 */
import jsonpatch, { type Operation } from 'fast-json-patch';
import { grownFrom } from '../plan/grown.ts';
import { same } from './same.ts';
import type { FlowDocument } from './types.ts';

export type { Operation };
export type Patch = Operation[];

export interface Change {
  /** What it does, in the designer's words: "Quay Street: lamps 5 → 7". */
  label: string;
  patch: Patch;
  inverse: Patch;
}

/** A patch rests on something that is no longer so. */
export class Conflict extends Error {
  readonly pointer: string;
  constructor(pointer: string) {
    super(`What stands at ${pointer || 'the top'} has changed since.`);
    this.pointer = pointer;
  }
}

/**
 * Applies a patch to a copy, which shares with the document all that the patch leaves as it is; throws `Conflict` when a
 * test fails or what is named is not there. In a flow, what follows from the plans of its levels follows at once.
 */
export function apply<T extends object>(document: T, patch: Patch): T {
  const copy = new Copy(document);
  for (const operation of patch) copy.step(operation);
  return whole(document, copy.whole);
}

const isFlow = (document: object): boolean => 'format' in document && 'places' in document;

const whole = <T extends object>(before: T, after: T): T =>
  isFlow(before) && isFlow(after)
    ? (grownFrom(before as unknown as FlowDocument, after as unknown as FlowDocument) as unknown as T)
    : after;

/** Makes a change of raw operations: adds the tests they rest on and works out the inverse. */
export function change<T extends object>(document: T, label: string, operations: Patch): Change {
  const forward = guarded(document, operations);
  const backward = guarded(whole(document, forward.result), forward.inverse);
  return { label, patch: forward.patch, inverse: backward.patch };
}

/** Edits made one after another, where a later one needs what an earlier one gave, as one change. */
export class Series<T extends object> {
  private readonly patch: Patch = [];
  private readonly inverse: Patch = [];

  constructor(public now: T) {}

  make<C extends Change>(made: C): C {
    this.patch.push(...made.patch);
    this.inverse.unshift(...made.inverse);
    this.now = apply(this.now, made.patch);
    return made;
  }

  whole(label: string): Change {
    return { label, patch: this.patch, inverse: this.inverse };
  }
}

/** Several edits as one change: each is made on the document that the one before it gives. */
export function together<T extends object>(document: T, label: string, ...edits: ((document: T) => Change)[]): Change {
  const series = new Series(document);
  for (const edit of edits) series.make(edit(series.now));
  return series.whole(label);
}

/** Whether a patch changes what a pointer names, a part of it, or something that it is in. */
export function touches(patch: Patch, pointer: string): boolean {
  return patch.some(
    ({ op, path }) => op !== 'test' && (path === pointer || path.startsWith(`${pointer}/`) || pointer.startsWith(`${path}/`))
  );
}

/**
 * Fits a patch made on an older document to a newer one. List elements that have moved are found again by their tests.
 * Of the ground of a plan, a row that others have drawn in takes what is drawn in other cells of it. Throws `Conflict` where
 * something that the patch rests on has changed.
 */
export function rebase<T extends object>(patch: Patch, document: T): Patch {
  const copy = new Copy(document);
  const shifts = new Map<string, number>();
  const fitted: Patch = [];
  /** By path of a row of a plan: what it was for who drew in it. */
  const drawnOn = new Map<string, string>();
  for (const operation of patch) {
    const moved = shifted(operation, shifts);
    const placed =
      merged(copy.whole, moved, drawnOn) ?? (moved.op === 'test' ? findAgain(copy.whole, moved, operation.path, shifts) : moved);
    copy.step(placed);
    fitted.push(placed);
  }
  return fitted;
}

/** The test and the replacing of a row of a plan that has changed since: what was drawn in it, on what it is now. */
function merged(document: object, operation: Operation, drawnOn: Map<string, string>): Operation | undefined {
  const { path } = operation;
  if (!/^\/places\/[^/]+\/plan\/rows\/\d+$/.test(path) || !has(document, path)) return undefined;
  const now: unknown = get(document, path);
  if (typeof now !== 'string') return undefined;
  if (operation.op === 'test') {
    if (operation.value === now || typeof operation.value !== 'string') return undefined;
    drawnOn.set(path, operation.value);
    return { ...operation, value: now };
  }
  const before = drawnOn.get(path);
  if (before === undefined || operation.op !== 'replace') return undefined;
  const after = String(operation.value);
  if (before.length !== now.length || after.length !== now.length) throw new Conflict(path);
  const row = [...now].map((cell, x) => {
    if (after[x] === before[x]) return cell;
    if (cell !== before[x] && cell !== after[x]) throw new Conflict(path);
    return after[x];
  });
  return { ...operation, value: row.join('') };
}

/** A document that is being changed: what is changed is copied first, with what it stands in, and nothing else. */
class Copy<T extends object> {
  readonly whole: T;
  private readonly copied = new Set<unknown>();

  constructor(document: T) {
    this.whole = this.copyOf(document);
  }

  private copyOf<Part extends object>(part: Part): Part {
    const copy = (Array.isArray(part) ? part.slice() : { ...part }) as Part;
    this.copied.add(copy);
    return copy;
  }

  step(operation: Operation): void {
    const { whole } = this;
    if (operation.op === 'test') {
      if (!has(whole, operation.path) || !same(get(whole, operation.path), operation.value)) throw new Conflict(operation.path);
      return;
    }
    const { parent, key } = locate(whole, operation.path);
    if (parent === undefined) throw new Conflict(operation.path);
    const there = has(whole, operation.path);
    if (Array.isArray(parent)) {
      const limit = operation.op === 'add' ? parent.length : parent.length - 1;
      if (key !== '-' && !(Number(key) >= 0 && Number(key) <= limit)) throw new Conflict(operation.path);
    } else if (operation.op === 'add' ? there : !there) throw new Conflict(operation.path);
    this.copyDownTo(operation.path);
    jsonpatch.applyOperation(whole, structuredClone(operation), false, true, true);
  }

  /** All that a path leads through, which is there. */
  private copyDownTo(path: string): void {
    let at = this.whole as Record<string, object>;
    for (const part of parts(path).slice(0, -1)) {
      const inner = at[part]!;
      if (!this.copied.has(inner)) at[part] = this.copyOf(inner);
      at = at[part] as Record<string, object>;
    }
  }
}

function guarded<T extends object>(document: T, operations: Patch): { patch: Patch; inverse: Patch; result: T } {
  const copy = new Copy(document);
  const patch: Patch = [];
  const inverse: Patch[] = [];
  for (const operation of operations) {
    const tests = restsOn(copy.whole, operation);
    inverse.unshift(inverseOf(copy.whole, operation));
    copy.step(operation);
    patch.push(...tests, operation);
  }
  return { patch, inverse: inverse.flat(), result: copy.whole };
}

/** The tests an operation needs: what it takes away is as it was, what it stands behind in a list is still there. */
function restsOn(document: object, operation: Operation): Patch {
  if (operation.op === 'test' || operation.op === 'move') return [];
  const tests: Patch = [];
  // an element of a list of rules is known by its id, whatever its number is by then
  const rule = /^(.*\/rules\/\d+)\//.exec(operation.path)?.[1];
  if (rule) tests.push({ op: 'test', path: `${rule}/id`, value: get(document, `${rule}/id`) });
  if (operation.op === 'add') {
    const { parent, key } = locate(document, operation.path);
    const before = Number(key) - 1;
    if (Array.isArray(parent) && before >= 0 && before < parent.length) {
      tests.push(anchor(operation.path.slice(0, operation.path.lastIndexOf('/')), before, parent[before]));
    }
  } else {
    const value = get(document, operation.path);
    if (/\/rules\/\d+$/.test(operation.path))
      tests.push(anchor(operation.path.replace(/\/\d+$/, ''), Number(operation.path.split('/').at(-1)), value));
    tests.push({ op: 'test', path: operation.path, value: structuredClone(value) });
  }
  return tests;
}

function anchor(list: string, index: number, value: unknown): Operation {
  const id = (value as { id?: unknown } | null)?.id;
  return typeof id === 'string'
    ? { op: 'test', path: `${list}/${index}/id`, value: id }
    : { op: 'test', path: `${list}/${index}`, value };
}

function inverseOf(document: object, operation: Operation): Patch {
  const { parent, key } = locate(document, operation.path);
  const list = Array.isArray(parent);
  switch (operation.op) {
    case 'add':
      return [{ op: 'remove', path: key === '-' && list ? operation.path.replace(/-$/, String(parent.length)) : operation.path }];
    case 'replace':
      return [{ op: 'replace', path: operation.path, value: structuredClone(get(document, operation.path)) }];
    case 'remove': {
      const add: Operation = { op: 'add', path: operation.path, value: structuredClone(get(document, operation.path)) };
      return list ? [add] : [add, ...behind(operation.path, parent as object, key)];
    }
    case 'move':
      if (operation.from !== operation.path) throw new Error('Only a move of a key onto itself is used.');
      return behind(operation.path, parent as object, key);
    default:
      return [];
  }
}

/** Puts every key that stands behind `key` last, in turn: afterwards `key` stands before them again. */
function behind(path: string, parent: object, key: string): Patch {
  const all = Object.keys(parent);
  const base = path.slice(0, path.lastIndexOf('/'));
  return all
    .slice(all.indexOf(key) + 1)
    .map((after) => ({ op: 'move', from: `${base}/${escape(after)}`, path: `${base}/${escape(after)}` }));
}

function shifted(operation: Operation, shifts: Map<string, number>): Operation {
  let path = operation.path;
  for (const [list, by] of shifts) {
    const rest = path.startsWith(`${list}/`) ? path.slice(list.length + 1) : undefined;
    // what goes to the head of a list goes there wherever else something has moved
    if (operation.op === 'add' && rest === '0') continue;
    const index = rest === undefined ? undefined : /^\d+/.exec(rest)?.[0];
    if (index !== undefined) path = `${list}/${Number(index) + by}${rest!.slice(index.length)}`;
  }
  return { ...operation, path };
}

/** A failing test of a list element's identity looks for that element elsewhere in the list and notes by how much it moved. */
function findAgain(
  document: object,
  test: Operation & { op: 'test'; value: unknown },
  original: string,
  shifts: Map<string, number>
): Operation {
  if (has(document, test.path) && same(get(document, test.path), test.value)) return test;
  const found = /^(.*)\/(\d+)(\/id)?$/.exec(original);
  if (!found) throw new Conflict(test.path);
  const [, list, index, id = ''] = found;
  const elements: unknown = get(document, list!);
  if (!Array.isArray(elements)) throw new Conflict(test.path);
  const at = elements.findIndex((element) => same(id ? (element as { id?: unknown }).id : element, test.value));
  if (at < 0) throw new Conflict(test.path);
  shifts.set(list!, at - Number(index));
  return { ...test, path: `${list}/${at}${id}` };
}

const escape = jsonpatch.escapePathComponent;

function parts(path: string): string[] {
  return path.split('/').slice(1).map(jsonpatch.unescapePathComponent);
}

function locate(document: object, path: string): { parent: object | unknown[] | undefined; key: string } {
  const steps = parts(path);
  const key = steps.pop() ?? '';
  let at: unknown = document;
  for (const part of steps) {
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, part)) return { parent: undefined, key };
    at = (at as Record<string, unknown>)[part];
  }
  return { parent: typeof at === 'object' && at !== null ? at : undefined, key };
}

function has(document: object, path: string): boolean {
  if (path === '') return true;
  const { parent, key } = locate(document, path);
  return parent !== undefined && Object.hasOwn(parent, key);
}

function get(document: object, path: string): unknown {
  if (path === '') return document;
  const { parent, key } = locate(document, path);
  return parent === undefined ? undefined : (parent as Record<string, unknown>)[key];
}
