/** The report of a check run (docs/flow-format.md, section 8). */
import type { Id } from '../document/types.ts';
import type { Draw } from '../play/turn.ts';

export type Outcome = 'holds' | 'fails' | 'open' | 'unreached';
export type Severity = 'error' | 'warning' | 'information';

/** One event of a route, with the draws made while it was handled. */
export type Step = (
  | { press: string }
  | { touch: Id }
  | { collect: Id }
  | { defeat: Id }
  | { choose: Id; rule?: Id }
  | { time: true }
  | { start: true }
) & {
  draws?: Draw[];
};

/** One reason of a failing verdict, with the rule or the places it speaks of. */
export interface Reason {
  text: string;
  rule?: Id;
  places?: Id[];
}

export interface Verdict {
  check: CheckName;
  subject: string;
  outcome: Outcome;
  severity: Severity;
  accepted?: string;
  message: string;
  why?: Reason[];
  route?: Step[];
  /** The number of events of the route: a first step `start` is not counted. */
  length?: number;
  variables?: Id[];
  /** JSON pointer into the document to what the verdict is about. */
  pointer?: string;
  /** For `condition`: where in the text, counted from 1. */
  column?: number;
}

export interface Report {
  format: 'crow-lane-report';
  version: 1;
  flow: string;
  /** How many states of play were looked at. */
  states: number;
  /** Nothing was cut by a limit. */
  complete: boolean;
  checks: Verdict[];
}

export type CheckName = 'place-reached' | 'level-completable' | 'ending-in-reach' | 'never-stranded' | 'reference' | 'condition';

export const severities: Record<CheckName, Severity> = {
  'place-reached': 'error',
  'level-completable': 'error',
  'ending-in-reach': 'error',
  'never-stranded': 'error',
  reference: 'error',
  condition: 'error'
};
