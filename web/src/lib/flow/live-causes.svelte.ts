/** The causes of the open flow's findings: worked out a moment after each check, and tried within a budget. */
import { toldFindings } from '@crow-lane/core/causes/causes';
import { withoutRoute } from '@crow-lane/core/check/verdict';
import type { Change } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { repairsOf } from '@crow-lane/core/repair/repairs';
import { decides, verdictKey, type Report, type Verdict } from '@crow-lane/core/report/report';
import type { CausesAnswer, CausesRequest, ToldCause } from './causes.worker.ts';

/** What explains other findings, or stands for itself. */
export interface ShownCause {
  verdict: Verdict;
  follows: Verdict[];
  fix: ToldCause['fix'];
}

export class LiveCauses {
  trying = $state(false);
  private told: ToldCause[] = $state.raw([]);
  private report: Report | undefined = $state.raw(undefined);
  private document: FlowDocument | undefined;
  private worker: Worker | undefined;
  private soon: ReturnType<typeof setTimeout> | undefined;

  /** In the order of the list; as long as nothing is known each finding stands for itself. */
  readonly causes: ShownCause[] = $derived.by(() => {
    if (!this.report) return [];
    const findings = new Map(toldFindings(this.report).map((verdict) => [verdictKey(verdict), verdict]));
    const causes: ShownCause[] = [];
    for (const { key, follows, fix } of this.told) {
      const verdict = findings.get(key);
      if (!verdict) continue;
      causes.push({ verdict, follows: follows.flatMap((each) => findings.get(each) ?? []), fix });
    }
    return causes.length > 0 ? causes : [...findings.values()].map((verdict) => ({ verdict, follows: [], fix: undefined }));
  });

  /** Whether some cause that is no note has not been tried yet. */
  readonly untried = $derived(this.causes.some(({ verdict, fix }) => fix === undefined && decides(verdict)));

  /** What a report says of a document; what is under way about an older one is given up. */
  look(document: FlowDocument, report: Report): void {
    this.stop();
    this.document = document;
    this.report = report;
    if (toldFindings(report).length === 0) this.told = [];
    else this.soon = setTimeout(() => this.start(document, report), 300);
  }

  /** The best fix of a cause, as a change of the document that was checked; undefined for another one. */
  fixOf(document: FlowDocument, { verdict, fix }: Pick<ShownCause, 'verdict' | 'fix'>): Change | undefined {
    if (!fix || document !== this.document) return undefined;
    return repairsOf(document, verdict).find(({ label }) => label === fix.label);
  }

  /** Tries what the budget has left out. */
  goOn(): void {
    this.trying = true;
    this.worker?.postMessage({ goOn: true } satisfies CausesRequest);
  }

  private start(document: FlowDocument, report: Report): void {
    this.trying = true;
    this.worker = new Worker(new URL('./causes.worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<CausesAnswer>) => {
      this.told = data.causes;
      this.trying = data.trying;
      if (!data.trying && data.causes.every(({ fix }) => fix !== undefined)) this.stop();
    };
    this.worker.onerror = () => this.stop();
    const failing = report.checks.filter(({ outcome }) => outcome === 'fails').map(withoutRoute);
    this.worker.postMessage({ document, report: { ...report, checks: failing, arrivals: {} } } satisfies CausesRequest);
  }

  stop(): void {
    clearTimeout(this.soon);
    this.worker?.terminate();
    this.worker = undefined;
    this.trying = false;
  }
}
