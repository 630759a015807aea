/** A list of whole numbers that grows: many millions take four bytes each. */
export class Numbers {
  private data: Int32Array;
  length: number;

  /** An empty list, or one that holds what another does. */
  constructor(other?: Numbers) {
    this.length = other?.length ?? 0;
    this.data = new Int32Array(this.length + 1024);
    if (other) this.data.set(other.view());
  }

  push(value: number): void {
    if (this.length === this.data.length) {
      const larger = new Int32Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = value;
  }

  pop(): number {
    return this.data[--this.length]!;
  }

  at(index: number): number {
    return this.data[index]!;
  }

  set(index: number, value: number): void {
    this.data[index] = value;
  }

  /** What it holds, for who reads much of it; no longer true of it once it grows. */
  view(): Int32Array {
    return this.data.subarray(0, this.length);
  }
}
