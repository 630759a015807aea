/** Derives plans and says where the player gets from a cell: off the page's thread. */
import type { Cell, FlowDocument, Id, Level } from '@crow-lane/core/document/types';
import { nothingFollows, type Derived } from '@crow-lane/core/plan/derive';
import { TooMany } from '@crow-lane/core/plan/places';
import { plotOf } from '@crow-lane/core/plan/grown';
import { prepare } from '@crow-lane/core/play/flow';
import type { Passes } from '@crow-lane/core/times/crossing';
import { passesOf } from '@crow-lane/core/times/passes';
import { timesOf, type Times } from '@crow-lane/core/times/times';
import { leadingOn, reachFrom, survey, type Reach, type Survey } from '@crow-lane/core/plan/reach';

/** The document has in this level the plan that is meant; it may say nothing else that counts. */
export type PlanTask = { id: number; document: FlowDocument; level: Id } & (
  | { ask: 'derive' }
  | { ask: 'reach'; cell: Cell }
  /** Of the whole document: what wins is said by its rules. */
  | { ask: 'times' }
  | { ask: 'passes' }
);
export type PlanAnswer = {
  id: number;
  failed?: string;
  derived?: Derived;
  survey?: Survey;
  reach?: Reach;
  times?: Times;
  passes?: Passes;
  /** It is still being sought, and so many states have been looked at. */
  looked?: number;
};

/** In milliseconds: how far it has come is said no more often. */
const every = 250;

/** Runs to the end and says now and then how much has been looked at. */
function told<T>(id: number, run: Generator<number, T>): T {
  let last = performance.now();
  for (;;) {
    const { done, value } = run.next();
    if (done) return value;
    if (performance.now() - last < every) continue;
    last = performance.now();
    self.postMessage({ id, looked: value } satisfies PlanAnswer);
  }
}

self.onmessage = ({ data }: MessageEvent<PlanTask>) => {
  const { id, document, level } = data;
  try {
    if (data.ask === 'times') {
      self.postMessage({ id, times: told(id, timesOf(prepare(document), level)) } satisfies PlanAnswer);
      return;
    }
    if (data.ask === 'passes') {
      self.postMessage({ id, passes: told(id, passesOf(prepare(document), level)) } satisfies PlanAnswer);
      return;
    }
    const found = plotOf(document, document.places[level] as Level)!;
    const { automaton } = found.graph;
    if (data.ask === 'reach') {
      self.postMessage({ id, reach: reachFrom(automaton, data.cell) } satisfies PlanAnswer);
      return;
    }
    const leads = leadingOn(found.derived);
    const isBack = (from: number, to: number) => {
      const [a, b] = [found.spotAt({ cell: from }), found.spotAt({ cell: to })];
      return a === undefined || b === undefined || a === b || (leads.get(a)?.has(b) ?? false);
    };
    const seen = survey(automaton, (cell) => found.graph.isReached(cell), isBack);
    self.postMessage({ id, derived: found.derived, survey: seen } satisfies PlanAnswer);
  } catch (error) {
    if (error instanceof TooMany && data.ask === 'derive')
      self.postMessage({ id, derived: nothingFollows(error), survey: { never: [], drops: [] } } satisfies PlanAnswer);
    else self.postMessage({ id, failed: (error as Error).message } satisfies PlanAnswer);
  }
};
