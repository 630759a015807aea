/** The spots and passages of a plan, derived from its ground (docs/flow-format.md, section 13). */
import type { Cell, Id } from '../document/types.ts';
import { Numbers } from '../graph/numbers.ts';
import { neighbours, type Place } from './automaton.ts';
import { Graph } from './graph.ts';
import { Ground } from './ground.ts';
import { Kept } from './kept.ts';
import type { Lead } from './leads.ts';
import { runOf } from './patrols.ts';
import { TooMany } from './places.ts';
import { mostPlaces } from '../vocabulary/ground.ts';
import type { Drawn } from './types.ts';

export interface DerivedSpot {
  name: string;
  /** Those in which the player can stand, and those of things that are had only in the air. */
  cells: Cell[];
  /** The piece that is touched by being there. */
  acts?: Id;
  /** The area in which it is. */
  area?: Id;
}

export interface DerivedPassage {
  from: Id;
  to: Id;
  /** Conditions as written; all have to hold. */
  if: string[];
  through: Id[];
}

export interface Derived {
  /** That at which a player begins who arrives at no entry: at the first one placed, else where it can first stand; then in reading order. */
  spots: Record<Id, DerivedSpot>;
  passages: Record<Id, DerivedPassage>;
  /** By placed piece from where it can be had. */
  at: Record<Id, { spots: Id[]; n: number }[]>;
  /** By placed entry the spot where the player arrives. */
  entries: Record<Id, Id>;
  /** Each placed piece, cell by cell, with the spots from which it can be had. */
  placed: { piece: Id; cell: Cell; spots: Id[] }[];
  /** Each patrol, with the spots from which its foe can be touched. */
  patrols: { id: Id; piece: Id; cells: Cell[]; spots: Id[] }[];
  /** There is more than is looked at: nothing follows. */
  tooMany?: TooMany['what'];
}

/** A plan with all that has been found of it: what is derived, and by place of the player the spot that it belongs to. */
export interface Plotted {
  derived: Derived;
  ground: Ground;
  graph: Graph;
  kept: Kept;
  /** The spot of a place; undefined for what is only passed through, and for what the player never comes to. */
  spotAt(place: Place): Id | undefined;
}

/**
 * Derives where the player can be in a plan, and how it gets from one place to another. `names` are those of the pieces.
 * Nothing is left out for being too much: `plan-fits` says so.
 */
export const derive = (drawn: Drawn, names: Record<Id, string> = {}, most = mostPlaces): Derived =>
  derivedBy(() => plot(drawn, names, most));

/** What has been derived, or that it is too much. */
export function derivedBy(run: () => Plotted): Derived {
  try {
    return run().derived;
  } catch (error) {
    if (!(error instanceof TooMany)) throw error;
    return nothingFollows(error);
  }
}

/** What there is to say of a plan on which too much is in reach. */
export const nothingFollows = ({ what }: TooMany): Derived => ({
  spots: {},
  passages: {},
  at: {},
  entries: {},
  placed: [],
  patrols: [],
  tooMany: what
});

/**
 * What `derive` gives, and how it came about. Of a plan that differs little from one `before`, only what does is found again: it
 * takes a fraction of the time and gives the same. Throws `TooMany`.
 */
export function plot(drawn: Drawn, names: Record<Id, string> = {}, most = mostPlaces, before?: Plotted): Plotted {
  const ground = new Ground(drawn);
  const starts = startsOf(ground);
  const graph = new Graph(ground, [...new Set(starts.values())], most, before?.graph);
  const kept = new Kept(graph, new Set([...starts.values()].map((cell) => graph.of({ cell })!)), before?.kept);
  const naming = new Naming(ground, kept, starts, names);
  const derived = naming.derived();
  return {
    derived,
    ground,
    graph,
    kept,
    spotAt: (place) => {
      const component = graph.of(place);
      const spot = component === undefined ? -1 : kept.spotOf[component]!;
      return spot < 0 ? undefined : naming.ids[spot];
    }
  };
}

