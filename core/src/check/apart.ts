/**
 * Past the limit: what parts of the flow say that can be explored apart (parts.ts). Their answers are those of the whole,
 * as long as no event comes near to so many firings that those left out would have made it one that never settles.
 */
import { mostFirings } from '../play/handle.ts';
import type { Flow } from '../play/flow.ts';
import type { Id } from '../document/types.ts';
import { arrivalsOf, exploredChecks, valueChecks } from './explored-checks.ts';
import type { Facts, Progress, RuleFacts } from '../explore/facts.ts';
import { explorePacked } from '../explore/packed/explore.ts';
import { partsOf, type FlowPart } from '../explore/parts.ts';
import { verdictKey, type CheckName, type Report, type Verdict } from '../report/report.ts';

/** As many times the limit as all parts together may take. */
const mostTimes = 5;
/** As many parts as may turn out to be too large themselves before no more are tried. */
const mostInVain = 2;

export interface Apart {
  /** How many states the parts have. */
  states: number;
  /** Everything is settled. */
  complete: boolean;
  checks: Verdict[];
  arrivals: Report['arrivals'];
}

/** What is settled of a flow by parts of it, put in place of what the cut exploration says; undefined where nothing is. */
export function* checkApart(
  flow: Flow,
  cut: Pick<Report, 'checks' | 'arrivals'>,
  limit: number,
  bytes?: number
): Generator<Progress, Apart | undefined> {
  const settled = new Settled(flow);
  let left = limit * mostTimes;
  let inVain = 0;
  for (const part of partsOf(flow)) {
    const facts = yield* whole(part.flow, Math.min(limit, left), bytes);
    left -= facts?.count ?? limit;
    if (facts && isExact(facts, part)) settled.add(part, facts);
    // the first part is in all others
    else if (settled.states === 0) return undefined;
    // and those that follow are no smaller
    else if (!facts && ++inVain === mostInVain) break;
    if (left <= 0) break;
  }
  if (settled.states === 0) return undefined;
  const checks = cut.checks.map((each) => settled.instead(each));
  const arrivals = settled.arrivalsInstead(cut.arrivals);
  const complete = settled.all && checks.every(({ outcome }) => outcome !== 'open');
  return { states: settled.states, complete, checks, arrivals };
}

/** Explores a flow to its end, or not at all. */
function* whole(flow: Flow, limit: number, bytes?: number): Generator<Progress, Facts | undefined> {
  const run = explorePacked(flow, limit, bytes);
  for (;;) {
    const { done, value } = run.next();
    if (done) return value.complete ? value : undefined;
    if (!value.complete) return undefined;
    yield { ...value, complete: false };
  }
}

/**
 * With f firings at the most of what is kept, rules are read at most once for what happened, and once more for each firing
 * that led to a place, and for each signal that one raised: of those left out each fires at most once then. One that waits
 * until something holds fires at most once for each change that another firing made.
 */
function isExact({ firings = mostFirings, unsettled, flow }: Facts, { leftOut }: FlowPart): boolean {
  const signals = [...flow.rules.values()].map(
    ({ rule }) => (rule.do ?? []).filter((effect) => 'raise' in effect || 'defeat' in effect).length
  );
  const atOnce = leftOut.atOnce * (1 + firings * (1 + Math.max(0, ...signals)));
  const all = firings + atOnce + leftOut.holds * (1 + firings + atOnce);
  return unsettled.size === 0 && all < mostFirings;
}

class Settled {
  states = 0;
  private readonly verdicts = new Map<string, Verdict>();
  private readonly fresh = new Map<Id, Verdict>();
  private readonly arrivals: { part: FlowPart; values: Report['arrivals'] }[] = [];
  private readonly rules = new Set<Id>();
  private readonly variables = new Set<Id>();
  private readonly expectations = new Set<string>();

  constructor(private readonly flow: Flow) {}

