/** Where the player gets from a component of a plan without stopping: under which conditions, and through which pieces. */
import type { Id } from '../document/types.ts';
import { components } from '../graph/components.ts';
import type { Component } from './graph.ts';

export interface Lead {
  to: number;
  /** All that has to hold on the way, in no order. */
  asks: readonly string[];
  /** The pieces that are touched on the way, each once, in the order met. */
  through: Id[];
}

/**
 * By component its leads to those that are stopped at, and to those that are `met` on the way without stopping; of two to
 * the same one, one that asks for all that the other does and touches all that it does is left out.
 */
export function leadsIn(all: Component[], stops: (at: number) => boolean, met: (at: number) => boolean = () => false): Lead[][] {
  const leads: Lead[][] = all.map(() => []);
  /** What is passed through without a condition, a touch, or being met leads just where the next does: mostly the same for all. */
  const same = (at: number): Lead[] | undefined => {
    let shared: Lead[] | undefined;
    for (const { to, asks } of all[at]!.leads) {
      if (stops(to) || met(to) || asks.length > 0 || all[to]!.acts !== undefined) return undefined;
      if (shared !== undefined && shared !== leads[to]) return undefined;
      shared = leads[to];
    }
    return shared;
  };
  const renew = (at: number, isAlone = true): boolean => {
    const shared = isAlone ? same(at) : undefined;
    if (shared) {
      const isNew = shared !== leads[at];
      leads[at] = shared;
      return isNew;
    }
    const found = new Leads();
    for (const { to, asks } of all[at]!.leads) {
      const piece = all[to]!.acts;
      const through = piece === undefined ? [] : [piece];
      if (stops(to) || met(to)) found.add({ to, asks, through });
      if (stops(to)) continue;
      for (const lead of leads[to]!)
        found.add({
          to: lead.to,
          asks: [...new Set([...asks, ...lead.asks])],
          through: [...new Set([...through, ...lead.through])]
        });
    }
    const before = leads[at]!.length === found.all.length && leads[at]!.every((lead) => found.has(lead));
    if (!before) leads[at] = found.all;
    return !before;
  };
  // what is passed through leads on to what has a lower number; circles are gone round until nothing is new
  const { component, count } = components(all.length, (at, visit) => {
    if (!stops(at)) for (const { to } of all[at]!.leads) if (!stops(to)) visit(to);
  });
  const members: number[][] = Array.from({ length: count }, () => []);
  for (let at = 0; at < all.length; at++) if (!stops(at)) members[component[at]!]!.push(at);
  for (const circle of members)
    for (let again = true; again;) again = circle.map((at) => renew(at, circle.length === 1)).some(Boolean) && circle.length > 1;
  for (let at = 0; at < all.length; at++) if (stops(at)) renew(at);
  return leads;
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

  has(lead: Lead): boolean {
    return (this.byEnd.get(lead.to) ?? []).some((each) => isNoMore(each, lead) && isNoMore(lead, each));
  }
}

/** Whether a lead asks for nothing and touches nothing that another one does not. */
export const isNoMore = (one: Pick<Lead, 'asks' | 'through'>, other: Pick<Lead, 'asks' | 'through'>): boolean =>
  one.asks.every((each) => other.asks.includes(each)) && one.through.every((each) => other.through.includes(each));
