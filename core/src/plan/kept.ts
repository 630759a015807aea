/** Which components of a plan are spots, and what leads from one to another. */
import type { Graph } from './graph.ts';
import { isNoMore, Leading, Leads, type Lead } from './leads.ts';

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

  private readonly leading: Leading;

  /** `before`: what was kept of the graph that this one was made from. */
  constructor(
    readonly graph: Graph,
    starts: Set<number>,
    before?: Kept
  ) {
    this.leading = new Leading(graph, before?.leading);
    const { marked } = graph;
    let rests = new Set(marked.filter((at) => starts.has(at) || isGround(graph, at)));
    const touch = (at: number) => graph.acts(at) !== undefined;
    const touching = new Set(marked.filter(touch));
    let near = this.leading.leadsIn('near', rests, touching);
    const isPath = ({ to, asks }: Lead) => rests.has(to) && asks.length === 0;
    // one-way ground that only leads round and round
    const circling = marked.filter((at) => graph.stands(at) && !touch(at) && !rests.has(at) && !near(at).some(isPath));
    if (circling.length > 0) {
      rests = new Set([...rests, ...circling]);
      near = this.leading.leadsIn('near, with what circles', rests, touching);
    }
    this.touches = [];
    const inPlace = (spot: number, { to, asks, through }: Lead) =>
      asks.length === 0 &&
      through.length === 1 &&
      near(to).some((back) => back.to === spot && back.asks.length === 0 && back.through.every((each) => each === through[0]));
    // a cell that acts is a spot of its own where it is not simply touched from wherever the player comes to it
    const wanted = new Set<number>();
    for (const spot of rests) for (const lead of near(spot)) if (!rests.has(lead.to) && !inPlace(spot, lead)) wanted.add(lead.to);
    const touched = this.touched(near, new Set([...touching].filter((at) => wanted.has(at))));
    const stops = new Set([...rests, ...touched.flat()]);
    const groups = [...touched, ...this.passing(stops)];
    this.spotOf = new Int32Array(graph.component.length).fill(-1);
    for (const members of [...[...rests].map((at) => [at]), ...groups]) {
      for (const at of members) this.spotOf[at] = this.spots.length;
      this.spots.push(members);
    }
    const leads = this.leading.leadsIn('spots', new Set(this.spots.flat()), touching);
    this.leads = this.spots.map((members, spot) => {
      const found = new Leads();
      for (const at of members)
        for (const lead of leads(at)) {
          const to = this.spotOf[lead.to]!;
          if (to >= 0 && to !== spot) found.add({ ...lead, to });
        }
      return found.all;
    });
    this.spots.forEach((members, spot) => {
      const here = new Set<number>(members.filter(touch));
      for (const at of members) for (const lead of near(at)) if (touch(lead.to) && inPlace(at, lead)) here.add(lead.to);
      this.touches[spot] = here;
    });
  }

  /**
   * Of components in cells that act those that are spots. What is in the air over what the player falls on, and leads to
   * nothing else, is that; what is in the air and leads to the same is one.
   */
  private touched(near: LeadsOf, wanted: Set<number>): number[][] {
    const { graph } = this;
    const groups = new Map<string, number[]>();
    for (const at of wanted) {
      const acts = graph.acts(at)!;
      const stands = graph.stands(at);
      const isAlike = (other: number) => graph.acts(other) === acts;
      // through its own cells it leads to no more than they do
      const leads = near(at).filter(({ to }) => !isAlike(to) || graph.stands(to));
      const covers = (other: number) =>
        leads.every(
          (lead) =>
            lead.to === other ||
            near(other).some((own) => own.to === lead.to && isNoMore(own, { ...lead, through: [...lead.through, acts] }))
        );
      const lands = leads.some(
        ({ to, asks, through }) =>
          to !== at && wanted.has(to) && isAlike(to) && asks.length === 0 && through.every((each) => each === acts) && covers(to)
      );
      if (lands && !stands) continue;
      const ends = leads.map(({ to, asks, through }) => `${to}|${[...asks].sort().join('&')}|${[...through].sort().join()}`);
      const key = stands ? String(at) : `${acts}\n${ends.sort().join('\n')}`;
      put(groups, key, at);
    }
    return [...groups.values()];
  }

  /**
   * What passes a pickup without being a stop, as from a jump: taken together where the same can be had and the same is led
   * to, and left out where whoever comes there has all of it anyway.
   */
  private passing(stops: Set<number>): number[][] {
    const { graph } = this;
    const passes = (at: number) => graph.hasThings(at) && !stops.has(at);
    const group = new Map<number, string>();
    const known = new Map<number, Set<number>>();
    const things = (at: number) => {
      if (!known.has(at)) known.set(at, graph.things(at));
      return known.get(at)!;
    };
    for (const at of graph.marked) if (passes(at)) group.set(at, [...things(at)].sort().join());
    if (group.size === 0) return [];
    const leads = this.leading.leadsIn('passing', stops, new Set(group.keys()));
    for (let before = 0; before < new Set(group.values()).size;) {
      before = new Set(group.values()).size;
      const finer = new Map<string, number>();
      const named = [...group.keys()].map((at): [number, string] => {
        const ends = leads(at).map(
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
    for (const [at, key] of group) put(groups, key, at);
    /** By group those that lead to it from elsewhere. */
    const comers = new Map<string, number[]>();
    for (const at of [...stops, ...group.keys()])
      for (const key of new Set(leads(at).map(({ to }) => group.get(to))))
        if (key !== undefined && key !== group.get(at)) put(comers, key, at);
    const has = (at: number, wanted: Set<number>) => [...wanted].every((cell) => things(at).has(cell));
    const live = new Set(groups.keys());
    for (const [key, members] of groups) {
      const [first] = members;
      const inGroup = (at: number) => group.get(at) === key;
      /** Whether all that the group has and leads to is had and led to from there too. */
      const covers = (at: number) =>
        has(at, things(first!)) &&
        leads(first!).every(
          (lead) => lead.to === at || inGroup(lead.to) || leads(at).some((own) => own.to === lead.to && isNoMore(own, lead))
        );
      const lands = leads(first!).some(
        ({ to, asks, through }) => stops.has(to) && asks.length + through.length === 0 && covers(to)
      );
      const before = (comers.get(key) ?? []).filter((at) => stops.has(at) || live.has(group.get(at)!));
      if (lands || before.every(covers)) live.delete(key);
    }
    return [...groups].flatMap(([key, members]) => (live.has(key) ? [members] : []));
  }
}

function put(groups: Map<string, number[]>, key: string, at: number): void {
  const known = groups.get(key);
  if (known) known.push(at);
  else groups.set(key, [at]);
}

/** Where the player can stay: ground that nothing acts on; one-way ground only where no move leaves it without a condition. */
function isGround(graph: Graph, at: number): boolean {
  if (!graph.stands(at) || graph.acts(at) !== undefined) return false;
  if (graph.stays(at)) return true;
  let isLeft = false;
  graph.eachLead(at, (_, asks) => (isLeft ||= asks === 0));
  return !isLeft;
}

type LeadsOf = (at: number) => readonly Lead[];
