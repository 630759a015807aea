/** Where the player gets from a component of a plan without stopping: under which conditions, and through which pieces. */
import type { Id } from '../document/types.ts';
import { components } from '../graph/components.ts';
import { mostWays } from '../vocabulary/ground.ts';
import type { Graph } from './graph.ts';
import { Lists } from './lists.ts';
import { TooMany } from './places.ts';

export interface Lead {
  to: number;
  /** All that has to hold on the way, in no order. */
  asks: readonly string[];
  /** The pieces that are touched on the way, each once, in the order met. */
  through: readonly Id[];
}

/** Sets of leads by their numbers; 0 is the empty one. Of two leads to the same end, one that asks for all that the other does
 * and touches all that it does is in no set. */
class Sets {
  private readonly leads: { to: number; asks: number; through: number; as: Lead }[] = [];
  /** By lead the set of it alone. */
  private readonly alone: number[] = [];
  private readonly leadOf = new Map<number, Map<number, number>>();
  private readonly sets: number[][] = [[]];
  private readonly numbers = new Map<string, number>([['', 0]]);
  private readonly told: (readonly Lead[])[] = [[]];
  private readonly sums = new Map<number, number>();
  private readonly further = new Map<string, number>();

  constructor(
    private readonly conditions: Lists,
    private readonly pieces: Lists
  ) {}

  /** Whether so many have been met that it is better to begin again. */
  get isWorn(): boolean {
    return this.sets.length > mostSets;
  }

  one(to: number, asks: number, through: number): number {
    const lead = this.lead(to, asks, through);
    return (this.alone[lead] ??= this.numbered([lead]));
  }

  all(set: number): readonly Lead[] {
    return (this.told[set] ??= this.sets[set]!.map((each) => this.leads[each]!.as));
  }

  plus(one: number, other: number): number {
    if (one === 0 || one === other) return other;
    if (other === 0) return one;
    const key = one < other ? one * 2 ** 26 + other : other * 2 ** 26 + one;
    let sum = this.sums.get(key);
    if (sum === undefined) {
      sum = this.numbered(this.least([...this.sets[one]!, ...this.sets[other]!]));
      this.sums.set(key, sum);
    }
    return sum;
  }

  /** The leads of a set, come to under a condition and through pieces. */
  behind(asks: number, through: number, set: number): number {
    if (set === 0 || (asks === 0 && through === 0)) return set;
    const key = `${asks} ${through} ${set}`;
    let found = this.further.get(key);
    if (found === undefined) {
      const leads = this.sets[set]!.map((each) => {
        const lead = this.leads[each]!;
        return this.lead(lead.to, this.conditions.both(asks, lead.asks), this.pieces.both(through, lead.through));
      });
      found = this.numbered(this.least(leads));
      this.further.set(key, found);
    }
    return found;
  }

  private lead(to: number, asks: number, through: number): number {
    let byAsked = this.leadOf.get(to);
    if (!byAsked) this.leadOf.set(to, (byAsked = new Map<number, number>()));
    const key = asks * 2 ** 26 + through;
    let number = byAsked.get(key);
    if (number === undefined) {
      const as = { to, asks: this.conditions.names(asks), through: this.pieces.names(through) };
      number = this.leads.push({ to, asks, through, as }) - 1;
      byAsked.set(key, number);
    }
    return number;
  }

  /** In order, each once, without those that ask for more than another to the same end. */
  private least(leads: number[]): number[] {
    const sorted = [...new Set(leads)].sort((a, b) => a - b);
    const byEnd = new Map<number, number[]>();
    for (const each of sorted) {
      const { to } = this.leads[each]!;
      const same = byEnd.get(to);
      if (same) same.push(each);
      else byEnd.set(to, [each]);
    }
    if (byEnd.size === sorted.length) return sorted;
    const kept: number[] = [];
    for (const same of byEnd.values()) {
      const least = same.filter((each) => !same.some((other) => other !== each && this.isLess(other, each)));
      if (least.length > mostWays) throw new TooMany('leads');
      kept.push(...least);
    }
    return kept.sort((a, b) => a - b);
  }

