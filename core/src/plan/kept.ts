/** Which components of a plan are its spots, and where each leads. */
import type { Component, Graph } from './graph.ts';
import type { Ground } from './ground.ts';
import { isNoMore, Leads, leadsIn, type Lead } from './leads.ts';

/** Which components are spots, and what leads from one to another. */
export class Kept {
  /** By component the number of its spot; -1 for what is only passed through. */
  readonly spotOf: Int32Array;
  /** By spot its components: alike in what can be had there and in where they lead. */
  readonly spots: number[][] = [];
  /** By spot where it leads, to other spots by their number. */
  readonly leads: Lead[][];
  /** By spot and by piece that acts: touched, with the player coming back or falling out. */
  readonly touches: Set<number>[];

  constructor(
    readonly ground: Ground,
    readonly graph: Graph,
    starts: Set<number>
  ) {
    const all = graph.components;
    const rests = new Set(all.flatMap((one, at) => (starts.has(at) || isGround(one) ? [at] : [])));
    const touch = (at: number) => all[at]!.acts !== undefined;
    let near = leadsIn(all, (at) => rests.has(at), touch);
    const isPath = ({ to, asks }: Lead) => rests.has(to) && asks.length === 0;
    // one-way ground that only leads round and round
    const circling = all.flatMap(({ acts, stands }, at) =>
      acts === undefined && stands && !rests.has(at) && !near[at]!.some(isPath) ? [at] : []
    );
    if (circling.length > 0) {
      for (const at of circling) rests.add(at);
      near = leadsIn(all, (at) => rests.has(at), touch);
    }
    this.touches = [];
    const inPlace = (spot: number, { to, asks, through }: Lead) =>
      asks.length === 0 &&
      through.length === 1 &&
      near[to]!.some((back) => back.to === spot && back.asks.length === 0 && back.through.every((each) => each === through[0]));
    // a cell that acts is a spot of its own where it is not simply touched from wherever the player comes to it
    const wanted = new Set<number>();
    for (const spot of rests)
      for (const lead of near[spot]!) if (!rests.has(lead.to) && !inPlace(spot, lead)) wanted.add(lead.to);
    const touched = this.touched(near, wanted);
    const stops = new Set([...rests, ...touched.flat()]);
    const groups = [...touched, ...this.passing(stops)];
    this.spotOf = new Int32Array(all.length).fill(-1);
    for (const members of [...[...rests].map((at) => [at]), ...groups]) {
      for (const at of members) this.spotOf[at] = this.spots.length;
      this.spots.push(members);
    }
    const leads = leadsIn(all, (at) => this.spotOf[at]! >= 0, touch);
    this.leads = this.spots.map((members, spot) => {
      const found = new Leads();
      for (const at of members)
        for (const lead of leads[at]!) {
          const to = this.spotOf[lead.to]!;
          if (to >= 0 && to !== spot) found.add({ ...lead, to });
        }
      return found.all;
    });
    this.spots.forEach((members, spot) => {
      const here = new Set<number>(members.filter(touch));
      for (const at of members) for (const lead of near[at]!) if (touch(lead.to) && inPlace(at, lead)) here.add(lead.to);
      this.touches[spot] = here;
    });
  }

  /**
   * Of components in cells that act those that are spots. What is in the air over what the player falls on, and leads to
   * nothing else, is that; what is in the air and leads to the same is one.
   */
  private touched(near: Lead[][], wanted: Set<number>): number[][] {
    const all = this.graph.components;
    const groups = new Map<string, number[]>();
    for (const at of wanted) {
      const { acts, stands } = all[at]!;
      const isAlike = (other: number) => all[other]!.acts === acts;
      // through its own cells it leads to no more than they do
      const leads = near[at]!.filter(({ to }) => !isAlike(to) || all[to]!.stands);
      const covers = (other: number) =>
        leads.every(
          (lead) =>
            lead.to === other ||
            near[other]!.some((own) => own.to === lead.to && isNoMore(own, { ...lead, through: [...lead.through, acts!] }))
        );
      const lands = leads.some(
        ({ to, asks, through }) =>
          to !== at && wanted.has(to) && isAlike(to) && asks.length === 0 && through.every((each) => each === acts) && covers(to)
      );
      if (lands && !stands) continue;
      const ends = leads.map(({ to, asks, through }) => `${to}|${[...asks].sort().join('&')}|${[...through].sort().join()}`);
      const key = stands ? String(at) : `${acts}\n${ends.sort().join('\n')}`;
      groups.set(key, [...(groups.get(key) ?? []), at]);
    }
    return [...groups.values()];
  }

  /**
   * What passes a pickup without being a stop, as from a jump: taken together where the same can be had and the same is led
   * to, and left out where whoever comes there has all of it anyway.
   */
  private passing(stops: Set<number>): number[][] {
    const all = this.graph.components;
    const things = all.map(({ pickups }) => pickups);
    const passes = (at: number) => !stops.has(at) && things[at]!.size > 0;
    const leads = leadsIn(all, (at) => stops.has(at), passes);
    const group = new Map<number, string>();
    for (let at = 0; at < all.length; at++) if (passes(at)) group.set(at, [...things[at]!].sort().join());
    for (let before = 0; before < new Set(group.values()).size;) {
      before = new Set(group.values()).size;
      const finer = new Map<string, number>();
      const named = [...group.keys()].map((at): [number, string] => {
        const ends = leads[at]!.map(
          ({ to, asks, through }) =>
            `${group.get(to) ?? `stop ${to}`}|${[...asks].sort().join('&')}|${[...through].sort().join()}`
        );
        const key = `${group.get(at)!}\n${[...new Set(ends)].sort().join('\n')}`;
        if (!finer.has(key)) finer.set(key, finer.size);
        return [at, `group ${finer.get(key)!}`];
      });
      for (const [at, key] of named) group.set(at, key);
    }
    const groups = new Map<string, number[]>();
    for (const [at, key] of group) groups.set(key, [...(groups.get(key) ?? []), at]);
    const has = (at: number, wanted: Set<number>) => [...wanted].every((cell) => things[at]!.has(cell));
    const live = new Set(groups.keys());
    for (const [key, members] of groups) {
      const [first] = members;
      const inGroup = (at: number) => group.get(at) === key;
      /** Whether all that the group has and leads to is had and led to from there too. */
      const covers = (at: number) =>
        has(at, things[first!]!) &&
        leads[first!]!.every(
          (lead) => lead.to === at || inGroup(lead.to) || leads[at]!.some((own) => own.to === lead.to && isNoMore(own, lead))
        );
      const leadsHere = (at: number) => !inGroup(at) && leads[at]!.some(({ to }) => inGroup(to));
      const lands = leads[first!]!.some(
        ({ to, asks, through }) => stops.has(to) && asks.length + through.length === 0 && covers(to)
      );
      const before = [...stops, ...[...group.keys()].filter((at) => live.has(group.get(at)!))].filter(leadsHere);
      if (lands || before.every(covers)) live.delete(key);
    }
    return [...groups].flatMap(([key, members]) => (live.has(key) ? [members] : []));
  }
}

/** Where the player can stay: ground that nothing acts on; one-way ground only where no move leaves it without a condition. */
function isGround({ acts, stands, oneWay, leads }: Component): boolean {
  if (acts !== undefined || !stands) return false;
  return !oneWay || leads.every(({ asks }) => asks.length > 0);
}
