/** What two explorations must agree on, and how random documents are compared. */
import { expect } from 'chai';
import { checking } from '../../src/check/check.ts';
import type { Explorer } from '../../src/check/explored.ts';
import { explore } from '../../src/explore/plain.ts';
import type { Memory } from '../../src/check/memory.ts';
import { mergedOf } from '../../src/explore/packed/merging.ts';
import { explorePacked } from '../../src/explore/packed/explore.ts';
import { withoutRoute } from '../../src/check/verdict.ts';
import { verdictKey, type Report } from '../../src/report/report.ts';
import type { FlowDocument } from '../../src/document/types.ts';
import { prepare } from '../../src/play/flow.ts';
import { randoms } from './everyday.ts';

/** How many random documents are compared: as many in each run, more in a campaign (CONTRIBUTING.md). */
export const documents = Number(process.env.CROW_LANE_DOCUMENTS ?? randoms(2000));
/** The same documents each time, so that a run is as long as the last, and finds what it found; another seed by hand. */
export const seed = Number(process.env.CROW_LANE_SEED ?? 20261123);
/** The numbers of what was looked at are known for the usual documents only. */
export const usual = documents === 2000 && !process.env.CROW_LANE_SEED;
export const limit = 400;
/** So many results of events are looked at plainly: one document with chains of draws took longer than all others. */
const mostResults = 8_000;

/** What two engines must agree on. */
export function essence({ checks, arrivals }: Report, merged: string[] = []) {
  // of a number of which high values are one it is only told between which it is in all states, not where it was read
  const read = new RegExp(`(${['-', ...merged].join('|')}): [^;)]*`, 'g');
  return {
    arrivals,
    checks: checks.map(({ check: name, subject, outcome, length, variables, why }) => ({
      verdict: `${name} ${subject} ${outcome}`,
      // of a number of which high values are one it is not known where it is clamped first
      length: name === 'value-clamped' ? undefined : length,
      variables: variables && [...variables].sort(),
      why: why?.map(({ text, never, rule, places }) => ({ text: text.replaceAll(read, '$1'), never, rule, places }))
    }))
  };
}

/** A check that is given up where something is cut: with a thousand draws an event, a cut exploration takes for ever. */
export function checked(document: FlowDocument, explorer: Explorer, most: number, memory?: Memory): Report | undefined {
  // the first game is explored by the same engine, of a document like others
  const run = checking(document, { limit: most, explorer, memory, firstGame: false });
  for (;;) {
    const { done, value } = run.next();
    if (done) return value.complete ? value : undefined;
    if (!value.complete || (value.results ?? 0) > mostResults) return undefined;
  }
}

/**
 * Whether both explorations came to their end, and then said the same. The packed one goes first: it is fast, and has no
 * more states, so that what is too large for it is not explored plainly.
 */
export function compare(document: FlowDocument, most = limit): boolean {
  const packed = checked(document, explorePacked, most);
  const plain = packed && checked(document, explore, most);
  if (!packed || !plain) return false;
  expect(packed.states).to.be.at.most(plain.states);
  const merged = [...mergedOf(prepare(document)).keys()].map((id) => document.variables[id]!.name);
  // where it is not kept where the player is there may be a shorter route, which it says
  const lengths = new Map(plain.checks.map((each) => [verdictKey(each), each.length]));
  const longer = packed.checks.map((each) => {
    const shortest = lengths.get(verdictKey(each));
    if (each.shortest !== false || shortest === undefined) return each;
    expect(each.length, verdictKey(each)).to.be.at.least(shortest);
    return { ...withoutRoute(each), length: shortest };
  });
  expect(essence({ ...packed, checks: longer }, merged)).to.deep.equal(essence(plain, merged));
  return true;
}
