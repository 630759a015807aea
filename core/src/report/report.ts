/** The report of a check run (docs/flow-format.md, section 8). */
import type { Cell, Id, Step } from '../document/types.ts';

export type VerdictOutcome = 'holds' | 'fails' | 'open' | 'unreached';
export type Severity = 'error' | 'warning' | 'information';

/** One reason of a failing verdict, with the rule or the places it speaks of. */
export interface Reason {
  text: string;
  /** Of a rule that never fires: which of the four reasons (section 6). */
  never?: 'place not reached' | 'trigger never happens' | 'condition never true' | 'always overtaken';
  rule?: Id;
  places?: Id[];
  /** Of a level: the spots that it speaks of and that the player never comes to. */
  spots?: Id[];
  /** Of a plan: the cells that it speaks of. */
  cells?: Cell[];
}

export interface Verdict {
  check: CheckName;
  subject: string;
  outcome: VerdictOutcome;
  severity: Severity;
  accepted?: string;
  message: string;
  why?: Reason[];
  route?: Step[];
  /** The number of events of the route: a first step `start` is not counted. */
  length?: number;
  /** Past the limit it was looked for: there may be a shorter one. */
  shortest?: false;
  variables?: Id[];
  /** JSON pointer into the document to what the verdict is about. */
  pointer?: string;
  /** For `condition`: where in the text, counted from 1. */
  column?: number;
}

/** A verdict among those of a report: by its check and subject. */
export const verdictKey = ({ check, subject }: { check: string; subject: string }): string => `${check} ${subject}`;

/** With which values a place was entered and settled. */
export type Arrival = { min: number; max: number } | { values: (boolean | string)[] };

/** A part of what play can be in that makes a flow large. */
export interface Large {
  /** In the designer's words. */
  what: string;
  /** A variable's id, where it is one. */
  variable?: string;
  /** How many times fewer states there were without it. */
  times: number;
}

export interface Report {
  format: 'crow-lane-report';
  version: 1;
  flow: string;
  /** How many states of play were looked at. */
  states: number;
  /** Nothing was cut by a limit. */
  complete: boolean;
  /** Where something was cut: what makes the flow so large, most first. */
  large?: Large[];
  checks: Verdict[];
  /** By place and variable. */
  arrivals: Record<Id, Record<Id, Arrival>>;
  /** By level with a plan: the seconds that its shortest tour takes, and the deadline at which it is lost. */
  times?: Record<Id, Figures>;
}

/** No tour takes less than `least`, one takes `most`: both the same where the shortest is known; neither where none wins. */
export interface Figures {
  least?: number;
  most?: number;
  limit?: number;
}

/** Every check with the severity of its failing; docs/checks.md has an example of each. */
export const severities = {
  'place-reached': 'error',
  'level-completable': 'error',
  'over-at-once': 'warning',
  'arrival-completable': 'warning',
  'objective-met': 'warning',
  'objective-needed': 'warning',
  'won-by-removal': 'warning',
  'spot-reached': 'warning',
  'passage-walked': 'warning',
  'piece-in-reach': 'warning',
  missable: 'information',
  'lost-for-good': 'warning',
  'attempt-ends': 'warning',
  'never-stuck': 'error',
  'moves-on': 'error',
  'ending-in-reach': 'error',
  'rule-fires': 'warning',
  'never-stranded': 'error',
  'always-settles': 'error',
  expectation: 'error',
  'fresh-start': 'warning',
  'fresh-save': 'warning',
  'slot-picked': 'warning',
  reference: 'error',
  condition: 'error',
  'signal-heard': 'warning',
  'signal-raised': 'warning',
  'piece-handled': 'warning',
  'entry-used': 'warning',
  'way-back': 'information',
  'order-complete': 'error',
  'order-repeats': 'information',
  'goal-count': 'error',
  'goal-partial': 'information',
  'variable-used': 'information',
  'name-unique': 'warning',
  'overtaken-deadline': 'warning',
  'rule-hidden': 'information',
  'shared-overridden': 'information',
  'name-number': 'information',
  'load-limit': 'warning',
  'plan-fits': 'error',
  'time-enough': 'error',
  'patrol-passable': 'warning',
  'too-close': 'information',
  'progress-falls': 'information',
  'number-skipped': 'information',
  'value-clamped': 'information',
  'wait-too-short': 'warning',
  'lost-elsewhere': 'information',
  'gain-kept': 'information',
  'second-game': 'information',
  'accepted-unused': 'information'
} as const satisfies Record<string, Severity>;

export type CheckName = keyof typeof severities;

/** Notes on what is often meant: one act says that it is expected. */
export const suspicions: readonly string[] = [
  'lost-elsewhere',
  'gain-kept',
  'second-game',
  'value-clamped',
  'way-back'
] satisfies CheckName[];

/** Whether a verdict makes a flow fail: an error or a warning that nobody has accepted. */
export function decides({ outcome, severity, accepted }: Verdict): boolean {
  return outcome === 'fails' && severity !== 'information' && accepted === undefined;
}
