import { Numbers } from './numbers.ts';

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
  const waiting = new Numbers();
  /** The nodes of the path, and of each how far what it leads to, which lies on one pile, has been gone through. */
  const path = new Numbers();
  const pile = new Numbers();
  const bottoms = new Numbers();
  let clock = 0;
  let count = 0;
  const visit = (next: number) => pile.push(next);
  const enter = (node: number) => {
    found[node] = lowest[node] = clock++;
    waiting.push(node);
    path.push(node);
    bottoms.push(pile.length);
    eachNext(node, visit);
  };
  for (let root = 0; root < nodes; root++) {
    if (found[root] !== -1) continue;
    enter(root);
    while (path.length > 0) {
      const node = path.at(path.length - 1);
      if (pile.length > bottoms.at(bottoms.length - 1)) {
        const next = pile.pop();
        if (found[next] === -1) enter(next);
        else if (component[next] === -1) lowest[node] = Math.min(lowest[node]!, found[next]!);
        continue;
      }
      path.pop();
      bottoms.pop();
      if (path.length > 0) {
        const before = path.at(path.length - 1);
        lowest[before] = Math.min(lowest[before]!, lowest[node]!);
      }
      if (lowest[node] !== found[node]) continue;
      for (let member = waiting.pop(); ; member = waiting.pop()) {
        component[member] = count;
        if (member === node) break;
      }
      count++;
    }
  }
  return { component, count };
}
