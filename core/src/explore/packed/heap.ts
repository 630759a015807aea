/** A queue of numbered things, the smallest key first; of equal keys the one added last. */
export class Heap {
  private readonly keys: number[] = [];
  private readonly things: number[] = [];

  add(key: number, thing: number): void {
    const { keys, things } = this;
    let at = keys.length;
    keys.push(key);
    things.push(thing);
    while (at > 0) {
      const parent = (at - 1) >> 1;
      if (keys[parent]! < key) break;
      keys[at] = keys[parent]!;
      things[at] = things[parent]!;
      at = parent;
    }
    keys[at] = key;
    things[at] = thing;
  }

  /** Takes the first one off; undefined when there is none. */
  take(): { key: number; thing: number } | undefined {
    const { keys, things } = this;
    if (keys.length === 0) return undefined;
    const first = { key: keys[0]!, thing: things[0]! };
    const key = keys.pop()!;
    const thing = things.pop()!;
    const size = keys.length;
    if (size > 0) {
      let at = 0;
      for (;;) {
        let child = at * 2 + 1;
        if (child >= size) break;
        if (child + 1 < size && keys[child + 1]! < keys[child]!) child++;
        if (keys[child]! >= key) break;
        keys[at] = keys[child]!;
        things[at] = things[child]!;
        at = child;
      }
      keys[at] = key;
      things[at] = thing;
    }
    return first;
  }
}
