/** The spots and passages of a plan, derived from its ground (docs/flow-format.md, section 13). */
import type { Cell, Id, Standing } from '../document/types.ts';
import { graphOf, type Component, type Graph } from './graph.ts';
import { Ground } from './ground.ts';
import { isNoMore, Leads, leadsIn, type Lead } from './leads.ts';
import type { Drawn } from './types.ts';

export interface DerivedSpot {
  name: string;
  /** Those in which the player can stand, and those of things that are had only in the air. */
  cells: Cell[];
}

export interface DerivedPassage {
  from: Id;
  to: Id;
  /** Conditions as written; all have to hold. */
  if: string[];
  through: Id[];
}

export interface Derived {
  /** That at which the player begins without an entry first; then in reading order. */
  spots: Record<Id, DerivedSpot>;
  passages: Record<Id, DerivedPassage>;
  /** By placed piece from where it can be had. */
  at: Record<Id, Required<Standing>[]>;
  /** By placed entry the spot where the player arrives. */
  entries: Record<Id, Id>;
}

/**
 * Derives where the player can be in a plan, and how it gets from one place to another. `names` are those of the pieces.
 * Nothing is left out for being too much: `plan-fits` says so.
 */
export function derive(drawn: Drawn, names: Record<Id, string> = {}): Derived {
  const ground = new Ground(drawn);
  const starts = startsOf(ground);
  const graph = graphOf(ground, [...new Set(starts.values())]);
  const kept = new Kept(ground, graph, new Set([...starts.values()].map((cell) => graph.of({ cell })!)));
  return new Naming(ground, kept, starts, names).derived();
}

/** The cell of each placed entry where the player can stand; where there is none the first standing cell, for no entry. */
function startsOf(ground: Ground): Map<Id | null, number> {
  const starts = new Map<Id | null, number>();
  for (const thing of Object.values(ground.drawn.plan.things ?? {})) {
    if (!('entry' in thing)) continue;
    const [x, y] = thing.cell;
    const cell = ground.at(x, y);
    if (cell !== undefined && ground.isFooting(x, y)) starts.set(thing.entry, cell);
  }
  for (let cell = 0; starts.size === 0 && cell < ground.width * ground.height; cell++)
    if (ground.isFooting(...ground.cellOf(cell))) starts.set(null, cell);
  return starts;
}

/** Which components are spots, and what leads from one to another. */
class Kept {
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

/** Ids and names for what has been found, and where all that is placed can be had. */
class Naming {
  private readonly ids: Id[] = [];
  private readonly cells: number[][];

  constructor(
    private readonly ground: Ground,
    private readonly kept: Kept,
    private readonly starts: Map<Id | null, number>,
    private readonly names: Record<Id, string>
  ) {
    this.cells = kept.spots.map((members) => this.cellsOf(members));
  }

  derived(): Derived {
    const { kept, starts, ground } = this;
    const order = kept.spots.map((_, spot) => spot).sort((a, b) => this.cells[a]![0]! - this.cells[b]![0]!);
    const unnamed = starts.get(null);
    if (unnamed !== undefined) {
      const first = kept.spotOf[kept.graph.of({ cell: unnamed })!]!;
      order.splice(order.indexOf(first), 1);
      order.unshift(first);
    }
    const taken = new Set<Id>();
    const spots: Derived['spots'] = {};
    const called = new Set<string>();
    const add = (cells: number[], area: number): Id => {
      const [x, y] = ground.cellOf(cells[0]!);
      const id = unique(`s${x}_${y}`, '_', taken);
      const name = unique(this.nameOf(cells, area), ' ', called);
      spots[id] = { name, cells: cells.map((cell) => ground.cellOf(cell)) };
      return id;
    };
    for (const spot of order) {
      const { area } = kept.graph.components[kept.spots[spot]![0]!]!;
      this.ids[spot] = add(this.cells[spot]!, area);
    }
    const at = this.had();
    for (const region of this.beyond(at)) {
      const id = add(region, ground.areaOf[region[0]!]!);
      for (const cell of region) this.place(at, cell, [id]);
    }
    return { spots, passages: this.passages(order), at: this.standings(at), entries: this.entries() };
  }

  private cellsOf(members: number[]): number[] {
    const { ground, kept } = this;
    const cells = members.flatMap((at) => {
      const { places } = kept.graph.components[at]!;
      const standing = places.filter(({ air }) => !air).map(({ cell }) => cell);
      const things = places.map(({ cell }) => cell).filter((cell) => ground.pieces.has(cell));
      return standing.length > 0 ? standing : things;
    });
    return [...new Set(cells)].sort((a, b) => a - b);
  }

