/** The backward questions on random graphs, against following every edge by hand. */
import { expect } from 'chai';
import fc from 'fast-check';
import { can, mark, reaching, type Facts } from '../src/explore/facts.ts';

/**
 * As much of an exploration as the question needs. States that were `found` first from others stand side by side: so many
 * from each that was looked at, from a number on.
 */
function graph(
  count: number,
  looked: number,
  pairs: [from: number, to: number, within: boolean][],
  found: { first: number; each: number[]; within: boolean[] } = { first: count, each: [], within: [] }
): Facts {
  const lists = Array.from({ length: looked }, () => [] as number[]);
  for (const [from, to, within] of pairs) if (from < looked) lists[from]!.push(to * 2 + Number(within));
  const edgeStarts = [0];
  for (const list of lists) edgeStarts.push(edgeStarts.at(-1)! + list.length);
  const children = [found.first];
  for (let from = 0; from < looked; from++) children.push(Math.min(children.at(-1)! + (found.each[from] ?? 0), count));
  return {
    count,
    looked,
    children: Int32Array.from(children),
    marks: Uint8Array.from({ length: count }, (_, state) => (found.within[state] ? mark.within : 0)),
    edges: Int32Array.from(lists.flat()),
    edgeStarts: Int32Array.from(edgeStarts)
  } as Facts;
}

/** Whether something can happen on the way from a state, as it can from each that was not looked at. */
function meets({ looked, children, marks, edges, edgeStarts }: Facts, start: number, goals: Uint8Array, bit: number): boolean {
  const within = bit === can.complete || bit === can.leave;
  const seen = new Set([start]);
  for (const state of seen) {
    if (state >= looked || (goals[state]! & bit) !== 0) return true;
    for (const edge of edges.slice(edgeStarts[state], edgeStarts[state + 1])) if (!within || edge % 2 === 1) seen.add(edge >> 1);
    for (let child = children[state]!; child < children[state + 1]!; child++) {
      if (!within || marks[child] === mark.within) seen.add(child);
    }
  }
  return false;
}

describe('what can still happen', () => {
  it('is what can on some way', () => {
    const random = fc.integer({ min: 1, max: 40 }).chain((count) =>
      fc.record({
        count: fc.constant(count),
        looked: fc.integer({ min: 0, max: count }),
        pairs: fc.array(fc.tuple(fc.nat(count - 1), fc.nat(count - 1), fc.boolean()), { maxLength: 90 }),
        first: fc.nat(count),
        each: fc.array(fc.nat(3), { maxLength: 40 }),
        within: fc.array(fc.boolean(), { maxLength: 40 }),
        goals: fc.array(fc.tuple(fc.nat(count - 1), fc.nat(31)), { maxLength: 4 })
      })
    );
    fc.assert(
      fc.property(random, ({ count, looked, pairs, goals, ...found }) => {
        const facts = graph(count, looked, pairs, found);
        const now = new Uint8Array(count);
        for (const [state, bits] of goals) now[state]! |= bits;
        const reached = reaching(facts, now);
        for (const bit of Object.values(can)) {
          const expected = Array.from({ length: count }, (_, state) => meets(facts, state, now, bit));
          expect(Array.from(reached, (bits) => (bits & bit) !== 0)).to.deep.equal(expected);
        }
      }),
      { numRuns: 500 }
    );
  });

  it('is found along a chain against the order of the states, with what leads nowhere left out', () => {
    const count = 500;
    const chain = Array.from({ length: count - 1 }, (_, n): [number, number, boolean] => [n + 1, n, n !== 250]);
    const facts = graph(count + 2, count + 2, [...chain, [count, count + 1, true], [count + 1, count, true]]);
    const goals = new Uint8Array(count + 2);
    goals[0] = can.end | can.leave;
    const reached = reaching(facts, goals);
    const [ends, leaves] = [can.end, can.leave].map((bit) => reached.findIndex((bits) => (bits & bit) === 0));
    expect([ends, leaves]).to.deep.equal([count, 251]);
    expect([...reached.subarray(count)]).to.deep.equal([0, 0]);
  });
});
