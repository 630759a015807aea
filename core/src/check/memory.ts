/** What the last check explored, for the next one: most edits of a designer change words that play never sees. */
import type { FlowDocument } from '../document/types.ts';
import type { Flow } from '../play/flow.ts';
import type { Facts } from '../explore/facts.ts';
import { Codes } from '../explore/packed/known-codes.ts';

export class Memory {
  /** The code that the packed exploration has written. */
  readonly codes = new Codes();
  private last: { seen: string; facts: Facts } | undefined;
  private first: Memory | undefined;

  /** What is known of the flow of the first game, which is explored by itself. */
  ofFirstGame(): Memory {
    return (this.first ??= new Memory());
  }

  /** What is known of a flow, if play sees the same in it; `seen` is that of `seenOf`. */
  recall(flow: Flow, seen: string): Facts | undefined {
    return this.last?.seen === seen ? { ...this.last.facts, flow } : undefined;
  }

  /** Only what was explored to its end is worth keeping: what was cut says by name what made it large. */
  keep(facts: Facts, seen: string): void {
    this.last = facts.complete ? { seen, facts } : undefined;
  }
}

const words = new Set(['name', 'brief', 'note', 'message', 'key']);

/**
 * All of a document that play sees, as text, with the limits it is explored within. Under these names only words stand
 * where a text does; an id that reads the same names an object, and stays.
 */
export function seenOf({ accepted: _accepted, runs: _runs, ...played }: FlowDocument, limits: string): string {
  const seen = JSON.stringify(played, (key, value: unknown) => (words.has(key) && typeof value === 'string' ? undefined : value));
  return `${limits} ${seen}`;
}
