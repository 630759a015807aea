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
  /** The smaller, the more often states that are found one after another differ in it. */
  rank: number;
}

export class Slots {
  private readonly slots: Slot[] = [];

  /**
   * A new slot for values from `min` to `max`. One that is not kept is worked on like any other, but forgotten between
   * events: sound only where nothing reads it before it is set again.
   */
  add(min: number, max: number, initial = min, kept = true): number {
    const bits = kept ? 32 - Math.clz32(Math.min(max - min, 0xffff_ffff)) : 0;
    this.slots.push({ base: min, bits, initial, rank: 2 });
    return this.slots.length - 1;
  }

  /** A new slot that is no part of a state: it has the one value before the start, the other whenever a state is read. */
  addRenewed(initial: number, renewed: number): number {
    this.slots.push({ base: 0, bits: 0, initial, renewed, rank: 2 });
    return this.slots.length - 1;
  }

  /** States that are found one after another often differ in this slot, the more the smaller the rank (0 or 1). */
  varies(slot: number, rank: number): void {
    this.slots[slot]!.rank = rank;
  }

  initials(): Int32Array {
    return Int32Array.from(this.slots, ({ initial }) => initial);
  }

  /**
   * Words a state takes, and how to get in and out of them. The widest fields are given room first, each within one
   * word; then what varies most comes to the lowest bits, and its word first.
   */
  packing(): Packing {
    const order = this.slots.map((slot, at) => ({ ...slot, at })).filter(({ bits }) => bits > 0);
    order.sort((a, b) => b.bits - a.bits || a.at - b.at);
    const rooms: { free: number; slots: typeof order }[] = [];
    for (const slot of order) {
      let room = rooms.find(({ free }) => free >= slot.bits);
      if (!room) rooms.push((room = { free: 32, slots: [] }));
      room.free -= slot.bits;
      room.slots.push(slot);
    }
    for (const { slots } of rooms) slots.sort((a, b) => a.rank - b.rank);
    rooms.sort((a, b) => a.slots[0]!.rank - b.slots[0]!.rank);
    if (rooms.length === 0) rooms.push({ free: 32, slots: [] });

    const fields: (Field | undefined)[] = this.slots.map(() => undefined);
    const unpack: string[] = [];
    const pack = rooms.map(({ slots }, word) => {
      let shift = 0;
      const packed = slots.map(({ at, base, bits }) => {
        const value = base === 0 ? `v[${at}]` : `(v[${at}] - ${base} | 0)`;
        const code = shift === 0 ? value : `${value} << ${shift}`;
        const mask = bits === 32 ? -1 : (2 ** bits - 1) << shift;
        unpack.push(`v[${at}] = ${fieldOf(`w${word}`, shift, bits, base)};`);
        fields[at] = { word, mask, packed: code, read: fieldOf(`B[${word}]`, shift, bits, base) };
        shift += bits;
        return code;
      });
      return `w[${word}] = ${packed.join(' | ') || '0'};`;
    });
    const renewed = this.slots.map((slot) => slot.renewed);
    renewed.forEach((value, at) => value !== undefined && unpack.push(`v[${at}] = ${value};`));
    const names = rooms.map((_, word) => `w${word} = w[${word}]`);
    return {
      words: rooms.length,
      pack: generate('v, w', pack.join('\n')),
      unpack: generate('w, v', [`const ${names.join(', ')};`, ...unpack].join('\n')),
      fields,
      renewed
    };
  }
}

const fieldOf = (word: string, shift: number, bits: number, base: number) => {
  const moved = shift === 0 ? word : `${word} >>> ${shift}`;
  const field = bits === 32 ? word : shift + bits === 32 ? moved : `${moved} & ${2 ** bits - 1}`;
  return base === 0 ? field : `(${field}) + ${base} | 0`;
};

/** Where a slot is packed, and the code that packs it from `v` and reads it from the words `B`. */
export interface Field {
  word: number;
  mask: number;
  packed: string;
  read: string;
}

export interface Packing {
  words: number;
  /** Writes the kept slots of `v` into the words of `w`. */
  pack(v: Int32Array, w: Int32Array): void;
  /** Reads them back; slots that are not kept stay as they are in `v`. */
  unpack(w: Int32Array, v: Int32Array): void;
  /** By slot; undefined for what is not kept. */
  fields: (Field | undefined)[];
  /** By slot: the value it has whenever a state is read, of those that are no part of it. */
  renewed: (number | undefined)[];
}
