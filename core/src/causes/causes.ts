/**
 * Findings told by their causes: what is wrong once, and under it what follows from that. A finding follows from another
 * when fixing that one fixes it; some of this is known (known.ts), the rest is tried (tried.ts).
 */
import type { Change } from '../document/patch.ts';
import type { FlowDocument } from '../document/types.ts';
import { findings } from '../report/answers.ts';
import type { Report, Verdict } from '../report/report.ts';
import { Explainers } from './known.ts';

export interface Cause {
  verdict: Verdict;
  /** What follows from it, in the order of the list. */
  follows: Verdict[];
  /** Its fix that removes most findings, and how many; null where none was found, undefined while none has been tried. */
  fix?: { change: Change; removes: number } | null;
}

export const keyOf = ({ check, subject }: Pick<Verdict, 'check' | 'subject'>): string => `${check} ${subject}`;

/** By finding the one that it follows from. */
export function followsFrom(causes: Cause[]): Map<string, Verdict> {
  return new Map(causes.flatMap(({ verdict, follows }) => follows.map((each) => [keyOf(each), verdict] as const)));
}

/** The findings that nobody has accepted, errors first: what causes are told of. */
export const toldFindings = (report: Report): Verdict[] => findings(report).filter(({ accepted }) => accepted === undefined);

/** The causes as far as they are known without trying, in the order of the list. */
export function causesOf(document: FlowDocument, report: Report): Cause[] {
  const told = toldFindings(report);
  const place = new Map(told.map((verdict, index) => [keyOf(verdict), index]));
  const explainers = new Explainers(document);
  /** By finding the first other one, in the order of the list, that explains it; its own number where none does. */
  const explainedBy = told.map((verdict, index) => {
    const found = explainers.of(verdict).flatMap((key) => place.get(key) ?? []);
    return found.length > 0 ? Math.min(...found) : index;
  });
  return grouped(
    told,
    told.map((_, index) => rootOf(explainedBy, index))
  );
}

/** Where the explanations of a finding end; where they go round in a circle, at its first in the order of the list. */
function rootOf(explainedBy: number[], index: number): number {
  const way: number[] = [];
  let at = index;
  for (; !way.includes(at); at = explainedBy[at]!) way.push(at);
  return Math.min(...way.slice(way.indexOf(at)));
}

/** Causes from findings, and by finding the number of its cause. */
export function grouped(told: Verdict[], roots: number[]): Cause[] {
  const causes = new Map<number, Cause>();
  roots.forEach((root, index) => {
    if (root === index) causes.set(index, { verdict: told[index]!, follows: [] });
  });
  roots.forEach((root, index) => {
    if (root !== index) causes.get(root)!.follows.push(told[index]!);
  });
  return [...causes.values()];
}
