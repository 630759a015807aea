import type { Id } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import type { Facts } from '../facts.ts';

/** The lowest and highest value of every variable, and of flags and choices which there were, as bits. */
export class Ranges {
  private readonly slots: Int32Array;
  private readonly low: Int32Array;
  private readonly high: Int32Array;
  private readonly were: Int32Array;
  private readonly merged = new Set<number>();
  constructor(slots: number[]) {
    this.slots = Int32Array.from(slots);
    this.low = new Int32Array(slots.length).fill(2 ** 31 - 1);
    this.high = new Int32Array(slots.length).fill(-(2 ** 31));
    // a choice has up to 64 values
    this.were = new Int32Array(slots.length * 2);
  }

  note(v: Int32Array): void {
    const { slots, low, high, were } = this;
    for (let index = 0; index < slots.length; index++) {
      const value = v[slots[index]!]!;
      if (value < low[index]!) low[index] = value;
      if (value > high[index]!) high[index] = value;
      were[index * 2 + ((value >> 5) & 1)]! |= 1 << (value & 31);
    }
  }

  /** A merged value was really one from `low` to `high`. */
  unmerge({ slot, top }: { slot: number; top: number }, low: number, high: number): void {
    const index = this.slots.indexOf(slot);
    // while only the merged value is known, the lowest is that of the merged
    if (this.low[index]! >= top) this.low[index] = this.merged.has(index) ? Math.min(this.low[index]!, low) : low;
    this.high[index] = this.merged.has(index) ? Math.max(this.high[index]!, high) : high;
    this.merged.add(index);
  }

  told({ document }: Flow, ids: Id[]) {
    const told: Facts['arrivals'] extends Map<Id, infer Values> ? Values : never = new Map();
    ids.forEach((id, index) => {
      const variable = document.variables[id]!;
      if (variable.type === 'number') {
        told.set(id, { min: this.low[index]!, max: this.high[index]! });
        return;
      }
      const was = (value: number) => (this.were[index * 2 + (value >> 5)]! & (1 << (value & 31))) !== 0;
      const values = variable.type === 'flag' ? [false, true] : variable.choices;
      told.set(id, new Set(values.filter((_, value) => was(value))));
    });
    return told;
  }
}
