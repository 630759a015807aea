/** Questions about arrivals that the checks leave open: how the player comes to one, and which there are one by one. */
import { own, type FlowDocument, type Id, type Step } from '../document/types.ts';
import { prepare } from '../play/flow.ts';
import type { Value } from '../language/evaluate.ts';
import type { Watched } from '../explore/packed/evidence.ts';
import { explorePacked, usualBytes } from '../explore/packed/explore.ts';
import { needsOf } from '../explore/packed/needs.ts';
import { checking, type CheckOptions } from './check.ts';
import { usualLimit } from './explored.ts';
import type { Progress } from '../explore/facts.ts';

/**
 * A shortest route to an arrival at a place on which a condition holds; undefined when there is none, or when the
 * exploration was cut before one was found. It is what an expectation of the opposite would show.
 */
export function* routeToArrival(
  document: FlowDocument,
  place: Id,
  condition: string,
  options: CheckOptions = {}
): Generator<Progress, Step[] | undefined> {
  const asked = document.places[place]!;
  const expects = [...asked.expects, `not (${condition})`];
  const places = { ...document.places, [place]: { ...asked, expects } };
  const report = yield* checking({ ...document, places }, options);
  return report.checks.find(({ check, subject }) => check === 'expectation' && subject === `${place}/${expects.length - 1}`)
    ?.route;
}

/** Values with which players really arrive at a place, all together, and a shortest route to it. */
export interface ArrivalSet {
  values: Record<Id, Value>;
  route: Step[];
}

/**
 * The different series of values with which a place is entered and settled, nearest first, at most `most`; `complete`
 * says whether these are all.
 */
export function* arrivalSets(
  document: FlowDocument,
  place: Id,
  most: number,
  { limit = usualLimit, bytes = usualBytes }: CheckOptions = {}
): Generator<Progress, { sets: ArrivalSet[]; complete: boolean }> {
  if (!own(document.places, document.start)) return { sets: [], complete: true };
  const flow = prepare(document);
  const watched: Watched = { place, most: most + 1, found: new Map() };
  // values that no condition tells apart are different to who plays on from them
  const facts = yield* explorePacked(flow, limit, bytes, { needs: { ...needsOf(flow), merged: new Map() }, watched });
  const ids = Object.keys(document.variables);
  const sets = [...watched.found.values()].slice(0, most).map(({ values, arrow }) => ({
    values: Object.fromEntries(ids.map((id, index) => [id, valueTold(document, id, values[index]!)])),
    route: facts.routeTo(arrow!)
  }));
  return { sets, complete: facts.complete && watched.found.size <= most };
}

/** A value as the packed states have it: flags are 0 or 1, choices the number of theirs. */
function valueTold(document: FlowDocument, id: Id, value: number): Value {
  const variable = document.variables[id]!;
  return variable.type === 'number' ? value : variable.type === 'flag' ? value === 1 : variable.choices[value]!;
}
