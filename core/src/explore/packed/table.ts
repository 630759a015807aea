/**
 * States found so far, as words side by side, and where each of them is found again. States that differ in the lowest
 * bits of their first word alone stand side by side in one block, by these bits; an open-addressing table says which
 * block is that of the other bits. So a state that is known is found without a look at its words, what is found one
 * after another is near in memory (waiting for memory is what costs), and no state moves when the table grows. How many
 * bits a block is for follows from how full the blocks are.
 */
export class StateTable {
  words: Int32Array;
  count = 0;
  /** How many of the lowest bits of the first word are told apart within a block. */
  private low: number;
  /** By block and low bits: the state's number plus one; zero where there is none. */
  private blocks = new Int32Array(fewest);
  private blockCount = 0;
  /** By block: the words of its states, of the first the high bits alone. */
  private keys: Int32Array;
  /** The block's number plus one, at or behind the hash of its key; at most half full. */
  private table = new Int32Array(256);

  /** `bits`: how many bits of the first word are used. */
  constructor(
    readonly width: number,
    bits = 32
  ) {
    this.low = Math.min(mostLow, bits);
    this.words = new Int32Array(1024 * width);
    this.keys = new Int32Array(128 * width);
  }

  /** What the states and the table take. */
  get bytes(): number {
    const { count, width, blockCount, low, table } = this;
    return 4 * ((count + blockCount) * width + (blockCount << low) + table.length);
  }

  /** The number of the state with these words: a known one, or the next. One and two words have their own ways. */
  find(words: Int32Array): number {
    if (this.width === 1) return this.findOne(words[0]!);
    if (this.width === 2) return this.findTwo(words[0]!, words[1]!);
    const { width, low } = this;
    const at = (this.block(words, 0) << low) | (words[0]! & ((1 << low) - 1));
    const entry = this.blocks[at]!;
    if (entry !== 0) return entry - 1;
    this.words.set(words, this.count * width);
    return this.add(at);
  }

  /** Whether a state has these words. */
  has(state: number, words: Int32Array): boolean {
    const from = state * this.width;
    for (let i = 0; i < this.width; i++) if (this.words[from + i] !== words[i]) return false;
    return true;
  }

  findOne(word: number): number {
    const { low, keys, table } = this;
    const key = (word >>> low) | 0;
    const mask = table.length - 1;
    let hash = last(hashed(0, key)) & mask;
    let block = table[hash]!;
    while (block !== 0 && keys[block - 1] !== key) block = table[(hash = (hash + 1) & mask)]!;
    if (block === 0) {
      keys[this.blockCount] = key;
      table[hash] = block = ++this.blockCount;
    }
    const at = ((block - 1) << low) | (word & ((1 << low) - 1));
    const entry = this.blocks[at]!;
    if (entry !== 0) return entry - 1;
    this.words[this.count] = word;
    return this.add(at);
  }

  findTwo(one: number, two: number): number {
    const { low, keys, table } = this;
    const key = (one >>> low) | 0;
    const mask = table.length - 1;
    let hash = last(hashed(hashed(0, key), two)) & mask;
    let block = table[hash]!;
    while (block !== 0 && (keys[block * 2 - 2] !== key || keys[block * 2 - 1] !== two)) {
      block = table[(hash = (hash + 1) & mask)]!;
    }
    if (block === 0) {
      keys[this.blockCount * 2] = key;
      keys[this.blockCount * 2 + 1] = two;
      table[hash] = block = ++this.blockCount;
    }
    const at = ((block - 1) << low) | (one & ((1 << low) - 1));
    const entry = this.blocks[at]!;
    if (entry !== 0) return entry - 1;
    this.words[this.count * 2] = one;
    this.words[this.count * 2 + 1] = two;
    return this.add(at);
  }

