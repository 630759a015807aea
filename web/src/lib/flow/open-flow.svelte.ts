/**
 * The open flow in the browser: the document as the server has it, the edits that are on their way, and the document
 * that both make together. Edits show at once, go out one after another and wait while the server cannot be reached.
 */
import { apply, change, Conflict, rebase, type Change, type Patch } from '@crow-lane/core/document/patch';
import { duplicatePlace } from '@crow-lane/core/document/edits/copies';
import type { FlowDocument, Id } from '@crow-lane/core/document/types';
import type { Present } from '../present.ts';
import { author } from './author.svelte.ts';
import { Company } from './company.svelte.ts';
import { forgetUnsent, keepUnsent, unsentOf } from './unsent.ts';
import { fetchFlow, fetchRevisions, Refused, sendEdit, type RevisionNote, type SentEdit } from './api.ts';

/** Something that was done and can be undone. */
interface Done {
  label: string;
  inverse: Patch;
}

export type Keeping = 'kept' | 'keeping' | 'waiting';

export interface Notice {
  text: string;
  /** Something did not happen that was asked for. */
  bad: boolean;
}

export class OpenFlow {
  document: FlowDocument = $state.raw(undefined as unknown as FlowDocument);
  /** The document as the picture shows it, a moment later: what is done is seen at once on the desk, then on the lane. */
  drawn: FlowDocument = $state.raw(undefined as unknown as FlowDocument);
  /** The revision that the server has and that the document rests on. */
  revision = $state(0);
  /** Edits that the server has not acknowledged yet. */
  pending: SentEdit[] = $state.raw([]);
  keeping: Keeping = $state('kept');
  /** Whether the browser keeps what waits, so that the page may be closed. */
  safe = true;
  notice: Notice | undefined = $state(undefined);
  undos: Done[] = $state.raw([]);
  redos: Done[] = $state.raw([]);

  readonly company: Company;
  private base: FlowDocument;
  private sending = false;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private wait = 500;
  private stream: EventSource | undefined;

  constructor(
    readonly id: string,
    start: { document: FlowDocument; revision: number },
    history: RevisionNote[]
  ) {
    this.company = new Company(id);
    this.base = start.document;
    this.document = start.document;
    this.revision = start.revision;
    this.recall(history);
    this.adopt(history);
    this.drawn = this.document;
  }

  /** What this author could undo and redo before the page was loaded. `history` is newest first. */
  private recall(history: RevisionNote[]): void {
    for (const { author: who, kind, label, inverse } of [...history].reverse()) {
      // giving a revision a name changes nothing that could be taken back
      if (who === author.name && inverse && inverse.length > 0) this.remember(kind, { label: plainLabel(label), inverse });
    }
  }

  private remember(kind: SentEdit['kind'], done: Done): void {
    if (kind === 'undo') {
      this.undos = this.undos.slice(0, -1);
      this.redos = [...this.redos, done];
    } else {
      this.redos = kind === 'redo' ? this.redos.slice(0, -1) : [];
      this.undos = [...this.undos, done];
    }
  }

  /** Edits made before the page was loaded that have not reached the server: made again here, and sent. */
  private adopt(history: RevisionNote[]): void {
    const there = new Set(history.map(({ editId }) => editId));
    for (const edit of unsentOf(this.id)) {
      if (there.has(edit.editId)) {
        forgetUnsent(this.id, edit.editId);
        continue;
      }
      try {
        const patch = rebase(edit.patch, this.document);
        const made = change(
          this.document,
          edit.label,
          patch.filter(({ op }) => op !== 'test')
        );
        this.document = apply(this.document, made.patch);
        this.pending = [...this.pending, { ...edit, patch }];
        if (made.inverse.length > 0) this.remember(edit.kind, { label: plainLabel(edit.label), inverse: made.inverse });
      } catch (error) {
        if (!(error instanceof Conflict)) throw error;
        this.clash(edit);
      }
    }
    if (this.pending.length > 0)
      this.notice ??= { bad: false, text: `${counted(this.pending.length)} from before the page was closed: being sent now.` };
  }

  /** An edit that no longer fits what the server has. */
  private clash({ editId, label }: SentEdit, by?: { author: string; label: string }): void {
    forgetUnsent(this.id, editId);
    this.notice = { bad: true, text: `Not done: ${label}. ${clashWords(by)}` };
  }

  /** Begins to listen for what others change. Gives a function that ends it. */
  listen(): () => void {
    this.stream = new EventSource(`/api/flows/${this.id}/events?after=${this.revision}`);
    this.stream.addEventListener('revision', (event) =>
      this.receive(JSON.parse((event as MessageEvent<string>).data) as RevisionNote)
    );
    // the stream coming back is the first sign that the server is there again
    this.stream.addEventListener('presence', (event) =>
      this.company.hear(JSON.parse((event as MessageEvent<string>).data) as Present[])
    );
    this.stream.addEventListener('open', () => this.flush());
    const leave = this.company.join();
    return () => {
      leave();
      this.stream?.close();
      clearTimeout(this.retry);
    };
  }

  /** Makes a change. It shows at once and is kept as soon as the server can be reached. */
  edit(made: Change): void {
    if (made.patch.length === 0) return;
    this.remember('edit', { label: made.label, inverse: made.inverse });
    this.take('edit', made);
  }

  /** Gives the present revision a name: a revision of its own that changes nothing. */
  mark(name: string): void {
    this.take('edit', {
      label: `Named: ${name}`,
      patch: [{ op: 'test', path: '/name', value: this.document.name }],
      inverse: []
    });
  }

