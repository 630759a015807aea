/** The places that are open, one over another, as the slots say. */
import type { Layout } from './layout.ts';

export class Frames {
  constructor(
    private readonly slots: Int32Array,
    private readonly at: Layout
  ) {}

  /** How many places are open. */
  get depth(): number {
    return this.slots[this.at.depth]!;
  }

  get bottom(): number {
    return this.slots[this.at.place[0]!]!;
  }

  /** The place that is open over all others. */
  get active(): number {
    return this.slots[this.at.place[this.depth - 1]!]!;
  }

  /** Opens a place over the others; its frame's position. */
  push(place: number): number {
    const { depth } = this;
    this.slots[this.at.place[depth]!] = place;
    this.slots[this.at.depth] = depth + 1;
    return depth;
  }

  /** Closes the active place; its frame's position. */
  pop(): number {
    const depth = this.depth - 1;
    this.clear(depth);
    this.slots[this.at.depth] = depth;
    return depth;
  }

  /** Closes all but the lowest. */
  popUpper(): void {
    for (let frame = this.depth - 1; frame > 0; frame--) this.clear(frame);
    this.slots[this.at.depth] = 1;
  }

  private clear(frame: number): void {
    const { slots, at } = this;
    slots[at.place[frame]!] = 0;
    slots[at.phase[frame]!] = 0;
    for (const slot of at.ticks[frame]!) slots[slot] = 0;
    for (const slot of at.held[frame]!) slots[slot] = 0;
  }
}
