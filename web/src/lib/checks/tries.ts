import type { VerdictChange } from '@crow-lane/core/report/compare';
import type { Patch } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { Asker } from '$lib/parts/asker.ts';
import type { Answer, Question } from './tries.worker.ts';

/** Tries changes without making them: what the verdicts would be. */
export class Tries {
  private readonly asker = new Asker<Question, Answer>(
    () => new Worker(new URL('./tries.worker.ts', import.meta.url), { type: 'module' })
  );
  private count = 0;
  private of: FlowDocument | undefined;

  /** Which verdicts would change with a patch; undefined when it was not tried to the end. */
  async patch(document: FlowDocument, patch: Patch): Promise<VerdictChange[] | undefined> {
    if (this.of !== document) {
      this.of = document;
      this.count++;
    }
    return (await this.asker.ask({ ask: 'patch', base: String(this.count), document, patch } as Question))?.changes;
  }

  /** Which verdicts are different between two documents. */
  async between(before: FlowDocument, after: FlowDocument): Promise<VerdictChange[] | undefined> {
    return (await this.asker.ask({ ask: 'between', before, after } as Question))?.changes;
  }

  stop(): void {
    this.asker.stop();
  }
}
