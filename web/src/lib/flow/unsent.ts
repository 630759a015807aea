/** Edits that the server does not have yet, kept in the browser, so that closing or reloading the page loses none. */
import type { SentEdit } from './api.ts';

interface Kept {
  at: number;
  edit: SentEdit;
  /** Set aside, for this reason. */
  why?: string;
}

/** An edit that the server would not keep. */
export interface Aside {
  edit: SentEdit;
  why: string;
}

const prefix = (flow: string) => `unsent ${flow} `;

/** Keeps an edit until it is known to be with the server. Tells whether the browser could. */
export function keepUnsent(flow: string, edit: SentEdit, why?: string): boolean {
  try {
    localStorage.setItem(
      prefix(flow) + edit.editId,
      JSON.stringify({ at: performance.timeOrigin + performance.now(), edit, why } satisfies Kept)
    );
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
export function unsentOf(flow: string): { waiting: SentEdit[]; aside: Aside[] } {
  const waiting: SentEdit[] = [];
  const aside: Aside[] = [];
  for (const { edit, why } of keptOf(flow)) {
    if (why === undefined) waiting.push(edit);
    else aside.push({ edit, why });
  }
  return { waiting, aside };
}

function keptOf(flow: string): Kept[] {
  try {
    const found: Kept[] = [];
    for (let n = 0; n < localStorage.length; n++) {
      const key = localStorage.key(n)!;
      if (key.startsWith(prefix(flow))) found.push(JSON.parse(localStorage.getItem(key)!) as Kept);
    }
    return found.sort((a, b) => a.at - b.at);
  } catch {
    return [];
  }
}
