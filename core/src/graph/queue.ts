/** A queue of numbers by how far each is, the nearest first; many are as far as others. */
export class Queue {
  private readonly lists = new Map<number, number[]>();
  /** The distances there are, as a heap. */
  private readonly heap: number[] = [];

  push(far: number, value: number): void {
    const list = this.lists.get(far);
    if (list) {
      list.push(value);
      return;
    }
    this.lists.set(far, [value]);
    const { heap } = this;
    let at = heap.push(far) - 1;
    for (let above = (at - 1) >> 1; at > 0 && heap[above]! > far; above = (at - 1) >> 1) {
      heap[at] = heap[above]!;
      heap[(at = above)] = far;
    }
  }

  /** How far the nearest is; undefined where there is none. */
  get nearest(): number | undefined {
    return this.heap[0];
  }

  /** Takes one of the nearest out; there must be one. */
  pop(): number {
    const far = this.heap[0]!;
    const list = this.lists.get(far)!;
    const value = list.pop()!;
    if (list.length === 0) {
      this.lists.delete(far);
      this.drop();
    }
    return value;
  }

  private drop(): void {
    const { heap } = this;
    const last = heap.pop()!;
    if (heap.length === 0) return;
    let at = 0;
    for (;;) {
      const left = 2 * at + 1;
      if (left >= heap.length) break;
      const lower = left + 1 < heap.length && heap[left + 1]! < heap[left]! ? left + 1 : left;
      if (heap[lower]! >= last) break;
      heap[at] = heap[lower]!;
      at = lower;
    }
    heap[at] = last;
  }
}
