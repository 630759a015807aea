/**
 * The values of numbers that were merged (merging.ts): the lowest and highest they can really have in each state. Each
 * edge says of every such number which one it was before and what was added; as only what is not negative is ever
 * added, the lowest value is a shortest path and the highest one a longest, which a circle that adds makes the maximum.
 */
import type { Machine } from './machine.ts';
import { Heap } from './heap.ts';
import { components } from '../../graph/components.ts';
import { Growing } from './table.ts';

/** What an event does to the merged numbers. */
interface Label {
  /** By number: which one it was, or -1, and what was added to that, or it was set to. */
  source: Int32Array;
  added: Int32Array;
  /** The frames it made. */
  newFrames: number;
  growths: { site: number; from: number; sum: number }[];
}

/** The merged values of one number at one place, or wherever they are asked for. */
export interface Interval {
  low: number;
  high: number;
}

export class Growth {
  private readonly labels: Label[] = [];
  private readonly known = new Map<string, number>();
  /** Every event that ended: from which state, to which (-1 where it never settled), and its label. */
  private readonly from = new Growing();
  private readonly to = new Growing();
  private readonly label = new Growing();

  constructor(private readonly machine: Machine) {}

  get bytes(): number {
    return 12 * this.from.length;
  }

  /** Notes the event that has just ended; `to` is -1 where it never settled. */
  note(from: number, to: number): void {
    const { v, at, newFrames, growths } = this.machine;
    let text = `${newFrames}`;
    let moved = newFrames !== 0 || growths.length > 0 || from < 0;
    at.merged.forEach(({ source, added }, index) => {
      const was = v[source]!;
      if (was !== index || v[added] !== 0) moved = true;
      text += ` ${was} ${v[added]!}`;
    });
    if (from === to && !moved) return;
    for (const { site, from: number, sum } of growths) text += ` ${site} ${number} ${sum}`;
    let label = this.known.get(text);
    if (label === undefined) {
      label = this.labels.push({
        source: Int32Array.from(at.merged, ({ source }) => v[source]!),
        added: Int32Array.from(at.merged, ({ added }) => v[added]!),
        newFrames,
        growths: [...growths]
      });
      this.known.set(text, --label);
    }
    this.from.push(from);
    this.to.push(to);
    this.label.push(label);
  }

  /**
   * Works out the values that the merged numbers have in each state where they are merged, and tells of each arrival
   * what they were and of each assignment beyond a range. `value` gives a number's value in a state, as it was merged.
   * Returns by number what its merged values were over all states; undefined where there were none.
   */
  tell(
    count: number,
    value: (state: number, index: number) => number,
    told: { arrives(state: number, newFrames: number, index: number, values: Interval): void; clamps(site: number): void }
  ): (Interval | undefined)[] {
    const { merged } = this.machine.at;
    const width = merged.length;
    const top = (state: number, index: number) => value(state, index) === merged[index]!.top;
    const { low, high } = this.intervals(count, value, top);
    const after = (edge: number, index: number): Interval => {
      const { source, added } = this.labels[this.label.values[edge]!]!;
      const { max } = merged[index]!;
      const plus = added[index]!;
      if (source[index]! < 0) return { low: Math.min(plus, max), high: Math.min(plus, max) };
      const from = this.from.values[edge]!;
      const node = from * width + source[index]!;
      const known = !top(from, source[index]!);
      const [least, most] = known ? [value(from, source[index]!), value(from, source[index]!)] : [low[node]!, high[node]!];
      return { low: Math.min(least + plus, max), high: Math.min(most + plus, max) };
    };
    for (let edge = 0; edge < this.from.length; edge++) {
      const { newFrames, growths } = this.labels[this.label.values[edge]!]!;
      const [from, to] = [this.from.values[edge]!, this.to.values[edge]!];
      for (const { site, from: number, sum } of growths) {
        const most = top(from, number) ? high[from * width + number]! : value(from, number);
        if (most + sum > merged[number]!.max) told.clamps(site);
      }
      if (newFrames === 0 || to < 0) continue;
      for (let index = 0; index < width; index++) if (top(to, index)) told.arrives(to, newFrames, index, after(edge, index));
    }
    return merged.map((_, index) => {
      let over: Interval | undefined;
      for (let node = index; node < low.length; node += width) {
        if (low[node]! > high[node]!) continue;
        over = { low: Math.min(over?.low ?? low[node]!, low[node]!), high: Math.max(over?.high ?? high[node]!, high[node]!) };
      }
      return over;
    });
  }

