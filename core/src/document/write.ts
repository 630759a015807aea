/** Writing a flow document: keys in one order, maps in theirs, short things on one line, so that a difference is small. */
import stringify from 'json-stringify-pretty-compact';
import { documentKeys, documentParts } from '../vocabulary/document.ts';
import { bare } from '../plan/grown.ts';
import { effects } from '../vocabulary/effects.ts';
import type { Shape } from '../vocabulary/fields.ts';
import { events, triggers } from '../vocabulary/triggers.ts';
import type { FlowDocument } from './types.ts';
import { versionOf } from './version.ts';

/** One order serves all things of the format: no two kinds want the same keys the other way round. */
const keys = [
  ...(
    'id check subject reason rests name brief bug kind outcome type draw scope initial value min max choices labels levels view rows group ' +
    'goal seconds chance megabytes place whole progress count renew facing message tags look estimate load uses plan movement entries pieces objectives ' +
    'spot spots n patrol passages from when if do go result by note text met needed start slots shows'
  ).split(' '),
  ...keysOf(triggers),
  ...keysOf(events),
  ...keysOf(effects),
  ...'both through at place move order row level entry over else style wait out hold in colour sound music rules values'.split(
    ' '
  ),
  ...'draws then expects steps'.split(' '),
  ...'things piece gate cells cell facing links areas patrols points turn below reads side speed up across drop tall diagonal above abilities'.split(
    ' '
  )
];
const rank = new Map([...new Set(keys)].map((key, index) => [key, index]));
/** Below these, within parts of a document, the keys are ids and their order is the display order. */
export const mapsWithin: ReadonlySet<string> = new Set([
  'entries',
  'pieces',
  'objectives',
  'spots',
  'passages',
  'at',
  'labels',
  'values',
  'things',
  'links',
  'areas',
  'patrols',
  'reads',
  'abilities'
]);
const maps = new Set<string>([...documentKeys.filter((key) => documentParts[key] === 'map'), ...mapsWithin]);
/** Filled in when they are read, so that they may be left out when they are empty. */
const filledIn = new Set(['rules', 'expects', 'entries', 'pieces', 'objectives', 'spots', 'passages']);
/** Kept as the designer's own data: nothing of it is reordered or left out. */
const free = new Set(['look']);

/** The text of a `.crow.json` file, ending with a line feed. Reading it gives the same document. */
export function write(document: FlowDocument): string {
  const ordered: Record<string, unknown> = {};
  for (const key of documentKeys) {
    const value = key === 'version' ? versionOf(document) : document[key];
    if (value === undefined || (documentParts[key] !== 'one' && key !== 'places' && isEmpty(value))) continue;
    const written = key === 'places' ? withoutGrown(document.places) : value;
    ordered[key] = documentParts[key] === 'map' ? mapInOrder(written as object) : inOrder(written);
  }
  return stringify(ordered, { indent: 2, maxLength: 130 }) + '\n';
}

/** What follows from plans is not written. */
const withoutGrown = (places: FlowDocument['places']): FlowDocument['places'] =>
  Object.fromEntries(Object.entries(places).map(([id, place]) => [id, place.kind === 'level' ? bare(place) : place]));

function mapInOrder(map: object): object {
  return Object.fromEntries(Object.entries(map).map(([id, value]) => [id, inOrder(value)]));
}

function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(inOrder);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([key, part]) => part !== undefined && !(filledIn.has(key) && isEmpty(part)))
      .sort(([a], [b]) => (rank.get(a) ?? 1e9) - (rank.get(b) ?? 1e9))
      .map(([key, part]) => [key, free.has(key) ? part : maps.has(key) && isMap(part) ? mapInOrder(part) : inOrder(part)])
  );
}

const isMap = (value: unknown): value is object => typeof value === 'object' && value !== null && !Array.isArray(value);

function isEmpty(value: unknown): boolean {
  return typeof value === 'object' && value !== null && Object.keys(value).length === 0;
}

/** The keys of a vocabulary's kinds, each followed by what it needs and may have beside its own. */
function keysOf(vocabulary: Record<string, Shape>): string[] {
  return Object.entries(vocabulary).flatMap(([kind, { needs, may }]) => [kind, ...Object.keys({ ...needs, ...may })]);
}