  /** Copies a place beside itself; gives the copy's id. */
  duplicate(place: Id): Id {
    const copy = duplicatePlace(this.document, place);
    this.edit(copy);
    return copy.ids[0]!;
  }

  undo(): void {
    this.step('undo');
  }

  redo(): void {
    this.step('redo');
  }

  private step(kind: 'undo' | 'redo'): void {
    const done = (kind === 'undo' ? this.undos : this.redos).at(-1);
    if (!done) return;
    let made: Change;
    try {
      const fitted = rebase(done.inverse, this.document).filter(({ op }) => op !== 'test');
      made = change(this.document, `${kind === 'undo' ? 'Undo' : 'Redo'}: ${done.label}`, fitted);
    } catch (error) {
      if (!(error instanceof Conflict)) throw error;
      if (kind === 'undo') this.undos = this.undos.slice(0, -1);
      else this.redos = this.redos.slice(0, -1);
      this.notice = { bad: true, text: `“${done.label}” cannot be taken back: somebody has changed the same part since.` };
      return;
    }
    this.remember(kind, { label: done.label, inverse: made.inverse });
    this.take(kind, made);
  }

  private take(kind: SentEdit['kind'], { label, patch }: Change): void {
    this.document = apply(this.document, patch);
    const edit: SentEdit = { editId: crypto.randomUUID(), kind, label, patch, author: author.name };
    this.pending = [...this.pending, edit];
    this.notice = undefined;
    this.safe = keepUnsent(this.id, edit) && this.safe;
    this.flush();
  }

  /** Sends what waits, one edit after another. */
  private flush(): void {
    clearTimeout(this.retry);
    if (this.sending) return;
    this.sending = true;
    void this.sendAll().finally(() => (this.sending = false));
  }

  private async sendAll(): Promise<void> {
    for (let next = this.pending[0]; next; next = this.pending[0]) {
      if (this.keeping !== 'waiting') this.keeping = 'keeping';
      try {
        const revision = await sendEdit(this.id, this.revision, next);
        this.wait = 500;
        this.keeping = 'keeping';
        await this.fetchMissed(revision);
        this.receive(revision);
      } catch (error) {
        if (error instanceof Refused) await this.refused(next, error);
        else {
          this.keeping = 'waiting';
          this.retry = setTimeout(() => this.flush(), this.wait);
          this.wait = Math.min(this.wait * 2, 10_000);
          return;
        }
      }
    }
    this.keeping = 'kept';
  }

  /** Others may have kept revisions that have not come by the stream yet. */
  private async fetchMissed(revision: RevisionNote): Promise<void> {
    if (revision.number <= this.revision + 1) return;
    for (const missed of await fetchRevisions(this.id, `after=${this.revision}&limit=1000`)) {
      if (missed.number < revision.number) this.receive(missed);
    }
  }

  /** The edit was refused: it is taken out, and the page shows what the server has. */
  private async refused(edit: SentEdit, { message, status, errors, by }: Refused): Promise<void> {
    this.drop(edit.editId);
    this.undos = this.undos.filter(({ label }) => label !== edit.label);
    const details = errors[0] ? ` ${errors[0].pointer}: ${errors[0].message}.` : '';
    const text = status === 409 ? clashWords(by) : `${message}${details}`;
    try {
      const { document, revision } = await fetchFlow(this.id);
      this.base = document;
      this.revision = revision;
    } catch {
      // the next answer will bring the newest state
    }
    this.rebuild();
    this.notice = { bad: true, text: `Not done: ${edit.label}. ${text}` };
  }

  /** A revision that the server has kept, mine or another's. Revisions that are known already change nothing. */
  private receive(revision: RevisionNote): void {
    if (revision.number !== this.revision + 1) return;
    const [first] = this.pending;
    const asSent = first?.editId === revision.editId && JSON.stringify(first.patch) === JSON.stringify(revision.patch);
    // what is shown has it already: it stays the same document, so that nothing is drawn or checked anew
    this.base = asSent && this.pending.length === 1 ? this.document : apply(this.base, revision.patch);
    this.revision = revision.number;
    const mine = this.pending.some(({ editId }) => editId === revision.editId);
    this.drop(revision.editId);
    if (!asSent) this.rebuild(revision);
    if (!mine && revision.author !== author.name) this.notice = { bad: false, text: `${revision.author}: ${revision.label}` };
  }

  /** An edit is with the server, or never will be. */
  private drop(edit: string): void {
    this.pending = this.pending.filter(({ editId }) => editId !== edit);
    forgetUnsent(this.id, edit);
    if (this.pending.length === 0) this.safe = true;
  }

  /** The document anew: what the server has, and on it what is on its way. */
  private rebuild(by?: RevisionNote): void {
    let document = this.base;
    const fitting: SentEdit[] = [];
    for (const edit of this.pending) {
      try {
        const patch = rebase(edit.patch, document);
        document = apply(document, patch);
        fitting.push({ ...edit, patch });
      } catch (error) {
        if (!(error instanceof Conflict)) throw error;
        this.clash(edit, by);
      }
    }
    this.pending = fitting;
    this.document = document;
  }
}

const counted = (edits: number) => (edits === 1 ? 'One edit' : `${edits} edits`);
const clashWords = (by: { author: string; label: string } | undefined) =>
  by
    ? `${by.author} has changed the same part since (${by.label}); that is kept.`
    : 'Somebody has changed the same part since; theirs is kept.';
const plainLabel = (label: string) => label.replace(/^(Undo|Redo): /, '');