  /** By state and number: the lowest and highest value, where it is merged. */
  private intervals(
    count: number,
    value: (state: number, index: number) => number,
    top: (state: number, index: number) => boolean
  ): { low: Int32Array; high: Int32Array } {
    const { merged } = this.machine.at;
    const width = merged.length;
    const low = new Int32Array(count * width).fill(2 ** 31 - 1);
    const high = new Int32Array(count * width).fill(-(2 ** 31));
    const heap = new Heap();
    // between merged values: from which to which, and what is added
    const sources: number[] = [];
    const targets: number[] = [];
    const added: number[] = [];
    for (let edge = 0; edge < this.from.length; edge++) {
      const [from, to] = [this.from.values[edge]!, this.to.values[edge]!];
      const label = this.labels[this.label.values[edge]!]!;
      for (let index = 0; index < width && to >= 0; index++) {
        if (!top(to, index)) continue;
        const was = label.source[index]!;
        const plus = label.added[index]!;
        const node = to * width + index;
        if (was >= 0 && top(from, was)) {
          sources.push(from * width + was);
          targets.push(node);
          added.push(plus);
          continue;
        }
        const now = Math.min(was < 0 ? plus : value(from, was) + plus, merged[index]!.max);
        if (now < low[node]!) heap.add((low[node] = now), node);
        if (now > high[node]!) high[node] = now;
      }
    }
    const order = byStart(count * width, sources);
    for (let next = heap.take(); next; next = heap.take()) {
      if (next.key > low[next.thing]!) continue;
      for (let at = order.starts[next.thing]!; at < order.starts[next.thing + 1]!; at++) {
        const edge = order.edges[at]!;
        const node = targets[edge]!;
        const now = Math.min(next.key + added[edge]!, merged[node % width]!.max);
        if (now < low[node]!) heap.add((low[node] = now), node);
      }
    }
    this.highest(high, sources, targets, added, order);
    return { low, high };
  }

  /** Longest paths: within a component that adds on a circle all reach the maximum, else all have the same. */
  private highest(
    high: Int32Array,
    sources: number[],
    targets: number[],
    added: number[],
    order: { starts: Int32Array; edges: Int32Array }
  ): void {
    const { merged } = this.machine.at;
    const { component, count } = components(high.length, (node, visit) => {
      for (let at = order.starts[node]!; at < order.starts[node + 1]!; at++) visit(targets[order.edges[at]!]!);
    });
    const most = new Int32Array(count).fill(-(2 ** 31));
    const pumps = new Uint8Array(count);
    const max = new Int32Array(count);
    const members: number[][] = Array.from({ length: count }, () => []);
    for (let node = 0; node < high.length; node++) {
      const own = component[node]!;
      members[own]!.push(node);
      max[own] = merged[node % merged.length]!.max;
      if (high[node]! > most[own]!) most[own] = high[node]!;
    }
    for (let edge = 0; edge < sources.length; edge++) {
      const own = component[sources[edge]!]!;
      if (own === component[targets[edge]!] && added[edge]! > 0) pumps[own] = 1;
    }
    // components are numbered after those they lead to
    for (let own = count - 1; own >= 0; own--) {
      if (most[own] === -(2 ** 31)) continue;
      if (pumps[own]) most[own] = max[own]!;
      for (const node of members[own]!) {
        high[node] = most[own]!;
        for (let at = order.starts[node]!; at < order.starts[node + 1]!; at++) {
          const edge = order.edges[at]!;
          const next = component[targets[edge]!]!;
          const now = Math.min(most[own]! + added[edge]!, max[next]!);
          if (now > most[next]!) most[next] = now;
        }
      }
    }
  }
}

/** Edges in the order of where they start. */
function byStart(nodes: number, sources: number[]): { starts: Int32Array; edges: Int32Array } {
  const starts = new Int32Array(nodes + 2);
  for (const node of sources) starts[node + 2]!++;
  for (let node = 2; node < starts.length; node++) starts[node]! += starts[node - 1]!;
  const edges = new Int32Array(sources.length);
  sources.forEach((node, edge) => (edges[starts[node + 1]!++] = edge));
  return { starts, edges };
}
