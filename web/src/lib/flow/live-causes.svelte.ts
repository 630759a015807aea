/** The causes of the open flow's findings: worked out a moment after each check, and tried within a budget. */
import { toldFindings } from '@crow-lane/core/causes/causes';
import { withoutRoute } from '@crow-lane/core/check/verdict';
import type { Change } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { repairsOf } from '@crow-lane/core/repair/repairs';
import { decides, verdictKey, type Report, type Verdict } from '@crow-lane/core/report/report';
import type { Budget, CausesAnswer, CausesRequest, ToldCause } from './causes.worker.ts';

/** What explains other findings, or stands for itself. */
export interface ShownCause {
  verdict: Verdict;
  follows: Verdict[];
  fix: ToldCause['fix'];
}

/** A flow of more states than this is large: its worker is not kept for the next one. */
const large = 200_000;

/** What trying may cost where nothing shows what comes of it, where something does, and where all is asked for. */
const budgets: Record<'few' | 'many' | 'all', Budget> = {
  few: { states: 250_000, time: 10_000 },
  many: { states: 1_500_000, time: 60_000 },
  all: { states: Infinity, time: Infinity }
};

export class LiveCauses {
  trying = $state(false);
  private told: ToldCause[] = $state.raw([]);
  private report: Report | undefined = $state.raw(undefined);
  private document: FlowDocument | undefined;
  private worker: Worker | undefined;
  private soon: ReturnType<typeof setTimeout> | undefined;
  private id = 0;
  /** How many parts of the page show what comes of trying. */
  private shows = 0;

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
    this.giveUp();
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
    this.more(budgets.all);
  }

  /** More is tried as long as something shows what comes of it; gives what says that it no longer does. */
  show(): () => void {
    if (this.shows++ === 0 && (this.trying || this.untried)) this.more(budgets.many);
    return () => void this.shows--;
  }

  private more(most: Budget): void {
    if (!this.worker || !this.report) return;
    this.trying = true;
    this.ask({ id: this.id, ask: 'more', most });
  }

  private start(document: FlowDocument, report: Report): void {
    this.trying = true;
    this.worker ??= this.newWorker();
    const failing = report.checks.filter(({ outcome }) => outcome === 'fails').map(withoutRoute);
    const most = this.shows > 0 ? budgets.many : budgets.few;
    this.ask({ id: ++this.id, ask: 'causes', document, report: { ...report, checks: failing, arrivals: {} }, most });
  }

  private newWorker(): Worker {
    const worker = new Worker(new URL('./causes.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data: { id, causes, trying } }: MessageEvent<CausesAnswer>) => {
      if (id !== this.id) return;
      this.told = causes;
      this.trying = trying;
      // what it holds of a large flow is given back
      if (!trying && (this.report?.states ?? 0) > large && causes.every(({ fix }) => fix !== undefined)) this.stop();
    };
    worker.onerror = () => this.stop();
    return worker;
  }

  private ask(request: CausesRequest): void {
    this.worker?.postMessage(request);
  }

  private giveUp(): void {
    clearTimeout(this.soon);
    if (this.trying) this.ask({ id: this.id, ask: 'nothing' });
    this.id++;
    this.trying = false;
  }

  stop(): void {
    this.giveUp();
    this.worker?.terminate();
    this.worker = undefined;
  }
}
