/** A report in three answers, and by place and kind of question: what the views and the printed report show. */
import { findRule, own, type FlowDocument, type Id } from '../document/types.ts';
import { decides, type CheckName, type VerdictOutcome, type Report, type Verdict } from './report.ts';

/** How a place, or the flow, does in several verdicts: the worst of them; `accepted` where only accepted ones fail. */
export type Mark = VerdictOutcome | 'accepted' | 'remark';

export interface Answer {
  mark: Mark;
  /** How many of how many are as they should be; for the last answer none are counted. */
  good: number;
  of: number;
  /** The verdicts that say no, and those that are still open. */
  against: Verdict[];
}

/** Kinds of questions, each with its checks: the columns of the table of places. */
export const families = [
  { id: 'reached', words: 'reached', checks: ['place-reached'] },
  {
    id: 'completed',
    words: 'can be completed',
    checks: [
      'level-completable',
      'over-at-once',
      'arrival-completable',
      'goal-count',
      'goal-partial',
      'objective-met',
      'objective-needed',
      'won-by-removal',
      'time-enough'
    ]
  },
  {
    id: 'inside',
    words: 'all in reach',
    checks: ['spot-reached', 'passage-walked', 'piece-in-reach', 'patrol-passable', 'missable', 'lost-for-good']
  },
  {
    id: 'free',
    words: 'never stuck',
    checks: ['attempt-ends', 'never-stuck', 'moves-on', 'ending-in-reach', 'always-settles', 'never-stranded', 'way-back']
  },
  {
    id: 'rules',
    words: 'rules work',
    checks: [
      'rule-fires',
      'rule-hidden',
      'shared-overridden',
      'overtaken-deadline',
      'wait-too-short',
      'lost-elsewhere',
      'number-skipped',
      'reference',
      'condition',
      'signal-heard',
      'signal-raised'
    ]
  },
  {
    id: 'values',
    words: 'values right',
    checks: [
      'expectation',
      'fresh-start',
      'fresh-save',
      'slot-picked',
      'variable-used',
      'value-clamped',
      'gain-kept',
      'second-game'
    ]
  },
  {
    id: 'parts',
    words: 'parts used',
    checks: [
      'piece-handled',
      'entry-used',
      'name-unique',
      'name-number',
      'order-complete',
      'order-repeats',
      'progress-falls',
      'load-limit',
      'plan-fits',
      'too-close',
      'accepted-unused'
    ]
  }
] as const satisfies { id: string; words: string; checks: CheckName[] }[];

export type Family = (typeof families)[number]['id'];

/** That one rule of many never fires is no word on the place. */
const ofRules: readonly string[] = ['never-stranded', 'fresh-start', 'fresh-save', 'slot-picked'] satisfies CheckName[];

/** What a set of verdicts comes to. */
export function markOf(verdicts: Verdict[]): Mark | undefined {
  const telling = verdicts.filter(({ check, outcome }) => outcome !== 'unreached' || !ofRules.includes(check));
  const marks = (telling.length > 0 ? telling : verdicts).map((verdict): Mark => {
    if (verdict.outcome !== 'fails') return verdict.outcome;
    return decides(verdict) ? 'fails' : verdict.accepted === undefined ? 'remark' : 'accepted';
  });
  return (['fails', 'open', 'remark', 'accepted', 'unreached', 'holds'] as const).find((mark) => marks.includes(mark));
}

/** Whether every level can be completed, every place is reached, and the player never gets stuck. */
export function threeAnswers(report: Report): { completed: Answer; reached: Answer; free: Answer } {
  const of = (...names: CheckName[]): Answer => {
    const verdicts = report.checks.filter(({ check }) => (names as string[]).includes(check));
    return {
      mark: markOf(verdicts) ?? 'holds',
      good: verdicts.filter(({ outcome }) => outcome === 'holds').length,
      of: verdicts.length,
      against: verdicts.filter((verdict) => decides(verdict) || verdict.outcome === 'open')
    };
  };
  const completed = of('level-completable');
  const over = overAtOnce(report);
  return {
    completed: {
      ...completed,
      mark: over.length > 0 ? 'fails' : completed.mark,
      good: completableLevels(report),
      against: [...over, ...completed.against]
    },
    reached: of('place-reached'),
    free: of('never-stuck', 'moves-on', 'ending-in-reach', 'attempt-ends', 'always-settles', 'never-stranded')
  };
}