  /** Whether one lead makes another to the same end needless. */
  private isLess(one: number, other: number): boolean {
    const [a, b] = [this.leads[one]!, this.leads[other]!];
    if (!this.conditions.isWithin(a.asks, b.asks) || !this.pieces.isWithin(a.through, b.through)) return false;
    const isBoth = this.conditions.isWithin(b.asks, a.asks) && this.pieces.isWithin(b.through, a.through);
    return !isBoth || isFirst(a.as, b.as);
  }

  private numbered(set: number[]): number {
    const key = set.join();
    let number = this.numbers.get(key);
    if (number === undefined) {
      number = this.sets.push(set) - 1;
      this.numbers.set(key, number);
    }
    return number;
  }
}

/** What was found for stops and for what is met: by component the number of the set of its leads. */
interface Found {
  leads: Int32Array;
  stops: ReadonlySet<number>;
  met: ReadonlySet<number>;
}

/**
 * Finds leads in one graph. Made from the leads of the graph before, it finds only those again on whose way something is not
 * what it was.
 */
export class Leading {
  private readonly pieces: Lists;
  private readonly sets: Sets;
  /** By component the list of the piece that is touched there. */
  private readonly touch: Int32Array;
  private readonly found = new Map<string, Found>();
  private readonly earlier: Map<string, Found>;
  /** Components whose own moves are not what they were; undefined where nothing is known. */
  private readonly renewed: Set<number> | undefined;
  /** Places of which those that lead to them have to know that their component, or what is touched there, is another one. */
  private readonly altered: number[] = [];

  constructor(
    readonly graph: Graph,
    before?: Leading
  ) {
    if (!graph.earlier || before?.sets.isWorn) before = undefined;
    this.pieces = before?.pieces ?? new Lists(true);
    this.sets = before?.sets ?? new Sets(graph.automaton.conditions, this.pieces);
    this.touch = new Int32Array(graph.component.length);
    for (const one of graph.marked) {
      const piece = graph.acts(one);
      if (piece !== undefined) this.touch[one] = this.pieces.of([piece]);
    }
    this.earlier = new Map(before?.found);
    if (before) this.renewed = this.renewedSince(before);
  }

  private renewedSince(before: Leading): Set<number> {
    const { component, earlier, moved } = this.graph;
    const renewed = new Set(moved);
    for (let at = 0; at < component.length; at++) {
      const one = component[at]!;
      const was = at < earlier!.length ? earlier![at]! : -1;
      if (one === was && (one === -1 || this.touch[one] === before.touch[one])) continue;
      if (one !== -1) {
        this.altered.push(at);
        renewed.add(one);
      }
      // what it was is without it now, where there still is one of that name
      if (was !== -1 && component[was] === was) renewed.add(was);
    }
    return renewed;
  }

