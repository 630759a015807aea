/** What two explorations must agree on, and how random documents are compared. */
import { expect } from 'chai';
import { checking, type Explorer } from '../../src/check/check.ts';
import { explore } from '../../src/check/explore.ts';
import type { Memory } from '../../src/check/memory.ts';
import { explorePacked } from '../../src/check/packed/explore.ts';
import type { Report } from '../../src/check/report.ts';
import type { FlowDocument } from '../../src/document/types.ts';

export const documents = Number(process.env.CROW_LANE_DOCUMENTS ?? 2000);
/** The same documents each time, so that a run is as long as the last; another seed, and more of them, by hand. */
export const seed = Number(process.env.CROW_LANE_SEED ?? 20261123);
export const limit = 400;

/** What two engines must agree on. */
export function essence({ checks, arrivals }: Report) {
  return {
    arrivals,
    checks: checks.map(({ check: name, subject, outcome, length, variables, why }) => ({
      verdict: `${name} ${subject} ${outcome}`,
      // of a number of which high values are one it is not known where it is clamped first
      length: name === 'value-clamped' ? undefined : length,
      variables: variables && [...variables].sort(),
      never: name === 'rule-fires' ? why?.[0]?.never : undefined
    }))
  };
}

/** A check that is given up where something is cut: with a thousand draws an event, a cut exploration takes for ever. */
export function checked(document: FlowDocument, explorer: Explorer, most: number, memory?: Memory): Report | undefined {
  const run = checking(document, { limit: most, explorer, memory });
  for (;;) {
    const { done, value } = run.next();
    if (done) return value.complete ? value : undefined;
    if (!value.complete) return undefined;
  }
}

export function compare(document: FlowDocument, most = limit): boolean {
  const plain = checked(document, explore, most);
  if (!plain) return false;
  const packed = checked(document, explorePacked, most * 50)!;
  expect(packed.states).to.be.at.most(plain.states);
  expect(essence(packed)).to.deep.equal(essence(plain));
  return true;
}

/** The same flow with each level twice: where an order lists one, its twin follows. */
export function withTwins(document: FlowDocument): FlowDocument {
  const twinned = structuredClone(document);
  for (const [id, place] of Object.entries(document.places)) {
    if (place.kind !== 'level') continue;
    const rules = place.rules.map((rule) => ({ ...rule, id: `${rule.id}_twin` }));
    twinned.places[`${id}_twin`] = { ...structuredClone(place), rules };
  }
  for (const order of Object.values(twinned.orders)) {
    const twice = (levels: string[]) => levels.flatMap((id) => (twinned.places[`${id}_twin`] ? [id, `${id}_twin`] : [id]));
    order.levels = twice(order.levels);
    if (order.draw === 'table') order.rows = order.rows.map(twice);
  }
  return twinned;
}