  /** The block for the words that begin at a place. */
  private block(words: Int32Array, from: number): number {
    const { width, low, keys, table } = this;
    const key = (words[from]! >>> low) | 0;
    const mask = table.length - 1;
    let hash = hashed(0, key);
    for (let i = 1; i < width; i++) hash = hashed(hash, words[from + i]!);
    hash = last(hash) & mask;
    for (let block = table[hash]!; block !== 0; block = table[(hash = (hash + 1) & mask)]!) {
      const own = (block - 1) * width;
      let same = keys[own] === key ? 1 : 0;
      while (same > 0 && same < width && keys[own + same] === words[from + same]) same++;
      if (same === width) return block - 1;
    }
    const own = this.blockCount * width;
    keys[own] = key;
    for (let i = 1; i < width; i++) keys[own + i] = words[from + i]!;
    table[hash] = ++this.blockCount;
    return this.blockCount - 1;
  }

  /** The next state, whose words have been written, gets its entry. There is always room for one more, and its block. */
  private add(at: number): number {
    const state = this.count++;
    this.blocks[at] = state + 1;
    const { width } = this;
    if ((this.count + 1) * width > this.words.length) this.words = enlarged(this.words);
    if ((this.blockCount + 1) << this.low > this.blocks.length) this.makeRoom();
    if ((this.blockCount + 1) * width > this.keys.length) this.keys = enlarged(this.keys);
    if (this.blockCount * 2 >= this.table.length) this.index();
    return state;
  }

  private makeRoom(): void {
    if (this.low === 0 || this.count * (this.blocks.length < many ? 16 : sparse) > this.blockCount << this.low) {
      this.blocks = enlarged(this.blocks);
      return;
    }
    // mostly empty blocks: smaller ones are fuller
    const { words, width, count } = this;
    const low = (this.low = Math.max(0, this.low - 2));
    this.blockCount = 0;
    this.keys = new Int32Array((count + 2) * width);
    this.table = new Int32Array(2 ** (33 - Math.clz32(count + 2)));
    const places = new Int32Array(count);
    for (let state = 0; state < count; state++) {
      places[state] = (this.block(words, state * width) << low) | (words[state * width]! & ((1 << low) - 1));
    }
    this.keys = this.keys.slice(0, (this.blockCount + this.blockCount / 2 + 2) * width);
    this.blocks = new Int32Array(Math.ceil((this.blockCount + 1) * 1.5) << low);
    places.forEach((at, state) => (this.blocks[at] = state + 1));
    this.index();
  }

  /** The table of blocks anew, at most a quarter full. */
  private index(): void {
    const { keys, width, blockCount } = this;
    const table = (this.table = new Int32Array(Math.max(256, 2 ** (34 - Math.clz32(blockCount)))));
    const mask = table.length - 1;
    for (let block = 0; block < blockCount; block++) {
      let hash = 0;
      for (let i = 0; i < width; i++) hash = hashed(hash, keys[block * width + i]!);
      hash = last(hash) & mask;
      while (table[hash] !== 0) hash = (hash + 1) & mask;
      table[hash] = block + 1;
    }
  }
}

/** As many states as a table has numbers for. */
export const mostStates = 2 ** 25 - 1;

/** A block is for at most so many bits. */
const mostLow = 8;
const fewest = 4096;
/** From so many entries on blocks are judged: where fewer than one entry in so many is used they are made smaller. */
const many = 2 ** 20;
const sparse = 3;

/** Multiply and shift, after Knuth's multiplicative hashing. */
function hashed(hash: number, word: number): number {
  const next = Math.imul(hash ^ word, 0x9e3779b1);
  return next ^ (next >>> 15);
}

/** A last mix, so that all bits depend on all. */
function last(hash: number): number {
  const mixed = Math.imul(hash, 0x85ebca6b);
  return mixed ^ (mixed >>> 13);
}

/** Memory is not there before it is written, and copying is waited for: what is small grows much. */
function enlarged(values: Int32Array): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(values.length * (values.length < many * 4 ? 4 : 2));
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
    if (this.length === this.values.length) this.values = enlarged(this.values);
    this.values[this.length++] = value;
  }
}
