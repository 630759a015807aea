/**
 * Where everything of a state is kept: numbered slots, worked on in one Int32Array, of which those that matter are
 * packed as bit fields into a few 32-bit words. Code is generated from numbers alone, never from a document's text.
 */
import { generate } from './generate.ts';

interface Slot {
  /** The lowest value; packed is the difference from it. */
  base: number;
  bits: number;
  initial: number;
  /** Of a slot that is no part of the state, but begins with this value in each. */
  renewed?: number;
}

export class Slots {
  private readonly slots: Slot[] = [];

  /**
   * A new slot for values from `min` to `max`. One that is not kept is worked on like any other, but forgotten between
   * events: sound only where nothing reads it before it is set again.
   */
  add(min: number, max: number, initial = min, kept = true): number {
    const bits = kept ? 32 - Math.clz32(Math.min(max - min, 0xffff_ffff)) : 0;
    this.slots.push({ base: min, bits, initial });
    return this.slots.length - 1;
  }

  /** A new slot that is no part of a state: it has the one value before the start, the other whenever a state is read. */
  addRenewed(initial: number, renewed: number): number {
    this.slots.push({ base: 0, bits: 0, initial, renewed });
    return this.slots.length - 1;
  }

  /** How many bits of a state a slot takes. */
  bits(slot: number): number {
    return this.slots[slot]!.bits;
  }

  get size(): number {
    return this.slots.length;
  }

  initials(): Int32Array {
    return Int32Array.from(this.slots, ({ initial }) => initial);
  }

  /** Words a state takes, and how to get in and out of them. The widest fields go first, each within one word. */
  packing(): Packing {
    const free: number[] = [];
    const pack: string[][] = [];
    const unpack: string[] = [];
    const order = this.slots.map((slot, at) => ({ ...slot, at })).filter(({ bits }) => bits > 0);
    order.sort((a, b) => b.bits - a.bits || a.at - b.at);
    for (const { at, base, bits } of order) {
      let word = free.findIndex((room) => room >= bits);
      if (word < 0) {
        word = free.length;
        free.push(32);
        pack.push([]);
      }
      const shift = 32 - free[word]!;
      free[word]! -= bits;
      const value = base === 0 ? `v[${at}]` : `(v[${at}] - ${base} | 0)`;
      pack[word]!.push(shift === 0 ? value : `${value} << ${shift}`);
      const field =
        bits === 32
          ? `w[o + ${word}]`
          : shift === 0
            ? `w[o + ${word}] & ${2 ** bits - 1}`
            : `w[o + ${word}] >>> ${shift} & ${2 ** bits - 1}`;
      unpack.push(`v[${at}] = (${field}) + ${base} | 0;`);
    }
    this.slots.forEach(({ renewed }, at) => renewed !== undefined && unpack.push(`v[${at}] = ${renewed};`));
    const words = Math.max(1, free.length);
    const store = Array.from({ length: words }, (_, word) => `w[o + ${word}] = ${(pack[word] ?? ['0']).join(' | ')};`);
    return {
      words,
      pack: generate('v, w, o', store.join('\n')),
      unpack: generate('w, o, v', unpack.join('\n'))
    };
  }
}

export interface Packing {
  words: number;
  /** Writes the kept slots of `v` into the words of `w` from `o` on. */
  pack(v: Int32Array, w: Int32Array, o: number): void;
  /** Reads them back; slots that are not kept stay as they are in `v`. */
  unpack(w: Int32Array, o: number, v: Int32Array): void;
}
