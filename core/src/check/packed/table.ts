/**
 * States found so far: words side by side, and an open-addressing table of their numbers. Beside each number stands the
 * state's word, or the hash of its words where there are more, so that a look at the table is mostly the only one.
 */
export class StateTable {
  words: Int32Array;
  count = 0;
  /** By twos: the word or hash, and the state's number plus one; zero where there is none. */
  private table = new Int32Array(4096);
  private mask = 2047;
  private most = 1638;

  constructor(readonly width: number) {
    this.words = new Int32Array(1024 * width);
  }

  /** What the states and the table take. */
  get bytes(): number {
    return 4 * (this.count * this.width + this.table.length);
  }

  /** Where the words of the next state are to be written before `take` is asked about them. */
  room(): number {
    const offset = this.count * this.width;
    if (offset + this.width > this.words.length) {
      const larger = new Int32Array(this.words.length * 2);
      larger.set(this.words);
      this.words = larger;
    }
    return offset;
  }

  /** Whether the words that were written into the room are those of a state. */
  same(state: number): boolean {
    const { width, words } = this;
    const [a, b] = [state * width, this.count * width];
    for (let i = 0; i < width; i++) if (words[a + i] !== words[b + i]) return false;
    return true;
  }

  /** The number of the state whose words were written into the room: a known one, or the next. */
  take(): number {
    const { width, words, table, mask, count } = this;
    const tag = width === 1 ? words[count]! : hashOf(words, count * width, width);
    let at = (width === 1 ? mixed(tag) : tag) & mask;
    for (let known = table[at * 2 + 1]!; known !== 0; known = table[at * 2 + 1]!) {
      if (table[at * 2] === tag && (width === 1 || this.same(known - 1))) return known - 1;
      at = (at + 1) & mask;
    }
    table[at * 2] = tag;
    table[at * 2 + 1] = ++this.count;
    if (this.count > this.most) this.grow();
    return count;
  }

  private grow(): void {
    const { width, table: old } = this;
    const table = new Int32Array(old.length * 2);
    const mask = (this.mask = table.length / 2 - 1);
    this.most = Math.floor((table.length / 2) * 0.8);
    for (let entry = 0; entry < old.length; entry += 2) {
      if (old[entry + 1] === 0) continue;
      const tag = old[entry]!;
      let at = (width === 1 ? mixed(tag) : tag) & mask;
      while (table[at * 2 + 1] !== 0) at = (at + 1) & mask;
      table[at * 2] = tag;
      table[at * 2 + 1] = old[entry + 1]!;
    }
    this.table = table;
  }
}

/** Multiply and shift, after Knuth's multiplicative hashing, with a last mix so that the low bits depend on all. */
function hashOf(words: Int32Array, offset: number, width: number): number {
  let hash = 0;
  for (let i = 0; i < width; i++) {
    hash = Math.imul(hash ^ words[offset + i]!, 0x9e3779b1);
    hash ^= hash >>> 15;
  }
  return mixed(hash);
}

function mixed(word: number): number {
  const hash = Math.imul(word ^ (word >>> 16), 0x85ebca6b);
  return hash ^ (hash >>> 13);
}

/** A list of numbers that grows. */
export class Growing {
  values: Int32Array;
  length = 0;
  constructor(size = 1024) {
    this.values = new Int32Array(size);
  }
  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Int32Array(this.values.length * 2);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.length++] = value;
  }
}
