/**
 * Strongly connected components (R. Tarjan, Depth-first search and linear graph algorithms, 1972), without recursion.
 * A component is numbered after all those that it leads to.
 */
export function components(
  nodes: number,
  eachNext: (node: number, visit: (next: number) => void) => void
): { component: Int32Array; count: number } {
  const component = new Int32Array(nodes).fill(-1);
  const found = new Int32Array(nodes).fill(-1);
  const lowest = new Int32Array(nodes);
  const waiting: number[] = [];
  const path: { node: number; next: number[]; at: number }[] = [];
  let clock = 0;
  let count = 0;
  const enter = (node: number) => {
    found[node] = lowest[node] = clock++;
    waiting.push(node);
    const next: number[] = [];
    eachNext(node, (other) => next.push(other));
    path.push({ node, next, at: 0 });
  };
  for (let root = 0; root < nodes; root++) {
    if (found[root] !== -1) continue;
    enter(root);
    for (let top = path.at(-1); top; top = path.at(-1)) {
      const { node } = top;
      if (top.at < top.next.length) {
        const next = top.next[top.at++]!;
        if (found[next] === -1) enter(next);
        else if (component[next] === -1) lowest[node] = Math.min(lowest[node]!, found[next]!);
        continue;
      }
      path.pop();
      const before = path.at(-1);
      if (before) lowest[before.node] = Math.min(lowest[before.node]!, lowest[node]!);
      if (lowest[node] !== found[node]) continue;
      for (let member = waiting.pop()!; ; member = waiting.pop()!) {
        component[member] = count;
        if (member === node) break;
      }
      count++;
    }
  }
  return { component, count };
}
