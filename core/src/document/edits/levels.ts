/** Edits of many levels at once: adding from a pattern or a model, and names that follow the order. */
import { idFrom } from './ids.ts';
import { cut } from '../cut.ts';
import { change, Series, together, type Change } from '../patch.ts';
import { own, type FlowDocument, type Id, type Level, type Load } from '../types.ts';
import { copyPlaces, pastePlaces } from './copies.ts';
import { addPlace, emptyPlace, fieldOperations, moveLevel, renamePlace, setPlaceField } from './places.ts';
import { addRule, likelyRule, sharedWin } from './rules.ts';

/** The name of a level at a place in its order: "{n}" is its number. */
export function nameAt(pattern: string, number: number): string {
  return pattern.replaceAll('{n}', String(number));
}

/**
 * Adds levels last in an order, named by a pattern with their numbers. With a model each is an independent copy of it;
 * without one each is won by the rule that all levels share, else as most others are.
 */
export function addLevels(
  document: FlowDocument,
  order: Id | undefined,
  count: number,
  pattern: string,
  model?: Id
): Change & { ids: Id[] } {
  const ids: Id[] = [];
  const first = (order === undefined ? 0 : document.orders[order]!.levels.length) + 1;
  const edits = Array.from({ length: count }, (_, n) => (now: FlowDocument) => {
    const name = cut(nameAt(pattern, first + n), 80);
    const into = order ?? begunOrder(document, now);
    const made = model === undefined ? plainLevel(now, name, into) : copyOf(now, model, name, into);
    ids.push(made.id);
    return made;
  });
  const whole = together(document, `Add ${count} ${count === 1 ? 'level' : 'levels'}`, ...edits);
  return { ...whole, ids };
}

/** The order that the first level of a flow has begun since, which those after it belong to as well. */
export function begunOrder(before: FlowDocument, now: FlowDocument): Id | undefined {
  return Object.keys(before.orders).length === 0 ? Object.keys(now.orders)[0] : undefined;
}

function plainLevel(document: FlowDocument, name: string, order: Id | undefined): Change & { id: Id } {
  // where all levels share a rule that wins, a rule of its own would hide that
  const shared = sharedWin(document);
  if (shared) return addPlace(document, { ...emptyPlace('level', name), pieces: shared.pieces } as Level, { order });
  const { id, ...added } = addPlace(document, emptyPlace('level', name), { order });
  const whole = together(
    document,
    added.label,
    () => added,
    (now) => addRule(now, { place: id }, likelyRule(now, id, 'won'))
  );
  return { ...whole, id };
}

function copyOf(document: FlowDocument, model: Id, name: string, order: Id | undefined): Change & { id: Id } {
  const { ids, ...pasted } = pastePlaces(document, copyPlaces(document, [model]));
  const id = ids[0]!;
  const whole = together(
    document,
    `Add ${name}`,
    () => pasted,
    (now) => renamePlace(now, id, name),
    // a copy stands behind its model; here it comes last
    (now) => lastIn(now, order, id)
  );
  return { ...whole, id };
}

/** The level as the last of an order, of which it may not be one yet. */
function lastIn(document: FlowDocument, order: Id | undefined, id: Id): Change {
  if (order === undefined) return change(document, '', []);
  const { levels } = document.orders[order]!;
  if (levels.includes(id)) return moveLevel(document, order, id, levels.length - 1);
  return change(document, '', [{ op: 'add', path: `/orders/${order}/levels/${levels.length}`, value: id }]);
}

/** The names of an order's levels where they follow a pattern: most begin and end alike around a number. */
export interface NamePattern {
  pattern: string;
  /** The levels that follow it, with the number in their name and their place in the order. */
  levels: { level: Id; said: number; number: number }[];
}

/** The pattern that the names in an order follow, if more than half of them, and at least two, do. */
export function patternOf(document: FlowDocument, order: Id): NamePattern | undefined {
  const { levels } = document.orders[order]!;
  const found = new Map<string, NamePattern['levels']>();
  levels.forEach((level, index) => {
    const parts = /^(\D*)(\d+)(\D*)$/.exec(document.places[level]?.name ?? '');
    if (!parts) return;
    const pattern = `${parts[1]}{n}${parts[3]}`;
    found.set(pattern, [...(found.get(pattern) ?? []), { level, said: Number(parts[2]), number: index + 1 }]);
  });
  const [best] = [...found].sort(([, a], [, b]) => b.length - a.length);
  return best && best[1].length >= 2 && best[1].length * 2 > levels.length ? { pattern: best[0], levels: best[1] } : undefined;
}