  /**
   * By component its leads to those that are stopped at, and to those that are `met` on the way without stopping. Questions are
   * told apart by a name, under which what was found in the graph before is known.
   */
  leadsIn(name: string, stops: ReadonlySet<number>, met: ReadonlySet<number>): (one: number) => readonly Lead[] {
    const { graph, sets, touch } = this;
    const count = graph.component.length;
    const before = this.renewed && this.earlier.get(name);
    const leads = new Int32Array(count);
    if (before) leads.set(before.leads);
    const isStop = new Uint8Array(count);
    const isMet = new Uint8Array(count);
    for (const one of stops) isStop[one] = 1;
    for (const one of met) isMet[one] = 1;
    const found = { leads, stops, met };
    this.found.set(name, found);
    this.earlier.delete(name);

    let sum = 0;
    const add = (to: number, asks: number) => {
      if (isStop[to] || isMet[to]) sum = sets.plus(sum, sets.one(to, asks, touch[to]!));
      if (!isStop[to]) sum = sets.plus(sum, sets.behind(asks, touch[to]!, leads[to]!));
    };
    const renew = (one: number): boolean => {
      sum = leads[one]!;
      graph.eachLead(one, add);
      const isNew = sum !== leads[one];
      leads[one] = sum;
      return isNew;
    };
    const open = this.open(found, before);
    for (const one of open) leads[one] = 0;
    // what is passed through leads on to what has a lower number; circles are gone round until nothing is new
    for (const circle of circles(
      graph,
      open.filter((one) => isStop[one] === 0)
    ))
      for (let again = true; again;) again = circle.map(renew).some(Boolean) && circle.length > 1;
    for (const one of open) if (isStop[one] === 1) renew(one);
    return (one) => sets.all(leads[one]!);
  }

  /** The components whose leads have to be found: all, or those on whose way something is not what it was. */
  private open({ stops, met }: Found, before: Found | undefined): number[] {
    const { graph, renewed, altered } = this;
    if (!renewed || !before) return graph.all();
    const open = new Set(renewed);
    const openBefore = (one: number) => graph.eachBefore(one, (from) => open.add(from));
    graph.eachBeforeThese(altered, (from) => open.add(from));
    // those that are new, or are no more, are altered in all their places
    const { component, earlier } = graph;
    for (const one of [...differing(stops, before.stops), ...differing(met, before.met)])
      if (component[one] === one && earlier![one] === one) openBefore(one);
    // a set is gone through to its end, also as it grows
    for (const one of open) if (!stops.has(one)) openBefore(one);
    return [...open];
  }
}

/** What is in one of two sets only. */
const differing = (one: ReadonlySet<number>, other: ReadonlySet<number>): number[] => [
  ...[...one].filter((each) => !other.has(each)),
  ...[...other].filter((each) => !one.has(each))
];

/** Some components, taken together where they lead to one another; none before those that it leads to. */
function circles(graph: Graph, ones: number[]): number[][] {
  const index = new Int32Array(graph.component.length).fill(-1);
  ones.forEach((one, at) => (index[one] = at));
  const { component, count } = components(ones.length, (at, visit) =>
    graph.eachLead(ones[at]!, (to) => index[to] !== -1 && visit(index[to]!))
  );
  const found: number[][] = Array.from({ length: count }, () => []);
  ones.forEach((one, at) => found[component[at]!]!.push(one));
  // in an order that does not depend on how the graph came about
  for (const circle of found) if (circle.length > 1) circle.sort((a, b) => graph.leastCode[a]! - graph.leastCode[b]!);
  return found;
}

/** The leads of which none asks for all that another one to the same end does. */
export class Leads {
  private readonly byEnd = new Map<number, Lead[]>();

  get all(): Lead[] {
    return [...this.byEnd.values()].flat();
  }

  add(lead: Lead): void {
    const known = this.byEnd.get(lead.to) ?? [];
    if (known.some((each) => isNoMore(each, lead) && !(isNoMore(lead, each) && isFirst(lead, each)))) return;
    this.byEnd.set(lead.to, [...known.filter((each) => !isNoMore(lead, each)), lead]);
  }
}

/** Of two leads that touch the same in another order the one that is kept, whichever was found first. */
const isFirst = (one: Lead, other: Lead): boolean => JSON.stringify(one.through) < JSON.stringify(other.through);

/** Sets that are kept from one graph to the next. */
const mostSets = 500_000;

/** Whether a lead asks for nothing and touches nothing that another one does not. */
export const isNoMore = (one: Pick<Lead, 'asks' | 'through'>, other: Pick<Lead, 'asks' | 'through'>): boolean =>
  one.asks.every((each) => other.asks.includes(each)) && one.through.every((each) => other.through.includes(each));
