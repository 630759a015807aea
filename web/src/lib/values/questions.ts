import type { FlowDocument, Id } from '@crow-lane/core/document/types';
import { Asker } from '$lib/parts/asker.ts';
import type { Answer, Question } from './questions.worker.ts';

/** Asks about arrivals; a question about a newer document gives up the older ones. */
export class Questions {
  private readonly asker = new Asker<Question, Answer>(
    () => new Worker(new URL('./questions.worker.ts', import.meta.url), { type: 'module' })
  );

  /** What arrivals carry in the first game; undefined when that was not settled or is not asked any more. */
  async first(document: FlowDocument) {
    this.stop();
    return (await this.asker.ask({ ask: 'first', document } as Question))?.arrivals;
  }

  /** A shortest route to an arrival on which a condition holds. */
  async route(document: FlowDocument, place: Id, condition: string) {
    return (await this.asker.ask({ ask: 'route', document, place, condition } as Question))?.route;
  }

  stop(): void {
    this.asker.stop();
  }
}
