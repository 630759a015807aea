/** What can be undone and redone: what this page did, and before that what this author did, as the server's history has it. */
import type { Patch } from '@crow-lane/core/document/patch';
import type { RevisionWords } from './api.ts';

/** Something that was done and can be taken back. */
export interface Done {
  label: string;
  /** The edit by which it was done. */
  editId: string;
  /** What takes it back; missing where the server has to be asked for it. */
  inverse?: Patch;
  /** The revision that keeps it, where the server has to be asked. */
  number?: number;
}

export class UndoStack {
  undos: Done[] = $state.raw([]);
  redos: Done[] = $state.raw([]);
  /** Revisions before this one have not been looked at; undefined when all have. */
  earlier: number | undefined = $state(undefined);
  /** So many undone edits are still to be found among the earlier revisions. */
  private undone = 0;

  constructor(private readonly author: () => string) {}

  /** Whether there is, or may be, something to undo. */
  get canUndo(): boolean {
    return this.undos.length > 0 || this.earlier !== undefined;
  }

  remember(kind: RevisionWords['kind'], done: Done): void {
    if (kind === 'undo') {
      this.undos = this.undos.slice(0, -1);
      this.redos = [...this.redos, done];
    } else {
      this.redos = kind === 'redo' ? this.redos.slice(0, -1) : [];
      this.undos = [...this.undos, done];
    }
  }

  /** An edit that never came to be cannot be taken back either. */
  forget(editId: string): void {
    this.undos = this.undos.filter((done) => done.editId !== editId);
    this.redos = this.redos.filter((done) => done.editId !== editId);
  }

  /** What the author did earlier, newest first: below what is known already. `all`: there is nothing before it. */
  recall(words: RevisionWords[], all: boolean): void {
    const first = this.undos.length === 0 && this.redos.length === 0 && this.undone === 0;
    let undos: Done[] = [];
    let redos: Done[] = [];
    let missing = 0;
    for (const { number, author, kind, label, editId } of [...words].reverse()) {
      // giving a revision a name changes nothing that could be taken back
      if (author !== this.author() || label.startsWith('Named: ')) continue;
      const done: Done = { label: plainLabel(label), editId, number };
      if (kind === 'undo') {
        if (undos.length === 0) missing++;
        undos = undos.slice(0, -1);
        redos = [...redos, done];
      } else {
        redos = kind === 'redo' ? redos.slice(0, -1) : [];
        undos = [...undos, done];
      }
    }
    const left = Math.max(0, undos.length - this.undone);
    this.undone = Math.max(0, this.undone - undos.length) + missing;
    this.undos = [...undos.slice(0, left), ...this.undos];
    if (first) this.redos = redos;
    this.earlier = all ? undefined : words.at(-1)!.number;
  }
}

export const plainLabel = (label: string) => label.replace(/^(Undo|Redo): /, '');
