/** Levels that have a plan: their spots, passages and where their pieces stand follow from it. */
import QuickLRU from 'quick-lru';
import { levelsOf, own, type FlowDocument, type Id, type Level, type Piece, type Plan } from '../document/types.ts';
import { mostPassages, mostSpots } from '../vocabulary/ground.ts';
import { placedIn } from './draw.ts';
import { derivedBy, plot, type Derived, type Plotted } from './derive.ts';
import { movementIn, type Drawn } from './types.ts';

const longestName = 80;
/** Plans that were derived last: between two edits of something else none is derived again. */
const latest = new QuickLRU<string, Derived>({ maxSize: 64 });
/** What was plotted last on ground of a size: after a small change most of it is still true. */
const plots = new QuickLRU<string, { key: string; plotted: Plotted }>({ maxSize: 2 });

/** What has to be known of a level to derive its plan. */
export function drawnOf(document: FlowDocument, level: Level): Drawn | undefined {
  if (!level.plan) return undefined;
  const acts = Object.entries(level.pieces).flatMap(([id, { kind }]) => (kind === 'pickup' || kind === 'player' ? [] : [id]));
  return { plan: level.plan, movement: movementIn(document, level), acts: new Set(acts) };
}

/** What follows from a level's plan; undefined where it has none. */
export function derivedOf(document: FlowDocument, level: Level): Derived | undefined {
  const drawn = drawnOf(document, level);
  if (!drawn) return undefined;
  const names = namesIn(level);
  const key = keyOf(drawn, names);
  const found = latest.get(key) ?? derivedBy(() => plotted(drawn, names, key));
  latest.set(key, found);
  return found;
}

/** Whether a level is walked cell by cell: a plan on which too much is in reach to be looked at is met as its one spot. */
export const isWalked = (document: FlowDocument, level: Level): boolean =>
  level.plan !== undefined && !derivedOf(document, level)!.tooMany;

const namesIn = ({ pieces }: Level) => Object.fromEntries(Object.entries(pieces).map(([id, { name }]) => [id, name]));
const keyOf = ({ plan, movement, acts }: Drawn, names: Record<Id, string>) => JSON.stringify([plan, movement, [...acts], names]);

/** Takes over what was derived elsewhere, as in a worker: it is not derived again. */
export function alreadyDerived(document: FlowDocument, level: Level, derived: Derived): void {
  const drawn = drawnOf(document, level);
  if (drawn) latest.set(keyOf(drawn, namesIn(level)), derived);
}

/** A level's plan with all that can be known of it. Throws `TooMany`. */
export function plotOf(document: FlowDocument, level: Level): Plotted | undefined {
  const drawn = drawnOf(document, level);
  const names = namesIn(level);
  return drawn && plotted(drawn, names, keyOf(drawn, names));
}

function plotted(drawn: Drawn, names: Record<Id, string>, key: string): Plotted {
  const { view, rows } = drawn.plan;
  const size = JSON.stringify([view, rows.length, rows[0]?.length]);
  const before = plots.get(size);
  if (before?.key === key) return before.plotted;
  const found = plot(drawn, names, undefined, before?.plotted);
  plots.set(size, { key, plotted: found });
  return found;
}

/** Whether a level can have all that was derived. */
const fits = ({ spots, passages }: Derived): boolean =>
  Object.keys(spots).length <= mostSpots && Object.keys(passages).length <= mostPassages;

/** The document with what follows from its plans in place of what its levels say themselves; the same where that is so already. */
export function grown(document: FlowDocument): FlowDocument {
  let places: FlowDocument['places'] | undefined;
  for (const [id, level] of levelsOf(document)) {
    if (!level.plan || (movements.has(level) && movements.get(level) === document.movement)) continue;
    places ??= { ...document.places };
    places[id] = grownLevel(document, level);
    movements.set(places[id], document.movement);
  }
  return places ? { ...document, places } : document;
}

