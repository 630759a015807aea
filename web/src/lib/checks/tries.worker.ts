/** Checks what repairs would come to, and what earlier revisions came to: off the page's thread. */
import { checking, finish } from '@crow-lane/core/check/check';
import { Memory } from '@crow-lane/core/check/memory';
import { compareReports, type VerdictChange } from '@crow-lane/core/report/compare';
import type { Report } from '@crow-lane/core/report/report';
import { apply, type Patch } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';

export type Question = { id: number } &
  /** What a patch of a document changes; `base` says which document it is, so that it is checked once. */
  (
    | { ask: 'patch'; base: string; document: FlowDocument; patch: Patch }
    /** What is different between two documents. */
    | { ask: 'between'; before: FlowDocument; after: FlowDocument }
  );
export type Answer = { id: number; changes?: VerdictChange[]; failed?: string };

/** What was explored of the document before is not explored again for each fix of it. */
const memory = new Memory();
let known: { base: string; report: Report } | undefined;
const report = (document: FlowDocument) => finish(checking(document, { memory }));

function changes(question: Question): VerdictChange[] {
  if (question.ask === 'between') return compareReports(report(question.before), report(question.after));
  const { base, document, patch } = question;
  if (known?.base !== base) known = { base, report: report(document) };
  return compareReports(known.report, report(apply(document, patch)));
}

self.onmessage = ({ data }: MessageEvent<Question>) => {
  const { id } = data;
  try {
    const slim = changes(data).map((change) => ({ ...change, verdict: { ...change.verdict, route: undefined } }));
    self.postMessage({ id, changes: slim } satisfies Answer);
  } catch (error) {
    self.postMessage({ id, failed: (error as Error).message } satisfies Answer);
  }
};
