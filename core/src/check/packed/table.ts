/**
 * States found so far: words side by side, and an open-addressing table of their numbers. In the bits of an entry that a
 * number leaves free stands a part of the hash, so that a look at the words of another state is rare. States that differ
 * in the lowest bits of their first word alone stand in one group of entries, so that what is found one after another is
 * mostly near in memory: this, not the number of looks, is what costs. The table is at most half full.
 */
export class StateTable {
  words: Int32Array;
  count = 0;
  /** The state's number plus one, and above it bits of the hash; zero where there is none. */
  private table = new Int32Array(2048);
  private mask = 2047;

  constructor(readonly width: number) {
    this.words = new Int32Array(1024 * width);
  }

  /** What the states and the table take. */
  get bytes(): number {
    return 4 * (this.count * this.width + this.table.length);
  }

  /** Copies the words of a state. */
  read(state: number, into: Int32Array): void {
    const { width, words } = this;
    for (let i = 0, from = state * width; i < width; i++) into[i] = words[from + i]!;
  }

  /** The number of the state with these words: a known one, or the next. One and two words have their own ways. */
  find(words: Int32Array): number {
    if (this.width === 1) return this.findOne(words[0]!);
    if (this.width === 2) return this.findTwo(words[0]!, words[1]!);
    const { table, mask, width, words: all } = this;
    const hash = hashOf(words, 0, width);
    const tag = hash & ~mostStates;
    let at = hash & mask;
    for (let entry = table[at]!; entry !== 0; entry = table[at]!) {
      if ((entry & ~mostStates) === tag) {
        const known = (entry & mostStates) - 1;
        let same = 0;
        while (same < width && all[known * width + same] === words[same]) same++;
        if (same === width) return known;
      }
      at = (at + group) & mask;
    }
    all.set(words, this.count * width);
    return this.add(at, tag);
  }

  findOne(word: number): number {
    const { table, mask, words } = this;
    const hash = grouped(hashed(0, word >>> groupBits), word);
    const tag = hash & ~mostStates;
    let at = hash & mask;
    for (let entry = table[at]!; entry !== 0; entry = table[at]!) {
      if ((entry & ~mostStates) === tag && words[(entry & mostStates) - 1] === word) return (entry & mostStates) - 1;
      at = (at + group) & mask;
    }
    words[this.count] = word;
    return this.add(at, tag);
  }

  findTwo(one: number, two: number): number {
    const { table, mask, words } = this;
    const hash = grouped(hashed(hashed(0, one >>> groupBits), two), one);
    const tag = hash & ~mostStates;
    let at = hash & mask;
    for (let entry = table[at]!; entry !== 0; entry = table[at]!) {
      if ((entry & ~mostStates) === tag) {
        const known = (entry & mostStates) - 1;
        if (words[known * 2] === one && words[known * 2 + 1] === two) return known;
      }
      at = (at + group) & mask;
    }
    words[this.count * 2] = one;
    words[this.count * 2 + 1] = two;
    return this.add(at, tag);
  }

  /** The next state, whose words have been written, gets its entry. */
  private add(at: number, tag: number): number {
    const state = this.count;
    this.table[at] = tag | ++this.count;
    if (this.count * 2 > this.table.length) this.grow();
    // there is always room for the words of one more
    if ((this.count + 1) * this.width > this.words.length) this.words = doubled(this.words);
    return state;
  }

  private grow(): void {
    const { width, words, count } = this;
    const table = new Int32Array(this.table.length * 2);
    const mask = (this.mask = table.length - 1);
    for (let state = 0; state < count; state++) {
      const hash = hashOf(words, state * width, width);
      let at = hash & mask;
      while (table[at] !== 0) at = (at + group) & mask;
      table[at] = (hash & ~mostStates) | (state + 1);
    }
    this.table = table;
  }
}

/** As many states as a table has numbers for. */
export const mostStates = 2 ** 25 - 1;

/** Entries that stand together. */
const groupBits = 4;
const group = 2 ** groupBits;

/** Multiply and shift, after Knuth's multiplicative hashing, with a last mix so that all bits depend on all. */
function hashOf(words: Int32Array, offset: number, width: number): number {
  const first = words[offset]!;
  let hash = hashed(0, first >>> groupBits);
  for (let i = 1; i < width; i++) hash = hashed(hash, words[offset + i]!);
  return grouped(hash, first);
}

function hashed(hash: number, word: number): number {
  const next = Math.imul(hash ^ word, 0x9e3779b1);
  return next ^ (next >>> 15);
}

/** Which group is said by the hash, where in the group by the low bits, turned about so that each place is used alike. */
function grouped(hash: number, first: number): number {
  let mixed = Math.imul(hash, 0x85ebca6b);
  mixed ^= mixed >>> 13;
  return (mixed & -group) | (((mixed >>> 20) ^ first) & (group - 1));
}

function doubled(values: Int32Array): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(values.length * 2);
  larger.set(values);
  return larger;
}

/** A list of numbers that grows. */
export class Growing {
  values: Int32Array;
  length = 0;
  constructor(size = 1024) {
    this.values = new Int32Array(size);
  }
  push(value: number): void {
    if (this.length === this.values.length) this.values = doubled(this.values);
    this.values[this.length++] = value;
  }
}
