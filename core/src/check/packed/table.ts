/** States found so far: words side by side, and an open-addressing table of their numbers. */
export class StateTable {
  words: Int32Array;
  count = 0;
  private table: Int32Array;
  private mask: number;

  constructor(readonly width: number) {
    this.words = new Int32Array(1024 * width);
    this.table = new Int32Array(2048);
    this.mask = this.table.length - 1;
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

  /** The number of the state whose words were written into the room: a known one, or the next. */
  take(): number {
    const { width, words } = this;
    const offset = this.count * width;
    let at = hashOf(words, offset, width) & this.mask;
    for (;;) {
      const entry = this.table[at]!;
      if (entry === 0) break;
      const other = (entry - 1) * width;
      let same = true;
      for (let i = 0; i < width; i++) {
        if (words[other + i] !== words[offset + i]) {
          same = false;
          break;
        }
      }
      if (same) return entry - 1;
      at = (at + 1) & this.mask;
    }
    this.table[at] = ++this.count;
    if (this.count * 2 > this.table.length) this.grow();
    return this.count - 1;
  }

  private grow(): void {
    const { width, words } = this;
    this.table = new Int32Array(this.table.length * 2);
    this.mask = this.table.length - 1;
    for (let state = 0; state < this.count; state++) {
      let at = hashOf(words, state * width, width) & this.mask;
      while (this.table[at] !== 0) at = (at + 1) & this.mask;
      this.table[at] = state + 1;
    }
  }
}

/** Multiply and shift, after Knuth's multiplicative hashing, with a last mix so that the low bits depend on all. */
function hashOf(words: Int32Array, offset: number, width: number): number {
  let hash = 0;
  for (let i = 0; i < width; i++) {
    hash = Math.imul(hash ^ words[offset + i]!, 0x9e3779b1);
    hash ^= hash >>> 15;
  }
  hash = Math.imul(hash, 0x85ebca6b);
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
