/** Plays recorded runs again, finds runs and arrivals, and plays random games: off the page's thread. */
import { finish } from '@crow-lane/core/check/check';
import type { FlowDocument, Id, Step } from '@crow-lane/core/document/types';
import { arrivedAt, type Arrived } from '@crow-lane/core/trial/beginnings';
import { routeToUse, uncovered, type Coverage, type RunUse } from '@crow-lane/core/trial/coverage';
import { textsShown, type ShownCase } from '@crow-lane/core/trial/messages';
import { runTimes } from '@crow-lane/core/trial/run-times';
import { replayRun, type Replayed } from '@crow-lane/core/trial/runs';
import { walk, type Walks, type Weights } from '@crow-lane/core/trial/walks';

export type Task = { id: number; document: FlowDocument } & (
  | { ask: 'runs' }
  | { ask: 'times' }
  | { ask: 'use'; use: RunUse }
  | { ask: 'arrivals'; place: Id; most: number }
  | { ask: 'messages'; place: Id }
  | { ask: 'walks'; games: number; most: number; seed: number; weights: Weights }
);
export type Done = { id: number; failed?: string } & {
  runs?: Record<Id, Replayed>;
  unused?: Coverage;
  times?: Record<Id, number>;
  route?: Step[];
  arrived?: { arrivals: Arrived[]; complete: boolean };
  walks?: Walks;
  messages?: ShownCase[];
};

function answer(task: Task): Omit<Done, 'id'> {
  const { document } = task;
  switch (task.ask) {
    case 'walks':
      return { walks: finish(walk(document, task.games, task.most, task.seed, task.weights)) };
    case 'use':
      return { route: finish(routeToUse(document, task.use)) };
    case 'arrivals':
      return { arrived: finish(arrivedAt(document, task.place, task.most)) };
    case 'messages':
      return { messages: finish(textsShown(document, task.place)) };
    case 'times':
      return { times: runTimes(document) };
    case 'runs': {
      const runs = Object.entries(document.runs).map(([run, value]) => [run, replayRun(document, value)] as const);
      return { runs: Object.fromEntries(runs), unused: uncovered(document) };
    }
  }
}

self.onmessage = ({ data }: MessageEvent<Task>) => {
  const { id } = data;
  try {
    self.postMessage({ id, ...answer(data) } satisfies Done);
  } catch (error) {
    self.postMessage({ id, failed: (error as Error).message } satisfies Done);
  }
};
