/** Questions about arrivals that are asked now and then: off the page's thread, each run to its end. */
import { routeToArrival } from '@crow-lane/core/check/arrivals';
import { finish } from '@crow-lane/core/check/check';
import { firstGameArrivals } from '@crow-lane/core/check/first-game';
import type { Report } from '@crow-lane/core/report/report';
import type { FlowDocument, Id, Step } from '@crow-lane/core/document/types';

export type Question = { id: number; document: FlowDocument } & (
  { ask: 'first' } | { ask: 'route'; place: Id; condition: string }
);
export type Answer = { id: number; arrivals?: Report['arrivals']; route?: Step[]; failed?: string };

self.onmessage = ({ data }: MessageEvent<Question>) => {
  const { id, document } = data;
  try {
    if (data.ask === 'first') self.postMessage({ id, arrivals: finish(firstGameArrivals(document)) } satisfies Answer);
    else self.postMessage({ id, route: finish(routeToArrival(document, data.place, data.condition)) } satisfies Answer);
  } catch (error) {
    self.postMessage({ id, failed: (error as Error).message } satisfies Answer);
  }
};
