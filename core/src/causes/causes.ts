/**
 * Findings told by their causes: what is wrong once, and under it what follows from that. A finding follows from another
 * when fixing that one fixes it; some of this is known (known.ts), the rest is tried (tried.ts).
 */
import type { Change } from '../document/patch.ts';
import type { FlowDocument } from '../document/types.ts';
import { findings } from '../report/answers.ts';
import { verdictKey, type Report, type Verdict } from '../report/report.ts';
import { components } from '../graph/components.ts';
import { Explainers } from './known.ts';

export interface Cause {
  verdict: Verdict;
  /** What follows from it, in the order of the list. */
  follows: Verdict[];
  /** Its fix that removes most findings, and how many; null where none was found, undefined while none has been tried. */
  fix?: { change: Change; removes: number } | null;
}

/** By finding the one that it follows from. */
export function followsFrom(causes: Cause[]): Map<string, Verdict> {
  return new Map(causes.flatMap(({ verdict, follows }) => follows.map((each) => [verdictKey(each), verdict] as const)));
}

/** The findings that nobody has accepted, errors first: what causes are told of. */
export const toldFindings = (report: Report): Verdict[] => findings(report).filter(({ accepted }) => accepted === undefined);

/** The causes as far as they are known without trying, in the order of the list. */
export function causesOf(document: FlowDocument, report: Report): Cause[] {
  const told = toldFindings(report);
  const place = new Map(told.map((verdict, index) => [verdictKey(verdict), index]));
  const explainers = new Explainers(document);
  const explained = told.map((verdict) => explainers.of(verdict).flatMap((key) => place.get(key) ?? []));
  return grouped(told, rootsOf(explained));
}

/**
 * By finding where its explanations end: at one that nothing else explains, or at the first of some that explain one
 * another; of several at the first.
 */
function rootsOf(explained: number[][]): number[] {
  const { component, count } = components(explained.length, (index, visit) => explained[index]!.forEach(visit));
  const members = Array.from({ length: count }, () => [] as number[]);
  explained.forEach((_, index) => members[component[index]!]!.push(index));
  const roots: number[] = [];
  // a component is numbered after all those that it leads to
  for (const [own, indexes] of members.entries()) {
    const beyond = indexes
      .flatMap((index) => explained[index]!.map((other) => component[other]!))
      .filter((other) => other !== own);
    roots.push(Math.min(...(beyond.length > 0 ? beyond.map((other) => roots[other]!) : indexes)));
  }
  return explained.map((_, index) => roots[component[index]!]!);
}

/** Causes from findings, and by finding the number of its cause. */
function grouped(told: Verdict[], roots: number[]): Cause[] {
  const causes = new Map<number, Cause>();
  roots.forEach((root, index) => {
    if (root === index) causes.set(index, { verdict: told[index]!, follows: [] });
  });
  roots.forEach((root, index) => {
    if (root !== index) causes.get(root)!.follows.push(told[index]!);
  });
  return [...causes.values()];
}
