/** The verdicts on the open flow: checked again after every edit, the last ones kept on screen until the new are there. */
import { findings, type Mark } from '@crow-lane/core/check/answers';
import { decides, type Report, type Step, type Verdict } from '@crow-lane/core/check/report';
import { levelsOf, type FlowDocument } from '@crow-lane/core/document/types';
import type { Summary } from '../summary.ts';
import type { CheckAnswer, CheckRequest } from './check.worker.ts';

export class LiveChecks {
  report: Report | undefined = $state.raw(undefined);
  /** By place how it does as a whole. */
  readonly marks = $derived(marksOf(this.report));
  /** The document that the report is about. */
  of: FlowDocument | undefined = $state.raw(undefined);
  renewing = $state(false);
  /** States looked at so far, once a check takes long enough to be noticed. */
  states = $state(0);
  failed: string | undefined = $state(undefined);

  /** Of the check that the report is of. */
  private reported = 0;
  private waiting: { check: string; subject: string; give: (route: Step[]) => void }[] = [];
  private worker: Worker | undefined;
  private id = 0;
  private document: FlowDocument | undefined;

  /** Checks a document; an older check that is still running is given up. */
  check(document: FlowDocument): void {
    this.worker ??= this.start();
    this.document = document;
    this.renewing = true;
    this.failed = undefined;
    this.worker.postMessage({ id: ++this.id, document } satisfies CheckRequest);
  }

  /** The steps of a verdict's route; none where the check has been renewed meanwhile. */
  routeOf({ check, subject }: Verdict): Promise<Step[]> {
    return new Promise((give) => {
      this.waiting.push({ check, subject, give });
      this.worker?.postMessage({ id: this.reported, check, subject } satisfies CheckRequest);
    });
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
        this.reported = data.id;
        this.report = data.report;
        this.of = this.document;
      }
    };
    worker.onerror = (event) => {
      this.renewing = false;
      this.failed = event.message || 'The check could not be run.';
    };
    return worker;
  }

  stop(): void {
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

export function summaryOf(document: FlowDocument, report: Report): Summary {
  const count = (check: string, outcome: string) =>
    report.checks.filter((each) => each.check === check && each.outcome === outcome).length;
  return {
    complete: report.complete,
    levels: levelsOf(document).length,
    completable: count('level-completable', 'holds'),
    places: Object.keys(document.places).length,
    reached: count('place-reached', 'holds'),
    failing: failures(report).length,
    open: report.checks.filter(({ outcome }) => outcome === 'open').length
  };
}

/** By place how it does. */
export function marksOf(report: Report | undefined): Map<string, Mark> {
  const marks = new Map<string, Mark>();
  const worst: Mark[] = ['fails', 'open', 'unreached', 'holds'];
  for (const { check, subject, outcome, accepted } of report?.checks ?? []) {
    if (accepted !== undefined || (check !== 'place-reached' && check !== 'level-completable')) continue;
    const known = marks.get(subject);
    if (known === undefined || worst.indexOf(outcome) < worst.indexOf(known)) marks.set(subject, outcome);
  }
  return marks;
}