/** The cell of each placed entry where the player can stand; where there is none the first standing cell, for no entry. */
export function startsOf(ground: Ground): Map<Id | null, number> {
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
  readonly ids: Id[] = [];
  private readonly cells: number[][];
  private near: ReturnType<typeof nearestThings> | undefined;

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
    const [begin] = starts.values();
    if (begin !== undefined) {
      const first = kept.spotOf[kept.graph.of({ cell: begin })!]!;
      order.splice(order.indexOf(first), 1);
      order.unshift(first);
    }
    const ids = new Unique('_');
    const spots: Derived['spots'] = {};
    const called = new Unique(' ');
    const add = (cells: number[], area: number): Id => {
      const [x, y] = ground.cellOf(cells[0]!);
      const id = ids.name(`s${x}_${y}`);
      const name = called.name(this.nameOf(cells, area));
      spots[id] = { name, cells: cells.map((cell) => ground.cellOf(cell)), ...(area >= 0 && { area: ground.areas[area]! }) };
      return id;
    };
    for (const spot of order) {
      const first = kept.spots[spot]![0]!;
      const id = (this.ids[spot] = add(this.cells[spot]!, kept.graph.area(first)));
      const acts = kept.graph.acts(first);
      if (acts !== undefined) spots[id]!.acts = acts;
    }
    const at = this.had();
    const patrols = this.met(order);
    const lost = patrols.flatMap(({ spots: from, cells }) => (from.length === 0 ? (ground.at(...cells[0]!) ?? []) : []));
    for (const region of this.beyond(at, lost)) {
      const id = add(region, ground.areaOf[region[0]!]!);
      for (const cell of region) this.place(at, cell, [id]);
      for (const { cells, spots: from } of patrols)
        if (cells.some(([x, y]) => region.includes(ground.at(x, y) ?? -1))) from.push(id);
    }
    const placed = [...at]
      .sort(([a], [b]) => a - b)
      .map(([cell, from]) => ({ piece: ground.pieces.get(cell)!, cell: ground.cellOf(cell), spots: from }));
    return {
      spots,
      passages: this.passages(order),
      at: this.standings(at, patrols),
      entries: this.entries(),
      placed,
      patrols
    };
  }

  private cellsOf(members: number[]): number[] {
    const { ground, kept } = this;
    const cells = members.flatMap((at) => {
      const standing = kept.graph.cells(at, true);
      return standing.length > 0 ? standing : kept.graph.cells(at).filter((cell) => ground.pieces.has(cell));
    });
    return [...new Set(cells)].sort((a, b) => a - b);
  }

  /** After its area, else after the thing that is nearest to one of its cells. */
  private nameOf(cells: number[], area: number): string {
    const { ground, names } = this;
    if (area >= 0) return ground.drawn.plan.areas![ground.areas[area]!]!.name;
    const { thing, far } = (this.near ??= nearestThings(ground));
    let nearest = cells[0]!;
    for (const cell of cells)
      if (far[cell]! < far[nearest]! || (far[cell] === far[nearest] && thing[cell]! < thing[nearest]!)) nearest = cell;
    const piece = ground.pieces.get(thing[nearest]!);
    if (piece !== undefined) return `${names[piece] ?? piece} ground`;
    return `Ground at ${ground.cellOf(cells[0]!).join(', ')}`;
  }

  /** By cell of a placed piece the spots from which it can be had. */
  private had(): Map<number, Id[]> {
    const { kept, ground } = this;
    const at = new Map<number, Id[]>();
    kept.spots.forEach((members, spot) => {
      const id = this.ids[spot]!;
      for (const member of members) {
        for (const cell of kept.graph.things(member)) this.place(at, cell, [id]);
      }
      for (const touched of kept.touches[spot]!) for (const cell of kept.graph.cells(touched)) this.place(at, cell, [id]);
    });
    for (const cell of ground.pieces.keys()) if (!at.has(cell)) at.set(cell, []);
    return at;
  }

  private place(at: Map<number, Id[]>, cell: number, ids: Id[]): void {
    if (!this.ground.pieces.has(cell)) return;
    at.set(cell, [...new Set([...(at.get(cell) ?? []), ...ids])]);
  }

  /**
   * The patrols, each with the spots that its run enters or borders, and those from which the player passes through it without
   * stopping.
   */
  private met(order: number[]): Derived['patrols'] {
    const { ground, kept } = this;
    const { spotOf } = kept;
    const patrols = Object.entries(ground.drawn.plan.patrols ?? {});
    if (patrols.length === 0) return [];
    return patrols.map(([id, patrol]) => {
      const cells = runOf(patrol);
      const beside = cells.flatMap(([x, y]) => [[0, 0] as const, ...neighbours].map(([dx, dy]) => ground.at(x + dx, y + dy)));
      const entered = new Set(cells.flatMap(([x, y]) => [...this.within(ground.at(x, y))]));
      const found = new Set(beside.flatMap((cell) => [...this.within(cell)]).map((at) => spotOf[at]!));
      for (const at of this.passing(entered)) found.add(spotOf[at]!);
      return { id, piece: patrol.piece, cells, spots: order.flatMap((spot) => (found.has(spot) ? [this.ids[spot]!] : [])) };
    });
  }

  private within(cell: number | undefined): Set<number> {
    return cell === undefined ? new Set() : this.kept.graph.within(cell);
  }

  /** The components of spots from which the player passes one of some that are none, without a condition or touching anything. */
  private passing(some: Iterable<number>): Set<number> {
    const { graph, spotOf } = this.kept;
    const isPassed = (at: number) => spotOf[at] === -1 && graph.acts(at) === undefined;
    const passed = new Set([...some].filter(isPassed));
    const found = new Set<number>();
    // a set is gone through to its end, also as it grows
    for (const at of passed)
      graph.eachBefore(at, (from, asks) => {
        if (asks !== 0) return;
        if (spotOf[from]! >= 0) found.add(from);
        else if (isPassed(from)) passed.add(from);
      });
    return found;
  }

  /** Ground that holds a thing, or where a patrol begins, and that the player never comes to, piece by piece. */
  private beyond(at: Map<number, Id[]>, begins: number[]): number[][] {
    const { ground } = this;
    const { graph } = this.kept;
    const seen = new Set<number>();
    const regions: number[][] = [];
    for (const cell of [...new Set([...at.keys(), ...begins])].sort((a, b) => a - b)) {
      if ((at.get(cell)?.length ?? 0) > 0 || seen.has(cell)) continue;
      const region = [cell];
      seen.add(cell);
      for (const here of region) {
        const [x, y] = ground.cellOf(here);
        for (const [dx, dy] of neighbours) {
          const next = ground.at(x + dx, y + dy);
          if (next === undefined || seen.has(next) || ground.isSolid(x + dx, y + dy) || graph.isReached(next)) continue;
          seen.add(next);
          region.push(next);
        }
      }
      regions.push(region.sort((a, b) => a - b));
    }
    return regions;
  }

  /** By piece one entry for all of it that can be had from the same spots; what is below from wherever the player falls. */
  private standings(at: Map<number, Id[]>, patrols: Derived['patrols']): Derived['at'] {
    const { ground } = this;
    const found: Derived['at'] = {};
    const add = (piece: Id, spots: Id[]) => {
      const standings = (found[piece] ??= []);
      const known = standings.find((each) => each.spots.join() === spots.join());
      if (known) known.n++;
      else standings.push({ spots, n: 1 });
    };
    for (const [cell, spots] of [...at].sort(([a], [b]) => a - b)) add(ground.pieces.get(cell)!, spots);
    for (const { piece, spots } of patrols) add(piece, spots);
    const { below } = ground.drawn.plan;
    const falling = below === undefined ? [] : this.falling();
    if (below !== undefined && falling.length > 0) add(below, falling);
    return found;
  }

  /** The spots from which the player falls out of the rows, without a condition and without touching anything. */
  private falling(): Id[] {
    const { graph, spots } = this.kept;
    const falling = graph.marked.filter((at) => graph.falls(at));
    const from = new Set([...falling, ...this.passing(falling)]);
    return spots.flatMap((members, spot) => (members.some((at) => from.has(at)) ? [this.ids[spot]!] : []));
  }

  private passages(order: number[]): Derived['passages'] {
    const passages: Derived['passages'] = {};
    const ids = new Unique('_');
    const rank = new Map(order.map((spot, index) => [spot, index]));
    for (const spot of order)
      for (const { to, asks, through } of [...this.kept.leads[spot]!].sort(
        (a, b) => rank.get(a.to)! - rank.get(b.to)! || askedOf(a) - askedOf(b) || (wordsOf(a) < wordsOf(b) ? -1 : 1)
      )) {
        const [from, end] = [this.ids[spot]!, this.ids[to]!];
        passages[ids.name(`${from}_${end}`)] = { from, to: end, if: [...asks].sort(), through: [...through] };
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

/** By cell the nearest cell with a piece on it, the first of several, across whatever is between; -1 without any. */
function nearestThings(ground: Ground): { thing: Int32Array; far: Int32Array } {
  const { width, height } = ground;
  const thing = new Int32Array(width * height).fill(-1);
  const far = new Int32Array(width * height).fill(-1);
  const queue = new Numbers();
  for (const cell of [...ground.pieces.keys()].sort((a, b) => a - b)) {
    thing[cell] = cell;
    far[cell] = 0;
    queue.push(cell);
  }
  for (let at = 0; at < queue.length; at++) {
    const cell = queue.at(at);
    const [x, y] = ground.cellOf(cell);
    for (const [dx, dy] of neighbours) {
      const next = ground.at(x + dx, y + dy);
      if (next === undefined || thing[next] !== -1) continue;
      thing[next] = thing[cell]!;
      far[next] = far[cell]! + 1;
      queue.push(next);
    }
  }
  return { thing, far };
}

/** Of passages between the same spots the one that asks for least comes first. */
const askedOf = ({ asks, through }: Lead): number => asks.length + through.length;
const wordsOf = ({ asks, through }: Lead): string => JSON.stringify([[...asks].sort(), through]);

/** Names of which each is given once. */
class Unique {
  private readonly given = new Map<string, number>();

  constructor(private readonly joint: string) {}

  /** The wish, or numbered from the second on where it is taken. */
  name(wish: string): string {
    let found = wish;
    let n = this.given.get(wish) ?? 1;
    while (this.given.has(found)) found = `${wish}${this.joint}${++n}`;
    this.given.set(wish, n);
    if (found !== wish) this.given.set(found, 1);
    return found;
  }
}