  /** Every rule, value and expectation is in some part, and nothing else is asked. */
  get all(): boolean {
    const { rules, expectations, objectives } = this.flow;
    return (
      objectives.length === 0 &&
      [...rules.keys()].every((id) => this.rules.has(id)) &&
      this.allVariables &&
      this.flow.levels.every(([id, { pieces }]) => Object.keys(pieces).every((piece) => this.tellsOf(id, piece))) &&
      expectations.every(({ place, index }) => this.expectations.has(`${place}/${index}`))
    );
  }

  private get allVariables(): boolean {
    return Object.keys(this.flow.document.variables).every((id) => this.variables.has(id));
  }

  private tellsOf(level: Id, piece: Id): boolean {
    return this.arrivals.some(({ part }) => part.tellsOf(level, piece));
  }

  add(part: FlowPart, facts: Facts): void {
    this.states += facts.count;
    const unread: RuleFacts = { present: false, happened: false, wasTrue: false, wasFalse: false, seen: new Map() };
    const rules = new Map([...this.flow.rules.keys()].map((id) => [id, facts.rules.get(id) ?? unread]));
    // it is the whole flow that is spoken of
    const told = { ...facts, flow: this.flow, rules };
    const first = this.arrivals.length === 0;
    for (const verdict of first ? exploredChecks(told) : valueChecks(told)) {
      if (verdict.check === 'fresh-start') this.addFreshStart(verdict);
      else if (answers(part, verdict) && !this.verdicts.has(verdictKey(verdict))) this.verdicts.set(verdictKey(verdict), verdict);
    }
    this.arrivals.push({ part, values: arrivalsOf({ ...facts, flow: this.flow, arrivals: facts.arrivals }) });
    for (const what of ['rules', 'variables', 'expectations'] as const) for (const each of part[what]) this[what].add(each);
  }

  /** Each part knows of its own variables whether they are stale: what fails in the fewest steps is the first. */
  private addFreshStart(verdict: Verdict): void {
    const known = this.fresh.get(verdict.subject);
    const better = !known || (verdict.outcome === 'fails' && (known.outcome !== 'fails' || verdict.length! < known.length!));
    if (better) this.fresh.set(verdict.subject, verdict);
  }

  /** What the parts say, where they do. */
  instead(verdict: Verdict): Verdict {
    if (verdict.check !== 'fresh-start') return this.verdicts.get(verdictKey(verdict)) ?? verdict;
    const found = this.fresh.get(verdict.subject);
    if (!found || this.allVariables || found.outcome === 'unreached') return found ?? verdict;
    return found.outcome === 'fails' && verdict.outcome !== 'fails' ? { ...found, shortest: false } : verdict;
  }

  arrivalsInstead(cut: Report['arrivals']): Report['arrivals'] {
    const places = Object.keys(this.flow.document.places).filter((place) => this.arrivals[0]!.values[place]);
    return Object.fromEntries(
      places.map((place) => {
        const values = Object.keys(this.flow.document.variables).flatMap((id) => {
          const known = this.arrivals.find(({ part }) => part.variables.has(id))?.values[place]![id] ?? cut[place]?.[id];
          return known === undefined ? [] : [[id, known] as const];
        });
        return [place, Object.fromEntries(values)];
      })
    );
  }
}

const ofPieces: readonly string[] = ['piece-in-reach', 'missable', 'lost-for-good'] satisfies CheckName[];

/** Whether a part says what a verdict asks. What is asked of places alone, or of rules that move, all parts say. */
function answers({ rules, variables, expectations, tellsOf }: FlowPart, { check, subject }: Verdict): boolean {
  if (check === 'rule-fires') return rules.has(subject);
  if (check === 'value-clamped') return variables.has(subject);
  // a part may leave out what objectives ask for
  if (check === 'objective-met' || check === 'objective-needed') return false;
  if (ofPieces.includes(check)) return tellsOf(...(subject.split('/') as [Id, Id]));
  return check === 'expectation' ? expectations.has(subject) : true;
}
