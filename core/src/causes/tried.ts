/** The causes of findings as far as they show when fixes are tried on a copy. */
import { checking, finish, type CheckOptions } from '../check/check.ts';
import { Memory } from '../check/memory.ts';
import { apply, type Change } from '../document/patch.ts';
import type { FlowDocument } from '../document/types.ts';
import { onlyDeletes, repairsOf } from '../repair/repairs.ts';
import type { Report, Verdict } from '../report/report.ts';
import { causesOf, keyOf, toldFindings, type Cause } from './causes.ts';

export interface TryOptions {
  /** So many states may be looked at in all; what comes after is left as not tried. */
  states?: number;
  /** For each copy that is checked. */
  limit?: number | undefined;
}

const usualStates = 2_000_000;

/**
 * The causes after each finding that stands for itself has been tried: its fix that removes most findings takes along
 * what it removes. The same on every run: what is spent is counted in states, not in seconds. Gives the causes as they
 * are known by then after each.
 */
export function* tryCauses(
  document: FlowDocument,
  report: Report,
  { states = usualStates, limit }: TryOptions = {}
): Generator<Cause[], Cause[]> {
  const causes = causesOf(document, report);
  const memory = new Memory();
  let left = states;
  for (let cause = untried(causes); cause; cause = untried(causes)) {
    let best: Fixed | undefined;
    for (const change of repairsOf(document, cause.verdict)) {
      if (left <= 0) return causes;
      const fixed = tryFix(document, report, cause.verdict, change, { limit, memory });
      left -= fixed.states;
      if (fixed.removes && (!best || better(fixed, best))) best = fixed;
      yield causes;
    }
    cause.fix = best ? { change: best.change, removes: best.removed.size } : null;
    if (best) takeAlong(causes, cause, best.removed);
  }
  return causes;
}

const untried = (causes: Cause[]) => causes.find(({ fix }) => fix === undefined);

interface Fixed {
  change: Change;
  removes: boolean;
  /** The findings that are gone. */
  removed: Set<string>;
  states: number;
}

/** What only deletes is the last resort; else what removes more, and of several the one that is offered first. */
function better(one: Fixed, other: Fixed): boolean {
  const [deletes, otherDeletes] = [one, other].map(({ change }) => onlyDeletes(change));
  return deletes === otherDeletes ? one.removed.size > other.removed.size : otherDeletes!;
}

function tryFix(document: FlowDocument, report: Report, verdict: Verdict, change: Change, options: CheckOptions): Fixed {
  const after = finish(checking(apply(document, change.patch), options));
  const before = new Set(toldFindings(report).map(keyOf));
  const now = new Set(toldFindings(after).map(keyOf));
  // what is not settled any more is not fixed
  const open = new Set(after.checks.filter(({ outcome }) => outcome === 'open').map(keyOf));
  const removed = new Set([...before].filter((key) => !now.has(key) && !open.has(key)));
  return { change, removes: removed.has(keyOf(verdict)), removed, states: after.states };
}

/** Causes that a fix of another one removes follow from that, with all that follows from them. */
function takeAlong(causes: Cause[], cause: Cause, removed: Set<string>): void {
  // one before it that has a fix of its own, which did not remove this one, stands for itself
  const along = causes.filter((other) => other !== cause && !other.fix && removed.has(keyOf(other.verdict)));
  for (const other of along) {
    cause.follows.push(other.verdict, ...other.follows);
    causes.splice(causes.indexOf(other), 1);
  }
}
