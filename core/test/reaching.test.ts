/** The backward questions on random graphs, against following every edge by hand. */
import { expect } from 'chai';
import fc from 'fast-check';
import { by, can, goes, goesBy, mark, reaching, type Asked, type Facts } from '../src/explore/facts.ts';
import { seed } from './support/compare.ts';

/**
 * As much of an exploration as the question needs. States that were `found` first from others stand side by side: so many
 * from each that was looked at, from a number on.
 */
function graph(
  count: number,
  looked: number,
  pairs: [from: number, to: number, how: number][],
  found: { first: number; each: number[]; how: number[] } = { first: count, each: [], how: [] }
): Facts {
  const lists = Array.from({ length: looked }, () => [] as number[]);
  for (const [from, to, how] of pairs) if (from < looked) lists[from]!.push(to * 8 + how);
  const edgeStarts = [0];
  for (const list of lists) edgeStarts.push(edgeStarts.at(-1)! + list.length);
  const children = [found.first];
  for (let from = 0; from < looked; from++) children.push(Math.min(children.at(-1)! + (found.each[from] ?? 0), count));
  return {
    count,
    looked,
    children: Int32Array.from(children),
    marks: Uint8Array.from({ length: count }, (_, state) => mark.by * (found.how[state] ?? 0)),
    edges: Int32Array.from(lists.flat()),
    edgeStarts: Int32Array.from(edgeStarts)
  } as Facts;
}

/** Whether something can happen on the way from a state, as it can from each that was not looked at. */
function meets(
  { looked, children, marks, edges, edgeStarts }: Facts,
  start: number,
  goals: Uint8Array,
  bit: number,
  asked: Omit<Asked, 'all'>
): boolean {
  const goesOn = (how: number) =>
    (how & by.within || !(asked.within & bit)) &&
    (!(how & by.run) || !(asked.run & bit)) &&
    (!(how & by.all) || !(asked.erased & bit));
  const seen = new Set([start]);
  for (const state of seen) {
    if (state >= looked || (goals[state]! & bit) !== 0) return true;
    for (const edge of edges.slice(edgeStarts[state], edgeStarts[state + 1])) if (goesOn(goesBy(edge))) seen.add(goes(edge));
    for (let child = children[state]!; child < children[state + 1]!; child++)
      if (goesOn(marks[child]! / mark.by)) seen.add(child);
  }
  return false;
}

describe('what can still happen', () => {
  it('is what can on some way', () => {
    const random = fc.integer({ min: 1, max: 40 }).chain((count) =>
      fc.record({
        count: fc.constant(count),
        looked: fc.integer({ min: 0, max: count }),
        pairs: fc.array(fc.tuple(fc.nat(count - 1), fc.nat(count - 1), fc.nat(7)), { maxLength: 90 }),
        first: fc.nat(count),
        each: fc.array(fc.nat(3), { maxLength: 40 }),
        how: fc.array(fc.nat(7), { maxLength: 40 }),
        goals: fc.array(fc.tuple(fc.nat(count - 1), fc.nat(31)), { maxLength: 4 })
      })
    );
    fc.assert(
      fc.property(random, ({ count, looked, pairs, goals, ...found }) => {
        const facts = graph(count, looked, pairs, found);
        const now = new Uint8Array(count);
        for (const [state, bits] of goals) now[state]! |= bits;
        const others = { within: 0b00011, run: 0b00110, erased: 0b01100 };
        for (const [reached, asked] of [
          [reaching(facts, now), { within: can.complete | can.leave, run: 0, erased: 0 }] as const,
          [reaching(facts, now, { ...others, all: 31 }), others] as const
        ])
          for (const bit of Object.values(can)) {
            const expected = Array.from({ length: count }, (_, state) => meets(facts, state, now, bit, asked));
            expect(Array.from(reached, (bits) => (bits & bit) !== 0)).to.deep.equal(expected);
          }
      }),
      { numRuns: 500, seed }
    );
  });

  it('is found along a chain against the order of the states, with what leads nowhere left out', () => {
    const count = 500;
    const chain = Array.from({ length: count - 1 }, (_, n): [number, number, number] => [n + 1, n, n === 250 ? 0 : by.within]);
    const facts = graph(count + 2, count + 2, [...chain, [count, count + 1, by.within], [count + 1, count, by.within]]);
    const goals = new Uint8Array(count + 2);
    goals[0] = can.end | can.leave;
    const reached = reaching(facts, goals);
    const [ends, leaves] = [can.end, can.leave].map((bit) => reached.findIndex((bits) => (bits & bit) === 0));
    expect([ends, leaves]).to.deep.equal([count, 251]);
    expect([...reached.subarray(count)]).to.deep.equal([0, 0]);
  });
});
