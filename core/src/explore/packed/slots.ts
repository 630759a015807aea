/**
 * Where everything of a state is kept: numbered slots, worked on in one Int32Array, of which those that matter are
 * packed as bit fields into a few 32-bit words. Code is generated from numbers alone, never from a document's text.
 */
import { generate } from './generate.ts';
import { js, machineSlot, onSlots, print, slot as slotOf, type Code } from './instructions.ts';

/** What a slot varies like: with the event, or over the whole flow, or not so that blocks of states could be filled. */
const [mostly, fully, rarely] = [0, 1, 2];

interface Slot {
  /** The lowest value; packed is the difference from it. */
  base: number;
  bits: number;
  initial: number;
  /** Of a slot that is no part of the state, but begins with this value in each. */
  renewed?: number;
  /** The smaller, the more often states that are found one after another differ in it. */
  rank: number;
  follows?: Follows;
}

/** Of a slot whose value follows from others, or nearly: what is packed, from 0 on, and how the value comes of that. */
export interface Follows {
  /** How many bits are packed; none where the value is all said by others. */
  bits: number;
  /** The code of what is packed, of that of the value. */
  pack(value: Code): Code;
  /** The code of the value, of that of what is packed and of other slots. */
  read(packed: string, other: (slot: number) => string): string;
}

export class Slots {
  private readonly slots: Slot[] = [];

  /**
   * A new slot for values from `min` to `max`. One that is not kept is worked on like any other, but forgotten between
   * events: sound only where nothing reads it before it is set again.
   */
  add(min: number, max: number, initial = min, kept = true): number {
    const bits = kept ? 32 - Math.clz32(Math.min(max - min, 0xffff_ffff)) : 0;
    this.slots.push({ base: min, bits, initial, rank: rarely });
    return this.slots.length - 1;
  }

  /** A new slot that is no part of a state: it has the one value before the start, the other whenever a state is read. */
  addRenewed(initial: number, renewed: number): number {
    this.slots.push({ base: 0, bits: 0, initial, renewed, rank: rarely });
    return this.slots.length - 1;
  }

  /** A new slot whose value follows from those of others. */
  addFollowing(follows: Follows, initial: number): number {
    this.slots.push({ base: 0, bits: follows.bits, initial, rank: rarely, follows });
    return this.slots.length - 1;
  }

  /** States that are found one after another mostly differ in this slot. */
  varies(slot: number): void {
    this.slots[slot]!.rank = mostly;
  }

  /** All values of this slot are found with most of the others' values. */
  fills(slot: number): void {
    this.slots[slot]!.rank = fully;
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

    const fields: (BitField | undefined)[] = this.slots.map(() => undefined);
    rooms.forEach(({ slots }, word) => {
      let shift = 0;
      for (const { at, base, bits, follows } of slots) {
        fields[at] = { word, shift, bits, base, follows };
        shift += bits;
      }
    });
    const read = (slot: number, words: (word: number) => string): string => {
      const field = fields[slot];
      const follows = this.slots[slot]!.follows;
      if (!follows) return field ? reading(words(field.word), field) : machineSlot(slot);
      return follows.read(field ? reading(words(field.word), field) : '0', (other) => `(${read(other, words)})`);
    };
    const pack = rooms.map(({ slots }, word) => {
      const packed = slots.map(({ at }) => print(packing(slotOf(at), fields[at]!), onSlots));
      return `w[${word}] = ${packed.join(' | ') || '0'};`;
    });
    const unpack = this.slots.flatMap(({ renewed, follows }, at) => {
      if (renewed !== undefined) return `${machineSlot(at)} = ${renewed};`;
      return fields[at] || follows ? `${machineSlot(at)} = ${read(at, (word) => `w${word}`)};` : [];
    });
    const names = rooms.map((_, word) => `w${word} = w[${word}]`);
    return {
      words: rooms.length,
      firstBits: 32 - rooms[0]!.free,
      pack: generate('slots, w', pack.join('\n')),
      unpack: generate('w, slots', [`const ${names.join(', ')};`, ...unpack].join('\n')),
      read,
      says: (slot) => fields[slot] !== undefined || this.slots[slot]!.follows !== undefined,
      reader: (slot) => generate('words, at, slots', `return ${read(slot, (word) => `words[at + ${word}]`)};`),
      fields,
      renewed: new Map(this.slots.flatMap(({ renewed }, slot) => (renewed === undefined ? [] : [[slot, renewed] as const])))
    };
  }
}

/** Where a slot is packed, less its lowest value. */
export interface BitField {
  word: number;
  shift: number;
  bits: number;
  base: number;
  follows?: Follows | undefined;
}

/** The code of a value in its place in a word, and of what is packed there. */
export function packing(value: Code, { shift, base, follows }: BitField): Code {
  const offset = follows ? follows.pack(value) : base === 0 ? value : js`(${value} - ${base} | 0)`;
  return shift === 0 ? offset : js`${offset} << ${shift}`;
}

function reading(word: string, { shift, bits, base }: BitField): string {
  const moved = shift === 0 ? word : `${word} >>> ${shift}`;
  const field = shift + bits === 32 ? moved : `${moved} & ${2 ** bits - 1}`;
  return base === 0 ? field : `(${field}) + ${base} | 0`;
}

/** The bits of a word that a field leaves to others. */
export function others({ shift, bits }: BitField): number {
  return bits === 32 ? 0 : ~((2 ** bits - 1) << shift);
}

export interface Packing {
  words: number;
  /** How many bits of the first word are used. */
  firstBits: number;
  /** Writes the kept slots of `v` into the words of `w`. */
  pack(v: Int32Array, w: Int32Array): void;
  /** Reads them back; slots that are not kept stay as they are in `v`. */
  unpack(w: Int32Array, v: Int32Array): void;
  /** The code of a slot's value, read from words named by their numbers; as it is in `v` where nothing says it. */
  read(slot: number, words: (word: number) => string): string;
  /** Whether the words say it. */
  says(slot: number): boolean;
  /** The same as a function of the words that begin at a place. */
  reader(slot: number): (words: Int32Array, at: number, v: Int32Array) => number;
  /** By slot; undefined for what is not packed. */
  fields: (BitField | undefined)[];
  /** By slot: the value it has whenever a state is read, of those that are no part of it. */
  renewed: Map<number, number>;
}