/** By level that has grown: the movement of the document with which it has. */
const movements = new WeakMap<object, FlowDocument['movement']>();

function grownLevel(document: FlowDocument, level: Level): Level {
  const derived = derivedOf(document, level)!;
  // what is too much for a level is told by `plan-fits`
  const { spots, passages, at, entries } = fits(derived) ? derived : asOne(level.plan!);
  const placed = placedIn(level.plan!);
  return {
    ...level,
    entries: mapped(level.entries, ({ spot: _, ...entry }, id) => ({
      ...entry,
      ...(entries[id] !== undefined && { spot: entries[id] })
    })),
    pieces: mapped(level.pieces, ({ at: _, ...piece }, id) =>
      placed.has(id) ? { ...withoutCount(piece), ...(at[id] && { at: at[id] }) } : piece
    ),
    spots: mapped(spots, ({ name, area }) => ({ name: name.slice(0, longestName), ...(area !== undefined && { area }) })),
    passages: mapped(passages, ({ from, to, if: asks, through }) => ({
      from,
      to,
      ...(asks.length > 0 && { if: allOf(asks) }),
      ...(through.length > 0 && { through })
    }))
  };
}

/** A level as it is written: without what follows from its plan. */
export const bare = (level: Level): Level => (level.plan ? without(level, level.plan) : level);

function without(level: Level, plan: Plan): Level {
  const placed = placedIn(plan);
  return {
    ...level,
    entries: mapped(level.entries, ({ spot: _, ...entry }) => entry),
    pieces: mapped(level.pieces, ({ at, ...piece }, id) => (placed.has(id) || at === undefined ? piece : { ...piece, at })),
    spots: {},
    passages: {}
  };
}

/**
 * The document after a change, where levels that have lost their plan have lost what followed from it too, unless the change
 * has given them that as their own.
 */
export function grownFrom(before: FlowDocument, after: FlowDocument): FlowDocument {
  let places: FlowDocument['places'] | undefined;
  for (const [id, { plan, spots }] of levelsOf(before)) {
    const level = own(after.places, id);
    if (!plan || level?.kind !== 'level' || level.plan || level.spots !== spots) continue;
    places ??= { ...after.places };
    places[id] = without(level, plan);
  }
  return grown(places ? { ...after, places } : after);
}

/** A plan from which too much follows: all that is drawn in it counts, as in one spot. */
function asOne({ rows, things = {}, patrols = {}, below }: Plan): Pick<Derived, 'spots' | 'passages' | 'at' | 'entries'> {
  const one = 's0_0';
  const at: Derived['at'] = below === undefined ? {} : { [below]: [{ spots: [one], n: 1 }] };
  const entries: Derived['entries'] = {};
  const add = (piece: Id, n: number) => (at[piece] = [{ spots: [one], n: n + (at[piece]?.[0]!.n ?? 0) }]);
  for (const thing of Object.values(things)) {
    if ('entry' in thing) entries[thing.entry] = one;
    if (!('piece' in thing)) continue;
    const n = thing.cells.filter(([x, y]) => rows[y]?.[x] !== undefined).length;
    if (n > 0) add(thing.piece, n);
  }
  for (const { piece } of Object.values(patrols)) add(piece, 1);
  return { spots: { [one]: { name: 'All ground', cells: [] } }, passages: {}, at, entries };
}

const withoutCount = ({ count: _, ...piece }: Piece): Piece => piece;

const mapped = <A, B>(map: Record<Id, A>, to: (value: A, id: Id) => B): Record<Id, B> =>
  Object.fromEntries(Object.entries(map).map(([id, value]) => [id, to(value, id)]));

/** Several conditions as one. */
const allOf = (conditions: string[]): string =>
  conditions.length === 1 ? conditions[0]! : conditions.map((each) => (/\bor\b/.test(each) ? `(${each})` : each)).join(' and ');
