/**
 * What a player carries in their very first game, before any value of an earlier one can be there. The first game ends
 * when an ending is entered, or home after a level. It is explored as a flow of its own in which every screen stands
 * twice, before and after the first level, and in which nobody can go on from where the game has ended.
 */
import { isLevel, own, type FlowDocument, type Id, type Place, type Rule, type Target } from '../document/types.ts';
import type { Progress } from '../explore/facts.ts';
import { prepare } from '../play/flow.ts';
import type { Arrival, Report, Verdict } from '../report/report.ts';
import { arrivalWords, placeName } from '../words/words.ts';
import { explored, type ExploreOptions } from './explored.ts';
import { verdict } from './verdict.ts';

/** Before the first level, after it, opened over a place after it, and where a game that has ended goes by itself. */
type When = 'before' | 'after' | 'over' | 'done';

/** The values with which each place is entered in the first game; undefined when the exploration was cut. */
export function* firstGameArrivals(
  document: FlowDocument,
  options: ExploreOptions = {}
): Generator<Progress, Report['arrivals'] | undefined> {
  if (!own(document.places, document.start)) return undefined;
  const { unrolled, origin } = unroll(document);
  const found = yield* explored(prepare(unrolled), options);
  if (!found.complete) return undefined;
  const arrivals: Report['arrivals'] = {};
  for (const [place, values] of Object.entries(found.arrivals)) {
    const at = (arrivals[origin.get(place) ?? place] ??= {});
    for (const [variable, some] of Object.entries(values))
      at[variable] = at[variable] ? joined(document, variable, at[variable], some) : some;
  }
  return arrivals;
}

/** The values of two arrivals together, choices in their order. */
function joined(document: FlowDocument, variable: Id, a: Arrival, b: Arrival): Arrival {
  if ('min' in a && 'min' in b) return { min: Math.min(a.min, b.min), max: Math.max(a.max, b.max) };
  const both = new Set([a, b].flatMap((each) => ('values' in each ? each.values : [])));
  const policy = document.variables[variable]!;
  const order: (boolean | string)[] = policy.type === 'choice' ? policy.choices : [false, true];
  return { values: order.filter((value) => both.has(value)) };
}

/** The flow of a first game, and by the id of each copy of a screen which one it is of. */
export function unroll(document: FlowDocument): { unrolled: FlowDocument; origin: Map<Id, Id> } {
  const { home } = prepare(document);
  const origin = new Map<Id, Id>();
  const copies = new Map<string, Id>();
  const taken = new Set([...Object.keys(document.places), ...Object.keys(document.groups), ...Object.keys(document.orders)]);
  let count = 0;
  const fresh = (): Id => {
    for (;;) {
      const id = `copy_${++count}`;
      if (!taken.has(id)) return id;
    }
  };
  const screens = Object.entries(document.places).filter(([, { kind }]) => kind !== 'level');
  const times: When[] = ['before', 'after', 'over', 'done'];
  for (const [id] of screens)
    for (const when of times) {
      const copy = fresh();
      copies.set(`${when} ${id}`, copy);
      origin.set(copy, id);
    }

  let rules = 0;
  const aimed = (target: Target, when: When): Target => {
    if ('move' in target) return target.else ? { ...target, else: aimed(target.else, when) } : target;
    // home opened over a place is no end of the game
    const then = when === 'before' || when === 'done' ? when : target.over ? 'over' : 'after';
    const to = copies.get(`${then} ${target.place}`);
    return to === undefined ? target : { ...target, place: to };
  };
  const copied = (rule: Rule, when: When): Rule => ({
    ...rule,
    id: `copy_${++rules}`,
    ...(rule.go ? { go: aimed(rule.go, when) } : {})
  });
  const screen = (place: Place, id: Id, when: When): Place => {
    const ended = when === 'done' || place.kind === 'ending' || (id === home && when === 'after');
    // what still happens by itself on arrival belongs to it; what the player or the clock would do does not
    const read = ended
      ? place.rules.filter(({ when: trigger }) => !['press', 'after', 'every', 'choose'].some((kind) => kind in trigger))
      : place.rules;
    return { ...place, expects: [], rules: read.map((rule) => copied(rule, ended ? 'done' : when)) };
  };
  const shared = (list: Rule[]) => list.map((rule) => copied(rule, 'after'));
  const places: Record<Id, Place> = {};
  for (const [id, place] of Object.entries(document.places)) {
    if (place.kind === 'level') places[id] = { ...place, expects: [], rules: shared(place.rules) };
    else for (const when of times) places[copies.get(`${when} ${id}`)!] = screen(place, id, when);
  }
  const groups = Object.fromEntries(
    Object.entries(document.groups).map(([id, group]) => [id, { ...group, rules: shared(group.rules) }])
  );
  const start = isLevel(document, document.start) ? document.start : copies.get(`before ${document.start}`)!;
  return { unrolled: { ...document, start, places, groups, rules: shared(document.rules), accepted: [] }, origin };
}

/** As many places as are told of one value. */
const mostPlaces = 3;

/**
 * Kept values with which a level is entered in later games otherwise than in the first: a score that should have begun
 * again, seen only by who plays twice. `arrivals` are those of any game; undefined where they are not all known.
 */
export function* laterGames(
  document: FlowDocument,
  arrivals: Report['arrivals'] | undefined,
  options: ExploreOptions
): Generator<Progress, Verdict[]> {
  const kept = Object.entries(document.variables).filter(([, { scope }]) => scope === 'kept');
  const levels = Object.keys(document.places).filter((id) => isLevel(document, id));
  const changes = (id: Id, level: Id) => !same(arrivals?.[level]?.[id], only(document.variables[id]!.initial));
  const asked = kept.some(([id]) => levels.some((level) => arrivals?.[level] && changes(id, level)));
  const first = arrivals && asked ? yield* firstGameArrivals(document, options) : undefined;
  return kept.map(([id, { name }]) => {
    const pointer = `/variables/${id}`;
    if (!arrivals || (asked && !first))
      return verdict('second-game', id, 'open', `It is not settled whether ${name} differs in later games.`, { pointer });
    const differing = first ? levels.filter((level) => first[level]?.[id] && !same(first[level][id], arrivals[level]![id])) : [];
    if (differing.length === 0)
      return verdict('second-game', id, 'holds', `Levels begin with the same ${name} in every game.`, { pointer });
    const why = differing.slice(0, mostPlaces).map((level) => ({
      text: `${placeName(document, level)} is entered with ${arrivalWords(first![level]![id]!)} in the first game, and with ${arrivalWords(arrivals[level]![id]!)} in later games.`,
      places: [level]
    }));
    const [level] = differing;
    const where = differing.length === 1 ? placeName(document, level!) : `${differing.length} levels`;
    const message = `${name} is carried into later games: ${where} can begin with other values than in the first game.`;
    return verdict('second-game', id, 'fails', message, { pointer, why });
  });
}

const only = (value: boolean | number | string): Arrival =>
  typeof value === 'number' ? { min: value, max: value } : { values: [value] };

function same(a: Arrival | undefined, b: Arrival | undefined): boolean {
  if (!a || !b) return a === b;
  if ('min' in a) return 'min' in b && a.min === b.min && a.max === b.max;
  return 'values' in b && a.values.length === b.values.length && a.values.every((value, at) => value === b.values[at]);
}