/** Of the levels that count as completed those that no player ever plays, as each is over when it is entered. */
export function overAtOnce({ checks }: Report): Verdict[] {
  const completed = new Set(
    checks.flatMap(({ check, subject, outcome }) => (check === 'level-completable' && outcome === 'holds' ? [subject] : []))
  );
  return checks.filter(
    (verdict) =>
      verdict.check === 'over-at-once' && verdict.severity === 'error' && decides(verdict) && completed.has(verdict.subject)
  );
}

/** Whether a place is entered, but left again in the same event: no player ever stands in it. */
export function onlyPassed({ checks, arrivals }: Report, place: Id): boolean {
  const reached = checks.some(
    ({ check, subject, outcome }) => check === 'place-reached' && subject === place && outcome === 'holds'
  );
  return reached && !Object.hasOwn(arrivals, place);
}

/** How many levels can be completed, and played. */
export function completableLevels(report: Report): number {
  const completed = report.checks.filter(({ check, outcome }) => check === 'level-completable' && outcome === 'holds').length;
  return completed - overAtOnce(report).length;
}

/** By place how it does: it fails where any finding but a note concerns it. */
export function placeMarks(document: FlowDocument, report: Report): Map<Id, Mark> {
  const marks = new Map<Id, Mark>();
  const worst: Mark[] = ['fails', 'open', 'unreached', 'holds'];
  const note = (place: Id | undefined, mark: Mark) => {
    if (place === undefined) return;
    const known = marks.get(place);
    if (known === undefined || worst.indexOf(mark) < worst.indexOf(known)) marks.set(place, mark);
  };
  for (const verdict of report.checks) {
    const { check, subject, outcome, accepted } = verdict;
    if (accepted === undefined && outcome !== 'fails' && (check === 'place-reached' || check === 'level-completable'))
      note(subject, outcome);
  }
  for (const verdict of findings(report)) if (decides(verdict)) note(placeOf(document, verdict), 'fails');
  return marks;
}

/** The place a verdict is about, itself or by a rule, a piece, an entry, an expectation or an objective of its; undefined where none is. */
export function placeOf(document: FlowDocument, { pointer, subject }: Verdict): Id | undefined {
  const found = /^\/places\/([a-z0-9_]+)/.exec(pointer ?? '')?.[1] ?? subject.split('/')[0]!;
  if (own(document.places, found)) return found;
  const rule = findRule(document, subject.replace(/^rule\//, ''));
  return rule && 'place' in rule.owner ? rule.owner.place : undefined;
}

/** By place, and under undefined for what is about no place, by family the verdicts. */
export function byPlace(document: FlowDocument, report: Report): Map<Id | undefined, Map<Family, Verdict[]>> {
  const family = new Map(families.flatMap(({ id, checks }) => checks.map((check): [string, Family] => [check, id])));
  const found = new Map<Id | undefined, Map<Family, Verdict[]>>();
  for (const id of [...Object.keys(document.places), undefined]) found.set(id, new Map());
  for (const verdict of report.checks) {
    const which = family.get(verdict.check);
    if (!which) continue;
    const place = found.get(placeOf(document, verdict))!;
    const list = place.get(which);
    if (list) list.push(verdict);
    else place.set(which, [verdict]);
  }
  return found;
}

/**
 * The failing verdicts worth a line of their own, errors first: where a place is not reached, that its rules never fire
 * goes without saying.
 */
export function findings(report: Report): Verdict[] {
  const failing = report.checks.filter(
    ({ check, outcome, why }) =>
      outcome === 'fails' && !(check === 'rule-fires' && why?.length && why.every(({ never }) => never === 'place not reached'))
  );
  const rank = { error: 0, warning: 1, information: 2 };
  return failing.sort((a, b) => rank[a.severity] - rank[b.severity]);
}
