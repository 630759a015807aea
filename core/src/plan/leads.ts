/** Where the player gets from a component of a plan without stopping: under which conditions, and through which pieces. */
import type { Id } from '../document/types.ts';
import { components } from '../graph/components.ts';
import { mostCompared } from '../vocabulary/ground.ts';
import { TooMany, type Graph } from './graph.ts';
import { Lists } from './lists.ts';

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
  private compared = 0;

  constructor(
    private readonly conditions: Lists,
    private readonly pieces: Lists
  ) {}

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
    for (const { length } of byEnd.values()) this.compared += length ** 2;
    if (this.compared > mostCompared) throw new TooMany('leads');
    return sorted.filter((each) => {
      const lead = this.leads[each]!;
      return !byEnd.get(lead.to)!.some((other) => {
        if (other === each) return false;
        const { asks, through } = this.leads[other]!;
        const isNoMore = this.conditions.isWithin(asks, lead.asks) && this.pieces.isWithin(through, lead.through);
        // of two that touch the same in another order, the one found first
        const isBoth = this.conditions.isWithin(lead.asks, asks) && this.pieces.isWithin(lead.through, through);
        return isNoMore && (!isBoth || other < each);
      });
    });
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

/** Finds leads in one graph; what has been found once is known to all further questions. */
export class Leading {
  private readonly pieces = new Lists(true);
  private readonly sets: Sets;
  private readonly touch: Int32Array;

  constructor(readonly graph: Graph) {
    this.sets = new Sets(graph.automaton.conditions, this.pieces);
    this.touch = new Int32Array(graph.count);
    for (let one = 0; one < graph.count; one++) {
      const piece = graph.acts(one);
      if (piece !== undefined) this.touch[one] = this.pieces.of([piece]);
    }
  }

  /** By component its leads to those that are stopped at, and to those that are `met` on the way without stopping. */
  leadsIn(stops: (one: number) => boolean, met: (one: number) => boolean = () => false): (one: number) => readonly Lead[] {
    const { graph, sets, touch } = this;
    const leads = new Int32Array(graph.count);
    const isStop = new Uint8Array(graph.count);
    const isMet = new Uint8Array(graph.count);
    for (let one = 0; one < graph.count; one++) {
      isStop[one] = Number(stops(one));
      isMet[one] = Number(met(one));
    }
    let sum = 0;
    const add = (to: number, asks: number) => {
      if (isStop[to] || isMet[to]) sum = sets.plus(sum, sets.one(to, asks, touch[to]!));
      if (!isStop[to]) sum = sets.plus(sum, sets.behind(asks, touch[to]!, leads[to]!));
    };
    const renew = (one: number): boolean => {
      sum = 0;
      graph.eachLead(one, add);
      const isNew = sum !== leads[one];
      leads[one] = sum;
      return isNew;
    };
    // what is passed through leads on to what has a lower number; circles are gone round until nothing is new
    const { component, count } = components(graph.count, (one, visit) => {
      if (isStop[one]) return;
      graph.eachLead(one, (to) => {
        if (!isStop[to]) visit(to);
      });
    });
    const members: number[][] = Array.from({ length: count }, () => []);
    for (let one = 0; one < graph.count; one++) if (!isStop[one]) members[component[one]!]!.push(one);
    for (const circle of members) for (let again = true; again;) again = circle.map(renew).some(Boolean) && circle.length > 1;
    for (let one = 0; one < graph.count; one++) if (isStop[one]) renew(one);
    return (one) => sets.all(leads[one]!);
  }
}

/** The leads of which none asks for all that another one to the same end does. */
export class Leads {
  private readonly byEnd = new Map<number, Lead[]>();

  get all(): Lead[] {
    return [...this.byEnd.values()].flat();
  }

  add(lead: Lead): void {
    const known = this.byEnd.get(lead.to) ?? [];
    if (known.some((each) => isNoMore(each, lead))) return;
    this.byEnd.set(lead.to, [...known.filter((each) => !isNoMore(lead, each)), lead]);
  }
}

/** Whether a lead asks for nothing and touches nothing that another one does not. */
export const isNoMore = (one: Pick<Lead, 'asks' | 'through'>, other: Pick<Lead, 'asks' | 'through'>): boolean =>
  one.asks.every((each) => other.asks.includes(each)) && one.through.every((each) => other.through.includes(each));
