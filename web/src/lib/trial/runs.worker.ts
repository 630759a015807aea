/** Plays recorded runs again, and random games, off the page's thread. */
import { finish } from '@crow-lane/core/check/check';
import type { FlowDocument, Id } from '@crow-lane/core/document/types';
import { replayRun, uncovered, type Replayed, type Uncovered } from '@crow-lane/core/trial/runs';
import { walk, type Walks } from '@crow-lane/core/trial/walks';

export type Task = { id: number; document: FlowDocument } & (
  { ask: 'runs' } | { ask: 'walks'; games: number; most: number; seed: number }
);
export type Done = { id: number; failed?: string } & { runs?: Record<Id, Replayed>; unused?: Uncovered; walks?: Walks };

self.onmessage = ({ data }: MessageEvent<Task>) => {
  const { id, document } = data;
  try {
    if (data.ask === 'walks')
      self.postMessage({ id, walks: finish(walk(document, data.games, data.most, data.seed)) } satisfies Done);
    else {
      const runs = Object.fromEntries(Object.entries(document.runs).map(([run, value]) => [run, replayRun(document, value)]));
      self.postMessage({ id, runs, unused: uncovered(document) } satisfies Done);
    }
  } catch (error) {
    self.postMessage({ id, failed: (error as Error).message } satisfies Done);
  }
};
