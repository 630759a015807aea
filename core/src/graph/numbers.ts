/** A list of whole numbers that grows: many millions take four bytes each. */
export class Numbers {
  private data = new Int32Array(1024);
  length = 0;

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
}
