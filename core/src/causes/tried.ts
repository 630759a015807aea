/** The causes of findings as far as they show when fixes are tried on a copy. */
import { checking, type CheckOptions } from '../check/check.ts';
import { Memory } from '../check/memory.ts';
import { apply, type Change } from '../document/patch.ts';
import type { FlowDocument } from '../document/types.ts';
import { onlyDeletes, repairsOf } from '../repair/repairs.ts';
import { decides, verdictKey, type Report } from '../report/report.ts';
import { causesOf, toldFindings, type Cause } from './causes.ts';

/** The causes as they are known by then, how many states have been looked at so far, and how many fixes tried to the end. */
export interface Tried {
  causes: Cause[];
  states: number;
  fixes: number;
}

/**
 * Tries each cause in the order of the list: its fix that removes most findings takes along what it removes. In short
 * steps: who drives it can show what is known, and go on later or not at all; what has not been tried has no `fix` yet. As
 * what is spent is told in states, a budget of these gives the same on every run.
 */
export function* tryCauses(
  document: FlowDocument,
  report: Report,
  { limit, memory = new Memory() }: Pick<CheckOptions, 'limit' | 'memory'> = {}
): Generator<Tried, Cause[]> {
  const causes = causesOf(document, report);
  const before = toldFindings(report).map(verdictKey);
  let [states, fixes] = [0, 0];
  for (let cause = untried(causes); cause; cause = untried(causes)) {
    let best: Fixed | undefined;
    // of names that are written alike the first is the one that was meant, whatever that brings or another would remove
    const isMisspelt = cause.verdict.check === 'condition';
    for (const change of repairsOf(document, cause.verdict)) {
      const run = checking(apply(document, change.patch), { limit, memory, firstGame: false });
      let step = run.next();
      for (; !step.done; step = run.next()) yield { causes, states: states + step.value.states, fixes };
      const after = step.value;
      states += after.states;
      fixes++;
      const removed = removedBy(before, after);
      const fixed = { change, removed, gain: against(report) - against(after) };
      // what brings more than it takes away is no fix; a step that leads on to the next question is
      const isFix = removed.has(verdictKey(cause.verdict)) && (fixed.gain >= 0 || isMisspelt);
      if (isFix && (!best || better(fixed, best))) best = fixed;
      yield { causes, states, fixes };
      if (best && isMisspelt) break;
    }
    cause.fix = best ? { change: best.change, removes: best.removed.size } : null;
    if (best) takeAlong(causes, cause, best.removed);
  }
  return causes;
}

const untried = (causes: Cause[]) => causes.find(({ fix }) => fix === undefined);

interface Fixed {
  change: Change;
  /** The findings that are gone. */
  removed: Set<string>;
  /** How many fewer errors and warnings there are. */
  gain: number;
}

/** What only deletes is the last resort; else what removes more, and of several the one that is offered first. */
function better(one: Fixed, other: Fixed): boolean {
  const [deletes, otherDeletes] = [one, other].map(({ change }) => onlyDeletes(change));
  return deletes === otherDeletes ? one.gain > other.gain : otherDeletes!;
}

/** How many errors and warnings there are, also those that the list leaves out, and how many questions are open. */
const against = ({ checks }: Report): number => checks.filter((verdict) => decides(verdict) || verdict.outcome === 'open').length;

/** Of some findings those that a later report has no longer; what it leaves open is not gone. */
function removedBy(before: string[], after: Report): Set<string> {
  const still = new Set([...toldFindings(after), ...after.checks.filter(({ outcome }) => outcome === 'open')].map(verdictKey));
  return new Set(before.filter((key) => !still.has(key)));
}

/** Causes that a fix of another one removes follow from that, with all that follows from them. */
function takeAlong(causes: Cause[], cause: Cause, removed: Set<string>): void {
  // one before it that has a fix of its own, which did not remove this one, stands for itself
  const along = causes.filter((other) => other !== cause && !other.fix && removed.has(verdictKey(other.verdict)));
  for (const other of along) {
    cause.follows.push(other.verdict, ...other.follows);
    causes.splice(causes.indexOf(other), 1);
  }
}
