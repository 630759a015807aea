/** Edits that the server does not have yet, kept in the browser, so that closing or reloading the page loses none. */
import type { SentEdit } from './api.ts';

interface Kept {
  at: number;
  edit: SentEdit;
}

const prefix = (flow: string) => `unsent ${flow} `;

/** Keeps an edit until it is known to be with the server. Tells whether the browser could. */
export function keepUnsent(flow: string, edit: SentEdit): boolean {
  try {
    localStorage.setItem(prefix(flow) + edit.editId, JSON.stringify({ at: Date.now(), edit } satisfies Kept));
    return true;
  } catch {
    return false;
  }
}

export function forgetUnsent(flow: string, editId: string): void {
  try {
    localStorage.removeItem(prefix(flow) + editId);
  } catch {
    // what could not be kept need not be forgotten
  }
}

/** The edits of a flow that were made before the page was loaded and have not reached the server, oldest first. */
export function unsentOf(flow: string): SentEdit[] {
  try {
    const found: Kept[] = [];
    for (let n = 0; n < localStorage.length; n++) {
      const key = localStorage.key(n)!;
      if (key.startsWith(prefix(flow))) found.push(JSON.parse(localStorage.getItem(key)!) as Kept);
    }
    return found.sort((a, b) => a.at - b.at).map(({ edit }) => edit);
  } catch {
    return [];
  }
}
