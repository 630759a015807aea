/**
 * Where events lead, and from which state each was found first. States are numbered as they are found: those that were
 * found first from one state stand together, so that for each state that was looked at it is enough to say where they
 * begin, and only what leads to states known before is kept by itself.
 */
import type { Facts } from '../facts.ts';
import { Growing } from './table.ts';

export class Edges {
  private readonly children = new Growing();
  private readonly starts = new Growing();
  private readonly others = new Growing();
  /** Of the states found past the limit, which are the last: from which. */
  private readonly sought = new Growing();

  /** How many states were looked at. */
  get looked(): number {
    return this.starts.length;
  }

  get bytes(): number {
    return 4 * (this.children.length + this.starts.length + this.others.length + this.sought.length);
  }

  /** The next state is looked at, and so many are known. */
  looks(known: number): void {
    this.children.push(known);
    this.starts.push(this.others.length);
  }

  /** An event of the state that is looked at leads to one that is known; how, as bits of `by`. */
  leads(to: number, how: number): void {
    this.others.push(to * 8 + how);
  }

  /** The next state was found past the limit. */
  finds(from: number): void {
    this.sought.push(from);
  }

  /** The state from which one of `count` was found first; -1 for the start. */
  parentOf(state: number, count: number): number {
    const { children, sought } = this;
    const first = count - sought.length;
    if (state >= first) return sought.values[state - first]!;
    let [low, high] = [0, this.looked];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (children.values[middle]! <= state) low = middle + 1;
      else high = middle;
    }
    return low - 1;
  }

  /** By state: how many events lead to it. */
  lengths(count: number): Int32Array {
    const { children, sought, looked } = this;
    const lengths = new Int32Array(count);
    const first = count - sought.length;
    for (let state = 0; state < looked; state++) {
      const end = state + 1 < looked ? children.values[state + 1]! : first;
      for (let child = children.values[state]!; child < end; child++) lengths[child] = lengths[state]! + 1;
    }
    for (let n = 0; n < sought.length; n++) lengths[first + n] = lengths[sought.values[n]!]! + 1;
    return lengths;
  }

  /** All of `count` states have been found. */
  facts(count: number): Pick<Facts, 'looked' | 'children' | 'edges' | 'edgeStarts'> {
    const { children, starts, others, sought, looked } = this;
    const ended = ({ values }: Growing, end: number) => {
      const all = values.length > looked ? values : new Int32Array(looked + 1);
      if (all !== values) all.set(values);
      all[looked] = end;
      return all;
    };
    return {
      looked,
      children: ended(children, count - sought.length),
      edges: others.values,
      edgeStarts: ended(starts, others.length)
    };
  }
}
