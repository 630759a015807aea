/** What two versions of a flow have both changed, in the designer's words. */
import type { MergeConflict } from '../document/merge.ts';
import { findRule, type FlowDocument, type Id, type Owner } from '../document/types.ts';
import { ruleWords } from './words.ts';

const longest = 80;

/** "Quay Street, Lamp, count: 5 here, 6 there, before 7." */
export function conflictWords(ours: FlowDocument, theirs: FlowDocument, { pointer, ...sides }: MergeConflict): string {
  const [own, other, before] = [sides.ours, sides.theirs, sides.base].map(said);
  return `${whereWords([ours, theirs], pointer)}: ${own} here, ${other} there, before ${before}.`;
}

/** What a value is, short enough for a line; of a thing that has a name its name. */
function said(value: unknown): string {
  if (value === undefined) return 'nothing';
  const name = (value as { name?: unknown } | null)?.name;
  const text = typeof value === 'string' ? `“${value}”` : typeof name === 'string' ? name : JSON.stringify(value);
  return text.length > longest ? `${text.slice(0, longest - 1)}…` : text;
}

/** Names in place of ids, as far as the path leads through things that have one; rules by what they say. */
function whereWords(documents: FlowDocument[], pointer: string): string {
  const steps = pointer.split('/').slice(1);
  const words: string[] = [];
  let at: unknown[] = documents;
  for (const [index, step] of steps.entries()) {
    at = at.map((each) => (each as Record<string, unknown> | undefined)?.[step]);
    const found = at.find((each) => typeof each === 'object' && each !== null) as { name?: string; id?: Id } | undefined;
    const rule = steps[index - 1] === 'rules' && found?.id !== undefined ? ruleSaid(documents, found.id) : undefined;
    if (rule !== undefined) words.push(rule);
    else if (found?.name !== undefined) words.push(found.name);
    else if (index === steps.length - 1 || !named.has(step)) words.push(step);
  }
  return words.join(', ') || 'The flow';
}

/** What only holds things by their ids needs no word. */
const named = new Set([
  'places',
  'pieces',
  'entries',
  'spots',
  'passages',
  'variables',
  'numbers',
  'signals',
  'orders',
  'groups',
  'runs',
  'rules'
]);

function ruleSaid(documents: FlowDocument[], id: Id): string | undefined {
  for (const document of documents) {
    const found = findRule(document, id) as { owner: Owner; rule: Parameters<typeof ruleWords>[2] } | undefined;
    if (found) return `the rule ${ruleWords(document, found.owner, found.rule)}`;
  }
  return undefined;
}
