/** The spots and passages of a plan, derived from its ground (docs/flow-format.md, section 13). */
import type { Cell, Id, Standing } from '../document/types.ts';
import { graphOf } from './graph.ts';
import { Ground } from './ground.ts';
import { Kept } from './kept.ts';
import { leadsIn } from './leads.ts';
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