  /** After its area, else after the thing that is nearest to one of its cells. */
  private nameOf(cells: number[], area: number): string {
    const { ground, names } = this;
    if (area >= 0) return ground.drawn.plan.areas![ground.areas[area]!]!.name;
    let [near, distance] = ['', Infinity];
    for (const [thing, piece] of [...ground.pieces].sort(([a], [b]) => a - b)) {
      const [tx, ty] = ground.cellOf(thing);
      for (const cell of cells) {
        const [x, y] = ground.cellOf(cell);
        const far = Math.abs(x - tx) + Math.abs(y - ty);
        if (far < distance) [near, distance] = [names[piece] ?? piece, far];
      }
    }
    if (near !== '') return `${near} ground`;
    return `Ground at ${ground.cellOf(cells[0]!).join(', ')}`;
  }

  /** By cell of a placed piece the spots from which it can be had. */
  private had(): Map<number, Id[]> {
    const { kept, ground } = this;
    const at = new Map<number, Id[]>();
    const { components: all } = kept.graph;
    kept.spots.forEach((members, spot) => {
      const id = this.ids[spot]!;
      for (const member of members) {
        for (const cell of all[member]!.pickups) this.place(at, cell, [id]);
      }
      for (const touched of kept.touches[spot]!) for (const { cell } of all[touched]!.places) this.place(at, cell, [id]);
    });
    for (const cell of ground.pieces.keys()) if (!at.has(cell)) at.set(cell, []);
    return at;
  }

  private place(at: Map<number, Id[]>, cell: number, ids: Id[]): void {
    if (!this.ground.pieces.has(cell)) return;
    at.set(cell, [...new Set([...(at.get(cell) ?? []), ...ids])]);
  }

  /** Ground that holds a thing and that the player never comes to, piece by piece. */
  private beyond(at: Map<number, Id[]>): number[][] {
    const { ground } = this;
    const reached = new Set(this.kept.graph.components.flatMap(({ places }) => places.map(({ cell }) => cell)));
    const seen = new Set<number>();
    const regions: number[][] = [];
    for (const cell of [...at.keys()].sort((a, b) => a - b)) {
      if (at.get(cell)!.length > 0 || seen.has(cell)) continue;
      const region = [cell];
      seen.add(cell);
      for (const here of region) {
        const [x, y] = ground.cellOf(here);
        for (const [nx, ny] of [
          [x + 1, y],
          [x - 1, y],
          [x, y + 1],
          [x, y - 1]
        ] as Cell[]) {
          const next = ground.at(nx, ny);
          if (next === undefined || seen.has(next) || ground.isSolid(nx, ny) || reached.has(next)) continue;
          seen.add(next);
          region.push(next);
        }
      }
      regions.push(region.sort((a, b) => a - b));
    }
    return regions;
  }

  /** By piece one entry for all of it that can be had from the same spots; what is below from wherever the player falls. */
  private standings(at: Map<number, Id[]>): Derived['at'] {
    const { ground } = this;
    const found: Derived['at'] = {};
    const add = (piece: Id, spots: Id[]) => {
      const standings = (found[piece] ??= []);
      const known = standings.find((each) => each.spots.join() === spots.join());
      if (known) known.n++;
      else standings.push({ spots, n: 1 });
    };
    for (const [cell, spots] of [...at].sort(([a], [b]) => a - b)) add(ground.pieces.get(cell)!, spots);
    const { below } = ground.drawn.plan;
    const falling = this.falling();
    if (below !== undefined && falling.length > 0) add(below, falling);
    return found;
  }

  /** The spots from which the player falls out of the rows, without a condition and without touching anything. */
  private falling(): Id[] {
    const { components: all } = this.kept.graph;
    const stop = (at: number) => this.kept.spotOf[at]! >= 0;
    const leads = leadsIn(all, stop, (at) => all[at]!.falls);
    const falls = (at: number) =>
      all[at]!.falls ||
      leads[at]!.some(({ to, asks, through }) => all[to]!.falls && !stop(to) && asks.length + through.length === 0);
    return this.kept.spots.flatMap((members, spot) => (members.some(falls) ? [this.ids[spot]!] : []));
  }

  private passages(order: number[]): Derived['passages'] {
    const passages: Derived['passages'] = {};
    const taken = new Set<Id>();
    const rank = new Map(order.map((spot, index) => [spot, index]));
    for (const spot of order)
      for (const { to, asks, through } of [...this.kept.leads[spot]!].sort((a, b) => rank.get(a.to)! - rank.get(b.to)!)) {
        const [from, end] = [this.ids[spot]!, this.ids[to]!];
        passages[unique(`${from}_${end}`, '_', taken)] = { from, to: end, if: [...asks].sort(), through };
      }
    return passages;
  }

  private entries(): Record<Id, Id> {
    const entries: Record<Id, Id> = {};
    for (const [entry, cell] of this.starts)
      if (entry !== null) entries[entry] = this.ids[this.kept.spotOf[this.kept.graph.of({ cell })!]!]!;
    return entries;
  }
}

/** The wish, or numbered from the second on where it is taken. */
function unique(wish: string, joint: string, taken: Set<string>): string {
  let found = wish;
  for (let n = 2; taken.has(found); n++) found = `${wish}${joint}${n}`;
  taken.add(found);
  return found;
}
