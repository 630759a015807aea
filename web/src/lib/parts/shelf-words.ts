import type { Right } from '../rights.ts';
import type { Summary } from '../summary.ts';

export interface ShelfItem {
  id: string;
  name: string;
  revision: number;
  places: number;
  levels: number;
  changedAt: Date | string;
  verdict: { revision: number; summary: Summary } | null;
  /** What may be done with it, and whose it is; of those that were deleted when. */
  may: Right;
  owner: string | null;
  deletedAt?: Date | string;
  /** From what on the shared shelf it was taken. */
  source?: { show: string; name: string; by: string; revision: number };
}

/** The verdict on a flow in a few words, and the class that colours it. */
export function verdictWords({ revision, verdict }: Pick<ShelfItem, 'revision' | 'verdict'>): {
  text: string;
  look: 'won' | 'lost' | 'plain' | 'dim';
} {
  if (!verdict || verdict.revision < revision) return { text: 'not checked since the last change', look: 'dim' };
  return summaryWords(verdict.summary);
}

/** What the checks said, in a few words. */
export function summaryWords(summary: Summary | null): { text: string; look: 'won' | 'lost' | 'plain' | 'dim' } {
  if (!summary) return { text: 'not checked yet', look: 'dim' };
  const { levels, completable, places, reached, failing, open } = summary;
  if (places === 0) return { text: 'empty', look: 'dim' };
  if (failing > 0) {
    const parts = [`${failing} ${failing === 1 ? 'finding' : 'findings'}`];
    if (completable < levels) parts.push(`${completable} of ${levels} levels can be completed`);
    if (reached < places) parts.push(`${reached} of ${places} places reached`);
    return { text: parts.join(', '), look: 'lost' };
  }
  if (open > 0) return { text: 'nothing fails, not all is settled', look: 'plain' };
  return { text: 'all levels can be completed, all places reached', look: 'won' };
}

/** How often something was played. */
export const playedWords = (times: number): string => (times === 0 ? 'not yet' : times === 1 ? 'once' : `${times} times`);

/** Until when something is valid. */
export const until = (when: Date | string): string =>
  `until ${new Date(when).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })}`;

/** How long ago something was, roughly. */
export function ago(when: Date | string, now = Date.now()): string {
  const minutes = Math.floor((now - new Date(when).getTime()) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  if (minutes < 24 * 60) return `${Math.floor(minutes / 60)} h ago`;
  return new Date(when).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
}
