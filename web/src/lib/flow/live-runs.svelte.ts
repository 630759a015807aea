/** The recorded runs of the open flow: played again after every edit, and what none of them uses. */
import type { FlowDocument, Id, Step } from '@crow-lane/core/document/types';
import type { Arrived } from '@crow-lane/core/trial/beginnings';
import type { Coverage, RunUse } from '@crow-lane/core/trial/coverage';
import type { ShownCase } from '@crow-lane/core/trial/messages';
import type { Replayed } from '@crow-lane/core/trial/runs';
import type { Walks, Weights } from '@crow-lane/core/trial/walks';
import { Asker } from '$lib/parts/asker.ts';
import type { Done, Task } from './runs.worker.ts';

const newWorker = () => new Worker(new URL('./runs.worker.ts', import.meta.url), { type: 'module' });

export class LiveRuns {
  results: Record<Id, Replayed> = $state.raw({});
  unused: Coverage | undefined = $state.raw(undefined);
  /** The document that the results are about. */
  of: FlowDocument | undefined = $state.raw(undefined);
  /** The lane marks what no run uses. */
  marked = $state(false);

  private readonly replays = new Asker<Task, Done>(newWorker);
  /** What takes its time has a worker of its own: runs are played again meanwhile. */
  private readonly questions = new Asker<Task, Done>(newWorker);
  private later: ReturnType<typeof setTimeout> | undefined;
  private wanted: FlowDocument | undefined;

  /** Plays the runs of a document a moment after the last edit. */
  play(document: FlowDocument): void {
    clearTimeout(this.later);
    this.wanted = document;
    this.later = setTimeout(async () => {
      const done = await this.replays.ask({ ask: 'runs', document } as Task);
      if (!done?.runs || this.wanted !== document) return;
      this.results = done.runs;
      this.unused = done.unused;
      this.of = document;
    }, 150);
  }

  /** How many runs go another way now and are not known to show a bug. */
  get differing(): number {
    return Object.entries(this.results).filter(
      ([id, { goes }]) => goes !== 'as recorded' && this.of?.runs[id] && this.of.runs[id].bug === undefined
    ).length;
  }

  /** A shortest route that uses something. */
  async routeTo(document: FlowDocument, use: RunUse): Promise<Step[] | undefined> {
    return (await this.questions.ask({ ask: 'use', document, use } as Task))?.route;
  }

  /** With which values, all together, a place is really entered. */
  async arrivals(
    document: FlowDocument,
    place: Id,
    most: number
  ): Promise<{ arrivals: Arrived[]; complete: boolean } | undefined> {
    return (await this.questions.ask({ ask: 'arrivals', document, place, most } as Task))?.arrived;
  }

  /** What players read on arriving at a place, by its texts. */
  async messages(document: FlowDocument, place: Id): Promise<ShownCase[] | undefined> {
    return (await this.questions.ask({ ask: 'messages', document, place } as Task))?.messages;
  }

  /** By level with a plan the seconds of the quickest recorded run that wins it. */
  async times(document: FlowDocument): Promise<Record<Id, number> | undefined> {
    return (await this.questions.ask({ ask: 'times', document } as Task))?.times;
  }

  async walks(
    document: FlowDocument,
    how: { games: number; most: number; seed: number; weights: Weights }
  ): Promise<{ walks?: Walks; failed?: string }> {
    return (await this.questions.ask({ ask: 'walks', document, ...how } as Task)) ?? {};
  }

  /** Gives up what was asked and is not wanted any more. */
  forget(): void {
    this.questions.stop();
  }

  stop(): void {
    clearTimeout(this.later);
    this.replays.stop();
    this.forget();
  }
}
