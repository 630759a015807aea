/** The backward questions on random graphs, against following every edge by hand. */
import { expect } from 'chai';
import fc from 'fast-check';
import { can, reaching, type Facts } from '../src/check/facts.ts';

/** As much of an exploration as the question needs. */
function graph(count: number, looked: number, pairs: [from: number, to: number, within: boolean][]): Facts {
  const lists = Array.from({ length: looked }, () => [] as number[]);
  for (const [from, to, within] of pairs) if (from < looked) lists[from]!.push(to * 2 + Number(within));
  const edgeStarts = [0];
  for (const list of lists) edgeStarts.push(edgeStarts.at(-1)! + list.length);
  return { count, looked, edges: Int32Array.from(lists.flat()), edgeStarts: Int32Array.from(edgeStarts) } as Facts;
}

/** Whether something can happen on the way from a state, as it can from each that was not looked at. */
function meets({ looked, edges, edgeStarts }: Facts, start: number, goals: Uint8Array, bit: number): boolean {
  const within = bit === can.complete || bit === can.leave;
  const seen = new Set([start]);
  for (const state of seen) {
    if (state >= looked || (goals[state]! & bit) !== 0) return true;
    for (const edge of edges.slice(edgeStarts[state], edgeStarts[state + 1])) if (!within || edge % 2 === 1) seen.add(edge >> 1);
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
        goals: fc.array(fc.tuple(fc.nat(count - 1), fc.nat(31)), { maxLength: 4 })
      })
    );
    fc.assert(
      fc.property(random, ({ count, looked, pairs, goals }) => {
        const facts = graph(count, looked, pairs);
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
