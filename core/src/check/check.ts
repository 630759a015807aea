/** All verdicts on a document (docs/flow-format.md, sections 6 and 8). */
import { own, type FlowDocument } from '../document/types.ts';
import { prepare, type Flow } from '../play/flow.ts';
import { checkApart } from './apart.ts';
import { documentChecks } from './document-checks.ts';
import { explorePacked } from '../explore/packed/explore.ts';
import type { Codes } from '../explore/packed/known-codes.ts';
import { arrivalsOf, exploredChecks } from './explored-checks.ts';
import type { Facts, Progress } from '../explore/facts.ts';
import { seenOf, type Memory } from './memory.ts';
import type { Report, Verdict } from '../report/report.ts';
import { restsOn } from './rests.ts';
import { verdict } from './verdict.ts';

/** How a flow is explored: up to a limit of states, and of the bytes they take, step by step. */
export type Explorer = (
  flow: Flow,
  limit: number,
  bytes?: number,
  asked?: { codes?: Codes | undefined }
) => Generator<Progress, Facts>;

export interface CheckOptions {
  /** How many states to look at before verdicts that are not certain by then are left open. */
  limit?: number | undefined;
  /** How many bytes the states may take, likewise. */
  bytes?: number;
  explorer?: Explorer;
  /** Of the check before, by the same explorer: what is the same to play is not explored again. */
  memory?: Memory;
}

export const usualLimit = 200_000;

/** Checks a document of right shape. */
export function check(document: FlowDocument, options: CheckOptions = {}): Report {
  return finish(checking(document, options));
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
  { limit = usualLimit, bytes, explorer = explorePacked, memory }: CheckOptions = {}
): Generator<Progress, Report> {
  const flow = prepare(document);
  const base = { format: 'crow-lane-report', version: 1, flow: document.name } as const;
  const known = documentChecks(flow);
  if (!own(document.places, document.start))
    return { ...base, states: 0, complete: false, checks: accept(document, known, false), arrivals: {} };
  const seen = memory ? seenOf(document, `${limit} ${bytes}`) : '';
  const recalled = memory?.recall(flow, seen);
  const facts = recalled ?? (yield* explorer(flow, limit, bytes, { codes: memory?.codes }));
  if (!recalled) memory?.keep(facts, seen);
  const cut = { states: facts.count, complete: facts.complete, checks: exploredChecks(facts), arrivals: arrivalsOf(facts) };
  const apart = facts.complete || explorer !== explorePacked ? undefined : yield* checkApart(flow, cut, limit, bytes);
  const { states, complete, checks, arrivals } = apart ?? cut;
  const large = complete || facts.large.length === 0 ? {} : { large: facts.large };
  return { ...base, states, complete, ...large, checks: accept(document, [...known, ...checks], complete), arrivals };
}

/** Marks the verdicts that the designer means to keep, and says which entries name none. */
function accept(document: FlowDocument, checks: Verdict[], complete: boolean): Verdict[] {
  const unused = document.accepted.map(({ check: name, subject, reason, rests }, index) => {
    const found = checks.find((each) => each.check === name && each.subject === subject && each.outcome === 'fails');
    const changed = found !== undefined && rests !== undefined && rests !== restsOn(document, found);
    if (found && !changed) found.accepted = reason;
    const outcome = found && !changed ? 'holds' : found || complete ? 'fails' : 'open';
    const message = changed
      ? `The finding ${name} of ${subject} was accepted (${reason}), but what it depends on has changed.`
      : found
        ? `The accepted finding ${name} of ${subject} still exists.`
        : `The accepted finding ${name} of ${subject} no longer exists.`;
    return verdict('accepted-unused', `${name} ${subject}`, outcome, message, { pointer: `/accepted/${index}` });
  });
  return [...checks, ...unused];
}
