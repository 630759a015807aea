/** All verdicts on a document (docs/flow-format.md, sections 6 and 8). */
import { own, type FlowDocument } from '../document/types.ts';
import { prepare } from '../play/flow.ts';
import { documentChecks } from './document-checks.ts';
import { passesIn, patrolPassable } from './patrol-checks.ts';
import { figuresOf, timeEnough, timesIn } from './time-checks.ts';
import { explored, type ExploreOptions } from './explored.ts';
import { laterGames } from './first-game.ts';
import type { Progress } from '../explore/facts.ts';
import type { Report, Verdict } from '../report/report.ts';
import { restsOn } from './rests.ts';
import { verdict } from './verdict.ts';

export interface CheckOptions extends ExploreOptions {
  /** Whether the first game is explored by itself too; without it, what only that can say is left open. */
  firstGame?: boolean;
}

/** Checks a document of right shape. */
export function check(document: FlowDocument, options: CheckOptions = {}): Report {
  return finish(checking(document, options));
}

/** What is explored after some states have been: the progress goes on from there. */
function* after<T>(states: number, run: Generator<Progress, T>): Generator<Progress, T> {
  for (;;) {
    const { done, value } = run.next();
    if (done) return value;
    yield { ...value, states: states + value.states };
  }
}

/** Runs a generator to its end. */
export function finish<T>(run: Generator<unknown, T>): T {
  for (;;) {
    const { done, value } = run.next();
    if (done) return value;
  }
}

/** The same step by step: who drives it can show progress, pause, or stop by not going on. */
export function* checking(
  document: FlowDocument,
  { firstGame = true, ...options }: CheckOptions = {}
): Generator<Progress, Report> {
  const flow = prepare(document);
  const base = { format: 'crow-lane-report', version: 1, flow: document.name } as const;
  const times = yield* timesIn(flow);
  const passes = yield* passesIn(flow);
  const figures = figuresOf(flow, times);
  const known = [...documentChecks(flow), ...timeEnough(flow, times), ...patrolPassable(flow, passes)];
  if (!own(document.places, document.start))
    return { ...base, states: 0, complete: false, checks: accept(document, known, false), arrivals: {} };
  const { states, complete, checks, arrivals, large } = yield* explored(flow, options);
  const memory = options.memory?.ofFirstGame();
  const firstGames = laterGames(document, complete && firstGame ? arrivals : undefined, { ...options, memory });
  const later = yield* after(states, firstGames);
  return {
    ...base,
    states,
    complete,
    ...(large && { large }),
    checks: accept(document, [...known, ...checks, ...later], complete),
    arrivals,
    ...(figures && { times: figures })
  };
}

/** Marks the verdicts that the designer means to keep, and says which entries name none. */
function accept(document: FlowDocument, checks: Verdict[], complete: boolean): Verdict[] {
  // one that is accepted twice is told once
  const told = new Map<string, Verdict>();
  for (const [index, { check: name, subject, reason, rests }] of document.accepted.entries()) {
    const found = checks.find((each) => each.check === name && each.subject === subject && each.outcome === 'fails');
    const changed = found !== undefined && rests !== undefined && rests !== restsOn(document, found);
    if (found && !changed) found.accepted = reason;
    const outcome = found && !changed ? 'holds' : found || complete ? 'fails' : 'open';
    const message = changed
      ? `The finding ${name} of ${subject} was accepted (${reason}), but what it depends on has changed.`
      : found
        ? `The accepted finding ${name} of ${subject} still exists.`
        : `The accepted finding ${name} of ${subject} no longer exists.`;
    const key = `${name} ${subject}`;
    if (!told.has(key) || outcome === 'holds')
      told.set(key, verdict('accepted-unused', key, outcome, message, { pointer: `/accepted/${index}` }));
  }
  return [...checks, ...told.values()];
}
