import type { Id } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import type { Facts } from '../facts.ts';
import type { Layout } from './layout.ts';
import type { BitField } from './slots.ts';

/**
 * The lowest and highest value of every variable, and of flags and choices which there were, as bits; noted from packed
 * states. Of all fields of one bit together it is enough to note which bits were set and which were not.
 */
export class Ranges {
  private readonly slots: number[];
  private readonly low: Int32Array;
  private readonly high: Int32Array;
  private readonly were: Int32Array;
  private readonly merged = new Set<number>();
  private readonly bits: { index: number; field: BitField }[] = [];
  private readonly set: Int32Array;
  private readonly unset: Int32Array;
  // the other fields, side by side
  private readonly wide: number[] = [];
  private readonly fields: Int32Array;

  constructor(slots: number[], { packing, initial }: Layout) {
    this.slots = slots;
    this.low = new Int32Array(slots.length).fill(2 ** 31 - 1);
    this.high = new Int32Array(slots.length).fill(-(2 ** 31));
    // a choice has up to 64 values
    this.were = new Int32Array(slots.length * 2);
    this.set = new Int32Array(packing.words);
    this.unset = new Int32Array(packing.words);
    const fields: number[] = [];
    slots.forEach((slot, index) => {
      const field = packing.fields[slot];
      if (!field) this.is(index, initial[slot]!);
      else if (field.bits === 1) this.bits.push({ index, field });
      else {
        this.wide.push(index);
        fields.push(field.word, field.shift, field.bits === 32 ? -1 : 2 ** field.bits - 1, field.base);
      }
    });
    this.fields = Int32Array.from(fields);
  }

  /** Notes the packed state that begins at a place in the words. */
  note(words: Int32Array, from: number): void {
    const { set, unset, wide, fields } = this;
    for (let word = 0; word < set.length; word++) {
      set[word]! |= words[from + word]!;
      unset[word]! |= ~words[from + word]!;
    }
    for (let n = 0; n < wide.length; n++) {
      const at = n * 4;
      const field = (words[from + fields[at]!]! >>> fields[at + 1]!) & fields[at + 2]!;
      this.is(wide[n]!, (field + fields[at + 3]!) | 0);
    }
  }

  private is(index: number, value: number): void {
    const { low, high, were } = this;
    if (value < low[index]!) low[index] = value;
    if (value > high[index]!) high[index] = value;
    were[index * 2 + ((value >> 5) & 1)]! |= 1 << (value & 31);
  }

  /** To be called once when all has been noted. */
  end(): void {
    for (const { index, field } of this.bits) {
      const bit = 1 << field.shift;
      if (this.unset[field.word]! & bit) this.is(index, field.base);
      if (this.set[field.word]! & bit) this.is(index, field.base + 1);
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
