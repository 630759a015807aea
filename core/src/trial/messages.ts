/** What players really read on arriving at a place: each of its texts as it is shown first, or that it never is. */
import { checking, type CheckOptions } from '../check/check.ts';
import { casesOf } from '../document/messages.ts';
import { own, type FlowDocument, type Id } from '../document/types.ts';
import type { Progress } from '../explore/facts.ts';
import { messageIn } from '../play/messages.ts';
import { playSteps } from './trial.ts';

export interface ShownCase {
  /** As it stands there after a shortest route; undefined where no arrival shows it that is known. */
  text?: string;
  /** Every arrival was looked at. */
  complete: boolean;
}

/** By text of a place's message: an arrival at which it is the one that is shown. */
export function* textsShown(document: FlowDocument, place: Id, options: CheckOptions = {}): Generator<Progress, ShownCase[]> {
  const asked = own(document.places, place);
  const cases = casesOf(asked?.message);
  if (!asked || cases.length === 0) return [];
  // each is expected never to be shown: where that fails, the route is the proof
  const expects = cases.map(({ if: condition = 'true' }, index) => {
    const before = cases.slice(0, index).map((each) => `not (${each.if ?? 'true'})`);
    return `not (${[...before, `(${condition})`].join(' and ')})`;
  });
  const places = { ...document.places, [place]: { ...asked, expects } };
  const report = yield* checking({ ...document, places }, options);
  return expects.map((_, index) => {
    const found = report.checks.find(({ check, subject }) => check === 'expectation' && subject === `${place}/${index}`);
    const shown: ShownCase = { complete: found?.outcome !== 'open' && report.complete };
    if (found?.outcome !== 'fails' || !found.route) return shown;
    const { trial } = playSteps(document, found.route)!;
    return { ...shown, text: messageIn(trial.flow, trial.state) };
  });
}
