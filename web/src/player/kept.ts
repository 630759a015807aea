/** What a browser keeps of a game between two visits: all that was done, which is played again on the game as it now is. */
import type { Step } from '@crow-lane/core/document/types';

interface Kept {
  seed: number;
  steps: Step[];
}

const keyOf = (game: string) => `crow-lane ${game}`;

/** What was done up to the last visit; undefined where there was none, or the browser keeps nothing. */
export function recall(game: string): Kept | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(game)) ?? 'null') as Partial<Kept> | null;
    return kept && Array.isArray(kept.steps) && typeof kept.seed === 'number' ? (kept as Kept) : undefined;
  } catch {
    return undefined;
  }
}

/** False where the browser keeps nothing: it is full, or told not to. */
export function keep(game: string, kept: Kept | undefined): boolean {
  try {
    if (kept) localStorage.setItem(keyOf(game), JSON.stringify(kept));
    else localStorage.removeItem(keyOf(game));
    return true;
  } catch {
    return false;
  }
}
