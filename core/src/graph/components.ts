import { Numbers } from './numbers.ts';

/**
 * Strongly connected components (R. Tarjan, Depth-first search and linear graph algorithms, 1972), without recursion.
 * A component is numbered after all those that it leads to. `eachNext` is asked once for each node.
 */
export function components(
  nodes: number,
  eachNext: (node: number, visit: (next: number) => void) => void
): { component: Int32Array; count: number } {
  const first = new Int32Array(nodes + 1);
  const next = new Numbers();
  const visit = (to: number) => next.push(to);
  for (let node = 0; node < nodes; node++) {
    eachNext(node, visit);
    first[node + 1] = next.length;
  }
  return componentsAmong(nodes, first, first.subarray(1), next.view());
}

/**
 * The same of a graph in lists: what a node leads to stands in `next`, from `first` up to before `last` of it. With one number
 * a node in place of two (D. J. Pearce, A space-efficient algorithm for finding strongly connected components, 2016): its order
 * of being found, the least order that it leads back to, or once its component is known that, counted down from twice the nodes.
 * Where not all are looked at, but what is led to from some `starts`, the component of the others is -1.
 */
export function componentsAmong(
  nodes: number,
  first: Int32Array,
  last: Int32Array,
  next: Int32Array,
  starts: ArrayLike<number> = Int32Array.from({ length: nodes }, (_, node) => node)
): { component: Int32Array; count: number } {
  const number = new Int32Array(nodes);
  const isRoot = new Uint8Array(nodes);
  const path = new Int32Array(nodes);
  /** By node of the path how far what it leads to has been gone through, from its end. */
  const cursor = new Int32Array(nodes);
  const waiting = new Int32Array(nodes);
  let depth = 0;
  let waits = 0;
  let order = 1;
  let count = 0;
  for (let at = 0; at < starts.length; at++) {
    if (number[starts[at]!] !== 0) continue;
    path[depth++] = starts[at]!;
    while (depth > 0) {
      const node = path[depth - 1]!;
      if (number[node] === 0) {
        number[node] = order++;
        isRoot[node] = 1;
        cursor[depth - 1] = last[node]!;
      }
      if (cursor[depth - 1]! > first[node]!) {
        const to = next[--cursor[depth - 1]!]!;
        if (number[to] === 0) path[depth++] = to;
        else if (number[to]! < number[node]!) {
          number[node] = number[to]!;
          isRoot[node] = 0;
        }
        continue;
      }
      depth--;
      if (isRoot[node] === 1) {
        const own = 2 * nodes - count++;
        order--;
        while (waits > 0 && number[waiting[waits - 1]!]! >= number[node]!) {
          number[waiting[--waits]!] = own;
          order--;
        }
        number[node] = own;
        continue;
      }
      waiting[waits++] = node;
      const before = path[depth - 1]!;
      if (number[node]! < number[before]!) {
        number[before] = number[node]!;
        isRoot[before] = 0;
      }
    }
  }
  return { component: number.map((each) => (each === 0 ? -1 : 2 * nodes - each)), count };
}
