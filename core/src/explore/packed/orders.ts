/** Moves along orders: where they lead, and what is drawn. */
import type { Drawing } from './drawing.ts';
import type { Layout } from './layout.ts';

const none = -1;

export class Orders {
  /** Where a move that resolves leads, along which order, and to which position in its row. */
  to = none;
  order = none;
  position = none;
  /** The levels that there were to be drawn; a new list for each draw, as what follows from it may draw again. */
  bag: number[] = [];

  constructor(
    private readonly v: Int32Array,
    private readonly at: Layout,
    private readonly drawing: Drawing
  ) {}

  /** Whether a step along a fixed order resolves, from a position in it, and where to. */
  step(step: number, order: number, from: number): boolean {
    this.order = order;
    return this.alongRow(this.at.orders[order]!.rows[0]!, step, from);
  }

  /** Where a level that is entered stands in the row of a table; a move along it says itself which of two. */
  standsAt(order: number, level: number, by: number, to: number, drawn: number, position: number): number {
    const { rows, first } = this.at.orders[order]!;
    if (drawn < 0 || first[drawn]![level]! < 0) return position;
    if (by === order && to !== none) return to;
    return rows[drawn]![position] === level ? position : first[drawn]![level]!;
  }

  /** Whether a step along an order (next, previous, first, last; -1: the current order) resolves, and where to. */
  along(step: number, named: number): boolean {
    const { v, at } = this;
    const latest = v[at.latest]!;
    const current = v[at.current]!;
    const order = named !== none ? named : current !== 0 ? current - 1 : latest !== 0 ? at.listing[latest - 1]! : 0;
    const { bag, position, rows, row } = at.orders[order]!;
    this.order = order;
    if (bag) {
      if (step === 1 || step === 3) return false;
      const { levels, slots } = bag;
      const left = levels.filter((_, n) => v[slots[n]!] === 1);
      this.bag = left;
      if (left.length > 0) this.drawFrom(order, left);
      return left.length > 0;
    }
    const drawn = row < 0 ? 0 : v[row]!;
    return drawn >= 0 && this.alongRow(rows[drawn]!, step, v[position]!);
  }

  /** The next level is one of those that were in the bag. */
  drawFrom(order: number, bag: number[]): void {
    this.to = bag[bag.length === 1 ? 0 : this.drawing.pick(bag.length)]!;
    this.drawing.note(order, this.to);
    this.position = none;
  }

  private alongRow(levels: number[], step: number, from: number): boolean {
    this.position = step === 0 ? from + 1 : step === 1 ? from - 1 : step === 2 ? 0 : levels.length - 1;
    this.to = this.position >= 0 && this.position < levels.length ? levels[this.position]! : none;
    return this.to !== none;
  }

  /** Draws a row, or fills the bag. */
  draw(order: number): void {
    const { v, at } = this;
    const { rows, row, position, bag } = at.orders[order]!;
    if (row !== none) {
      v[row] = rows.length === 1 ? 0 : this.drawing.pick(rows.length);
      v[position] = none;
      this.drawing.note(order, v[row]!);
    } else if (bag) for (const slot of bag.slots) v[slot] = 1;
  }
}
