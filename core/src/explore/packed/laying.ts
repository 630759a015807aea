/** The slots of a state as they are given out for one flow. */
import type { Id } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import type { Needs } from './needs.ts';
import { Slots, type Follows } from './slots.ts';

/** The slots of a layout as they are given out; what is not kept stays as it is at first. */
export class Laying {
  readonly slots = new Slots();
  readonly kept = new Set<number>();
  /** All slots of the bookmark. */
  readonly book: number[] = [];

  constructor(
    readonly flow: Flow,
    readonly needs: Needs,
    readonly placeIds: Id[]
  ) {}

  add(min: number, max: number, initial: number, keep: boolean): number {
    const slot = this.slots.add(min, max, initial, keep);
    if (keep) this.kept.add(slot);
    return slot;
  }

  /** A slot whose value follows from others. */
  follow(follows: Follows, initial: number): number {
    const slot = this.slots.addFollowing(follows, initial);
    this.kept.add(slot);
    return slot;
  }

  /** A slot that has one value before the start, the other whenever a state is read. */
  renewed(initial: number, renewed: number): number {
    const slot = this.slots.addRenewed(initial, renewed);
    this.kept.add(slot);
    return slot;
  }

  /** A slot of the bookmark. */
  saved(min: number, max: number, initial: number, keep: boolean): number {
    const slot = this.add(min, max, initial, keep && this.needs.bookmark);
    this.book.push(slot);
    return slot;
  }

  /** How many places are no levels; these have the lowest numbers. */
  get screens(): number {
    return this.placeIds.length - this.flow.levels.length;
  }
}
