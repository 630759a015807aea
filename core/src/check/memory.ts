/** What the last check explored, for the next one: most edits of a designer change words that play never sees. */
import type { FlowDocument } from '../document/types.ts';
import type { Flow } from '../play/flow.ts';
import type { Facts } from './facts.ts';

export class Memory {
  private last: { seen: string; facts: Facts } | undefined;

  /** What is known of a flow that is the same to play within the same limits. */
  recall(flow: Flow, limits: string): Facts | undefined {
    if (this.last?.seen !== seenOf(flow, limits)) return undefined;
    return { ...this.last.facts, flow };
  }

  /** Only what was explored to its end is worth keeping: what was cut says by name what made it large. */
  keep(facts: Facts, limits: string): void {
    this.last = facts.complete ? { seen: seenOf(facts.flow, limits), facts } : undefined;
  }
}

const words = new Set(['name', 'brief', 'note', 'message', 'key']);

/**
 * All of a document that play sees, as text. Under these names only words stand where a text does; an id that reads the
 * same names an object, and stays.
 */
function seenOf({ document }: Flow, limits: string): string {
  const { accepted: _accepted, runs: _runs, ...played } = document satisfies FlowDocument;
  const seen = JSON.stringify(played, (key, value: unknown) => (words.has(key) && typeof value === 'string' ? undefined : value));
  return `${limits} ${seen}`;
}