/** How one more level of an order is called: the pattern with the number after the highest. Undefined without a pattern. */
export function nextName(document: FlowDocument, order: Id): string | undefined {
  const found = patternOf(document, order);
  return found && cut(nameAt(found.pattern, Math.max(...found.levels.map(({ said }) => said)) + 1), 80);
}

/** Gives every level whose name follows the order's pattern the number of its place. */
export function renumber(document: FlowDocument, order: Id): Change {
  const found = patternOf(document, order);
  const wrong = (found?.levels ?? []).filter(({ said, number }) => said !== number);
  const edits = wrong.map(
    ({ level, number }) =>
      (now: FlowDocument) =>
        renamePlace(now, level, nameAt(found!.pattern, number))
  );
  return together(document, `Number the levels of ${document.orders[order]!.name} as they stand`, ...edits);
}

/** Moves levels of an order together to stand from `index` on, in the order they have. */
export function moveLevels(document: FlowDocument, order: Id, levels: Id[], index: number): Change {
  const { levels: before, name } = document.orders[order]!;
  const moved = before.filter((id) => levels.includes(id));
  const rest = before.filter((id) => !levels.includes(id));
  const at = Math.min(Math.max(0, index), rest.length);
  const behind = rest[at];
  const series = new Series(document);
  // each is moved before the one that comes behind them, so that somebody else's change of the order is not lost
  for (const level of moved) {
    const others = series.now.orders[order]!.levels.filter((id) => id !== level);
    const to = behind === undefined ? others.length : others.indexOf(behind);
    if (series.now.orders[order]!.levels.indexOf(level) !== to) series.make(moveLevel(series.now, order, level, to));
  }
  const one = moved.length === 1 ? moved[0]! : undefined;
  const what = one === undefined ? `${moved.length} levels of ${name}` : (document.places[one]?.name ?? one);
  return series.whole(`Move ${what} to place ${at + 1}`);
}

/** The levels of a group that an order lists, in its order. */
export const levelsInOrder = (document: FlowDocument, order: Id, group: Id): Id[] =>
  document.orders[order]!.levels.filter((id) => groupOf(document, id) === group);

const groupOf = (document: FlowDocument, id: Id | undefined): Id | undefined => {
  const place = id === undefined ? undefined : own(document.places, id);
  return place?.kind === 'level' ? place.group : undefined;
};

/** The group between whose levels another level stands in an order. */
export function groupAround(document: FlowDocument, order: Id, level: Id): Id | undefined {
  const { levels } = document.orders[order]!;
  const at = levels.indexOf(level);
  const [before, after] = [groupOf(document, levels[at - 1]), groupOf(document, levels[at + 1])];
  return before !== undefined && before === after && before !== groupOf(document, level) ? before : undefined;
}

/** A level that stands between two of one group becomes one of them. */
export function joinGroupAround(document: FlowDocument, level: Id): Change {
  const group = Object.keys(document.orders)
    .map((order) => groupAround(document, order, level))
    .find((id) => id !== undefined);
  return group === undefined ? change(document, '', []) : setPlaceField(document, level, 'group', group);
}

/** How much a place, the levels of one group together, or the whole may load; what is undefined is not limited. */
export function setLimit(document: FlowDocument, of: LoadedPart, load: Load): Change {
  const { place, whole, ...group } = document.limit ?? {};
  const parts = { place, group, whole, [of]: saidOf(load) };
  const limit = { ...parts.group, ...(parts.place && { place: parts.place }), ...(parts.whole && { whole: parts.whole }) };
  const after = Object.keys(limit).length === 0 ? undefined : limit;
  const label = `How much ${{ place: 'a place', group: 'a group', whole: 'the whole' }[of]} may load`;
  return change(document, label, fieldOperations('/limit', document.limit, after));
}

export type LoadedPart = 'place' | 'group' | 'whole';

