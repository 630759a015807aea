/** The verdicts on the open flow: checked again after every edit, the last ones kept on screen until the new are there. */
import { findings, placeMarks, type Mark } from '@crow-lane/core/report/answers';
import { decides, type Report, type Verdict } from '@crow-lane/core/report/report';
import type { FlowDocument, Id, Step } from '@crow-lane/core/document/types';
import type { CheckAnswer, CheckRequest } from './check.worker.ts';

export class LiveChecks {
  report: Report | undefined = $state.raw(undefined);
  /** The document that the report is about. */
  of: FlowDocument | undefined = $state.raw(undefined);
  /** By place how it does as a whole. */
  readonly marks: Map<Id, Mark> = $derived(this.report && this.of ? placeMarks(this.of, this.report) : new Map());
  renewing = $state(false);
  /** States looked at so far, once a check takes long enough to be noticed. */
  states = $state(0);
  failed: string | undefined = $state(undefined);

  /** Of the check that the report is of; 0 before there was one here. */
  private reported = 0;
  private waiting: { check: string; subject: string; give: (route: Step[]) => void }[] = [];
  private readonly renewed: (() => void)[] = [];
  private worker: Worker | undefined;
  private soon: ReturnType<typeof setTimeout> | undefined;
  private id = 0;
  private document: FlowDocument | undefined;

  /** Checks a document; an older check that is still running is given up. */
  check(document: FlowDocument): void {
    this.worker ??= this.start();
    this.document = document;
    this.renewing = true;
    this.failed = undefined;
    const id = ++this.id;
    // to copy a large document takes a while: not in the moment in which it is changed
    clearTimeout(this.soon);
    this.soon = setTimeout(() => this.worker?.postMessage({ id, document } satisfies CheckRequest));
  }

  /** Shows what was found of a document earlier, until its check here has ended. */
  show(document: FlowDocument, report: Report): void {
    this.report = report;
    this.of = document;
  }

  /** Resolves when the check that goes on now has ended. */
  whenRenewed(): Promise<void> {
    return this.renewing ? new Promise((give) => this.renewed.push(give)) : Promise.resolve();
  }

  /** The steps of a verdict's route; none where the check has been renewed meanwhile. */
  routeOf({ check, subject, route }: Verdict): Promise<Step[]> {
    if (route) return Promise.resolve(route);
    return new Promise((give) => {
      this.waiting.push({ check, subject, give });
      if (this.reported > 0) this.askRoute(check, subject);
    });
  }

  private askRoute(check: string, subject: string): void {
    this.worker?.postMessage({ id: this.reported, check, subject } satisfies CheckRequest);
  }

  private start(): Worker {
    const worker = new Worker(new URL('./check.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<CheckAnswer>) => {
      if ('route' in data) {
        const asked = this.waiting.findIndex(({ check, subject }) => check === data.check && subject === data.subject);
        if (asked >= 0) this.waiting.splice(asked, 1)[0]!.give(data.route);
        return;
      }
      if (data.id !== this.id) return;
      if ('progress' in data) {
        this.states = data.progress.states;
        return;
      }
      this.renewing = false;
      this.states = 0;
      if ('failed' in data) this.failed = data.failed;
      else {
        const first = this.reported === 0;
        this.reported = data.id;
        this.report = data.report;
        this.of = this.document;
        // what was asked of an earlier report, before there was one of here
        if (first) for (const { check, subject } of this.waiting) this.askRoute(check, subject);
      }
      this.tellRenewed();
    };
    worker.onerror = (event) => {
      this.renewing = false;
      this.failed = event.message || 'The check could not be run.';
      this.tellRenewed();
    };
    return worker;
  }

  private tellRenewed(): void {
    for (const give of this.renewed.splice(0)) give();
  }

  stop(): void {
    clearTimeout(this.soon);
    this.worker?.terminate();
    this.worker = undefined;
  }
}

/** The failing errors and warnings that nobody has accepted, errors first. */
export function failures(report: Report | undefined): Verdict[] {
  return report ? findings(report).filter(decides) : [];
}

/** What is only worth knowing. */
export function remarks(report: Report | undefined): Verdict[] {
  return report ? findings(report).filter(({ severity, accepted }) => severity === 'information' && accepted === undefined) : [];
}
