/**
 * Questions about arrivals that the checks leave open: what a player carries in their very first game, before any value of an earlier one can be there. The first game ends
 * when an ending is entered, or home after a level. It is explored as a flow of its own in which every screen stands
 * twice, before and after the first level, and in which nobody can go on from where the game has ended.
 */
import { isLevel, own, type FlowDocument, type Id, type Place, type Rule, type Target, type Step } from '../document/types.ts';
import { prepare } from '../play/flow.ts';
import type { Value } from '../language/evaluate.ts';
import type { Watched } from '../explore/packed/evidence.ts';
import { explorePacked, usualBytes } from '../explore/packed/explore.ts';
import { needsOf } from '../explore/packed/needs.ts';
import { arrivalsOf } from './explored-checks.ts';
import { checking, usualLimit, type CheckOptions } from './check.ts';
import type { Progress } from '../explore/facts.ts';
import type { Arrival, Report } from '../report/report.ts';

/** Before the first level, after it, opened over a place after it, and where a game that has ended goes by itself. */
type When = 'before' | 'after' | 'over' | 'done';

/** The values with which each place is entered in the first game; undefined when the exploration was cut. */
export function* firstGameArrivals(
  document: FlowDocument,
  { limit = usualLimit, bytes, explorer = explorePacked }: CheckOptions = {}
): Generator<Progress, Report['arrivals'] | undefined> {
  if (!own(document.places, document.start)) return undefined;
  const { unrolled, origin } = unroll(document);
  const facts = yield* explorer(prepare(unrolled), limit, bytes);
  if (!facts.complete) return undefined;
  const arrivals: Report['arrivals'] = {};
  for (const [place, values] of Object.entries(arrivalsOf(facts))) {
    const at = (arrivals[origin.get(place) ?? place] ??= {});
    for (const [variable, found] of Object.entries(values))
      at[variable] = at[variable] ? joined(document, variable, at[variable], found) : found;
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
      ? place.rules.filter(({ when: trigger }) => !('press' in trigger || 'after' in trigger || 'choose' in trigger))
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

/**
 * A shortest route to an arrival at a place on which a condition holds; undefined when there is none, or when the
 * exploration was cut before one was found. It is what an expectation of the opposite would show.
 */
export function* routeToArrival(
  document: FlowDocument,
  place: Id,
  condition: string,
  options: CheckOptions = {}
): Generator<Progress, Step[] | undefined> {
  const asked = document.places[place]!;
  const expects = [...asked.expects, `not (${condition})`];
  const places = { ...document.places, [place]: { ...asked, expects } };
  const report = yield* checking({ ...document, places }, options);
  return report.checks.find(({ check, subject }) => check === 'expectation' && subject === `${place}/${expects.length - 1}`)
    ?.route;
}

/** Values with which players really arrive at a place, all together, and a shortest route to it. */
export interface ArrivalSet {
  values: Record<Id, Value>;
  route: Step[];
}

/**
 * The different series of values with which a place is entered and settled, nearest first, at most `most`; `complete`
 * says whether these are all.
 */
export function* arrivalSets(
  document: FlowDocument,
  place: Id,
  most: number,
  { limit = usualLimit, bytes = usualBytes }: CheckOptions = {}
): Generator<Progress, { sets: ArrivalSet[]; complete: boolean }> {
  if (!own(document.places, document.start)) return { sets: [], complete: true };
  const flow = prepare(document);
  const watched: Watched = { place, most: most + 1, found: new Map() };
  // values that no condition tells apart are different to who plays on from them
  const facts = yield* explorePacked(flow, limit, bytes, { needs: { ...needsOf(flow), merged: new Map() }, watched });
  const ids = Object.keys(document.variables);
  const sets = [...watched.found.values()].slice(0, most).map(({ values, arrow }) => ({
    values: Object.fromEntries(ids.map((id, index) => [id, valueTold(document, id, values[index]!)])),
    route: facts.routeTo(arrow!)
  }));
  return { sets, complete: facts.complete && watched.found.size <= most };
}

/** A value as the packed states have it: flags are 0 or 1, choices the number of theirs. */
function valueTold(document: FlowDocument, id: Id, value: number): Value {
  const variable = document.variables[id]!;
  return variable.type === 'number' ? value : variable.type === 'flag' ? value === 1 : variable.choices[value]!;
}
