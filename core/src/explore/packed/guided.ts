/**
 * Past the limit: what has not been seen is looked for, best first. A state is good where the condition of a rule that
 * never fired is nearly true and the rule's place is near. What is found is certain, its route may not be the shortest;
 * what is not found stays open.
 */
import type { Id } from '../../document/types.ts';
import { parts, type Expression } from '../../language/ast.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Flow } from '../../play/flow.ts';
import { distance } from './distance.ts';
import { Heap } from './heap.ts';
import type { Machine } from './machine.ts';
import { rulesTo } from '../../play/leading.ts';

/** What the search needs of an exploration. */
export interface Searched {
  flow: Flow;
  machine: Machine;
  /** How many states there are, and which of them have not been looked at. */
  count(): number;
  waiting(): number[];
  load(state: number): void;
  expand(state: number): void;
}

/** As many states as the search for one rule begins from, and as it looks at without coming nearer. */
const mostBegun = 64;
const mostInVain = 4000;
/** As many slots as are read in all, which takes some seconds, and at the most to choose what one search begins from. */
const mostRead = 200_000_000;
const mostReadAtFirst = 20_000_000;
/** What one missed number weighs against one step between places. */
const weight = 8;
const farAway = 1000;

/** Looks for rules that never fired until `budget` states more are known. Yields now and then. */
export function* guided(search: Searched, budget: number): Generator<void> {
  const { flow, machine } = search;
  const most = search.count() + budget;
  const work = { left: mostRead };
  const near = neighbours(flow, machine);
  const index = machine.sheet.ruleIndex;
  const unfired = [...flow.rules.values()].filter(({ id }) => machine.marks.fired[index.get(id)!] === 0);
  // first what wins a level or leads somewhere
  unfired.sort(
    (a, b) =>
      Number(Boolean(b.rule.result)) - Number(Boolean(a.rule.result)) || Number(Boolean(b.rule.go)) - Number(Boolean(a.rule.go))
  );
  for (const rule of unfired) {
    if (search.count() >= most || work.left <= 0) return;
    yield* seek(search, rule, near, Math.min(most, search.count() + Math.ceil(budget / 4)), work);
  }
}

function* seek(search: Searched, rule: FittingRule, near: number[][], most: number, work: { left: number }): Generator<void> {
  const { machine } = search;
  const index = machine.sheet.ruleIndex.get(rule.id)!;
  const seen = () => machine.marks.fired[index] === 1;
  if (seen()) return;
  const far = farness(search, rule, near);
  if (!far) return;
  const slots = machine.v.length;
  const rate = (state: number) => {
    work.left -= slots;
    search.load(state);
    return far();
  };
  // where there are too many, some of them all over
  const waiting = search.waiting();
  const each = Math.ceil((waiting.length * slots) / mostReadAtFirst);
  const rated = waiting.filter((_, n) => n % each === 0).map((state) => ({ state, far: rate(state) }));
  rated.sort((a, b) => b.far - a.far);
  const heap = new Heap();
  for (const { state, far: key } of rated.slice(-mostBegun)) heap.add(key, state);
  let nearest = Infinity;
  let vain = 0;
  for (let next = heap.take(); next && !seen() && search.count() < most && work.left > 0; next = heap.take()) {
    if (next.key < nearest) {
      nearest = next.key;
      vain = 0;
    } else if (++vain > mostInVain) return;
    const before = search.count();
    search.expand(next.thing);
    for (let state = before; state < search.count(); state++) heap.add(rate(state), state);
    if (vain % 256 === 255) yield;
  }
}

/** How far the machine's present state is from a rule's firing; undefined where the rule applies nowhere. */
function farness({ flow, machine }: Searched, rule: FittingRule, near: number[][]): (() => number) | undefined {
  const { v, at, naming } = machine;
  const places = placesOf(flow, machine, rule);
  if (places.length === 0) return undefined;
  const steps = stepsTo(places, near);
  const texts = [rule.condition, rule.holds].filter((text): text is Expression => text !== undefined && !asksCandidate(text));
  const missing = (bottom: number, full: boolean) => {
    const names = naming.over(bottom);
    // from elsewhere the level's pieces are as on arrival
    const left = full ? { left: (piece: Id) => ({ ...names.left(piece), code: String(names.count(piece)) }) } : {};
    const each = texts.map((text) => distance(text, { ...names, ...left }, v));
    return () => each.reduce((sum, text) => sum + text(), 0);
  };
  const here = new Map(places.map((place) => [place, missing(place, false)]));
  const elsewhere = missing(places[0]!, true);
  return () => {
    const bottom = v[at.place[0]!]!;
    const active = v[at.place[v[at.depth]! - 1]!]!;
    const way = Math.min(steps[active]!, active === bottom ? farAway : steps[bottom]! + 1);
    const asked = active === bottom ? here.get(bottom) : undefined;
    return (asked ?? elsewhere)() * weight + way;
  };
}

function asksCandidate(text: Expression): boolean {
  return parts(text).some(({ kind }) => kind === 'wonCandidate' || kind === 'position');
}

/** The places in which a rule applies; one of a place opened over levels that names their pieces is not looked for. */
function placesOf({ document, applying, levels }: Flow, { at }: Machine, { owner, id }: FittingRule): number[] {
  const ids = 'place' in owner ? [owner.place] : levels.map(([level]) => level);
  return ids
    .filter((place) => Object.hasOwn(document.places, place) && applying(place, place).all.some((other) => other.id === id))
    .map((place) => at.placeIndex.get(place)!);
}

/** By place: the places from which some rule can lead to it. */
function neighbours({ document, levels, rules }: Flow, { at }: Machine): number[][] {
  return at.placeIds.map((place) => {
    const from = rulesTo(document, place).flatMap(({ id }) => {
      const owner = rules.get(id)?.owner;
      if (!owner) return [];
      if ('place' in owner) return [owner.place];
      return levels.filter(([, { group }]) => !('group' in owner) || group === owner.group).map(([level]) => level);
    });
    return [...new Set(from)].map((id) => at.placeIndex.get(id)!);
  });
}

/** By place: how many moves it is from the nearest of the given places. */
function stepsTo(places: number[], near: number[][]): Int32Array {
  const steps = new Int32Array(near.length).fill(farAway);
  const waiting = [...places];
  for (const place of places) steps[place] = 0;
  for (const place of waiting) {
    for (const before of near[place]!) {
      if (steps[before] !== farAway) continue;
      steps[before] = steps[place]! + 1;
      waiting.push(before);
    }
  }
  return steps;
}
