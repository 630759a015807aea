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
        const field = { word, shift, bits, base };
        fields[at] = field;
        unpack.push(`v[${at}] = ${reading(`w${word}`, field)};`);
        shift += bits;
        return packing(`v[${at}]`, field);
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

/** Where a slot is packed, less its lowest value. */
export interface Field {
  word: number;
  shift: number;
  bits: number;
  base: number;
}

/** The code of a value in its place in a word, and of a value read from its word. */
export function packing(value: string, { shift, base }: Field): string {
  const offset = base === 0 ? value : `(${value} - ${base} | 0)`;
  return shift === 0 ? offset : `${offset} << ${shift}`;
}

export function reading(word: string, { shift, bits, base }: Field): string {
  const moved = shift === 0 ? word : `${word} >>> ${shift}`;
  const field = shift + bits === 32 ? moved : `${moved} & ${2 ** bits - 1}`;
  return base === 0 ? field : `(${field}) + ${base} | 0`;
}

/** The bits of a word that a field leaves to others. */
export function others({ shift, bits }: Field): number {
  return bits === 32 ? 0 : ~((2 ** bits - 1) << shift);
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