/** How much each may load; empty where nothing is said. */
export function limitsOf({ limit = {} }: FlowDocument): Record<LoadedPart, Load> {
  const { place = {}, whole = {}, ...group } = limit;
  return { place, group, whole };
}

/** What is said of a load; undefined where nothing is. */
function saidOf({ megabytes, seconds }: Load): Load | undefined {
  const said = { ...(megabytes === undefined ? {} : { megabytes }), ...(seconds === undefined ? {} : { seconds }) };
  return Object.keys(said).length === 0 ? undefined : said;
}

/** What a place loads by itself; what is undefined is not said. */
export function setLoad(document: FlowDocument, place: Id, load: Load): Change {
  const { name, load: before } = document.places[place]!;
  return change(document, `${name}: what it loads`, fieldOperations(`/places/${place}/load`, before, saidOf(load)));
}

/** Says how many seconds a level is expected to take. */
export function setEstimate(document: FlowDocument, level: Id, seconds: number): Change {
  const { name, estimate: before } = document.places[level] as Level;
  return change(
    document,
    `${name}: takes ${seconds} s`,
    fieldOperations(`/places/${level}/estimate`, before, { ...before, seconds })
  );
}

export function addAsset(document: FlowDocument, name: string): Change & { id: Id } {
  const id = idFrom(name, document.assets, 'asset');
  const value = { name, megabytes: 1 };
  return { ...change(document, `Add the shared asset ${name}`, [{ op: 'add', path: `/assets/${id}`, value }]), id };
}

export function setMegabytes(document: FlowDocument, asset: Id, megabytes: number): Change {
  const label = `${document.assets[asset]!.name}: ${megabytes} MB`;
  return change(document, label, [{ op: 'replace', path: `/assets/${asset}/megabytes`, value: megabytes }]);
}

/** Says whether a place or a group uses a shared asset. */
export function setUses(document: FlowDocument, of: { place: Id } | { group: Id }, asset: Id, used: boolean): Change {
  const [path, { name, uses = [] }] =
    'place' in of
      ? [`/places/${of.place}/uses`, document.places[of.place]!]
      : [`/groups/${of.group}/uses`, document.groups[of.group]!];
  const after = used ? [...uses.filter((id) => id !== asset), asset] : uses.filter((id) => id !== asset);
  const label = `${name}: ${used ? 'uses' : 'does not use'} ${document.assets[asset]?.name ?? asset}`;
  return change(document, label, fieldOperations(path, uses.length > 0 ? uses : undefined, after.length > 0 ? after : undefined));
}

/** Removes a shared asset, also from what uses it. */
export function removeAsset(document: FlowDocument, asset: Id): Change {
  const users = [
    ...Object.keys(document.places).map((place) => ({ place })),
    ...Object.keys(document.groups).map((group) => ({ group }))
  ].filter((of) => ('place' in of ? document.places[of.place] : document.groups[of.group])?.uses?.includes(asset));
  return together(
    document,
    `Delete the shared asset ${document.assets[asset]!.name}`,
    ...users.map((of) => (now: FlowDocument) => setUses(now, of, asset, false)),
    (now) => change(now, '', [{ op: 'remove', path: `/assets/${asset}` }])
  );
}

/** The progress of each level worked out from its place in an order: from 0 at the first to 100 behind the last. */
export function progressFromOrder(document: FlowDocument, order: Id): Change {
  const { levels, name } = document.orders[order]!;
  const edits = levels.map((id, index) => (now: FlowDocument) => {
    const level = own(now.places, id);
    if (level?.kind !== 'level') return change(now, '', []);
    const at = (share: number) => Math.floor((100 * (index + share)) / levels.length);
    const checkpoints = Object.entries(level.pieces).filter(([, { kind }]) => kind === 'checkpoint');
    // those of a level rise as well where one of them says its own
    const rising = checkpoints.some(([, { progress }]) => progress !== undefined) ? checkpoints : [];
    return change(now, '', [
      ...fieldOperations(`/places/${id}/progress`, level.progress, at(0) || undefined),
      ...rising.flatMap(([piece, { progress }], n) =>
        fieldOperations(`/places/${id}/pieces/${piece}/progress`, progress, at((n + 1) / (rising.length + 1)))
      )
    ]);
  });
  return together(document, `Progress as ${name} goes on`, ...edits);
}
