/**
 * The open flow in the browser: the document as the server has it, the edits that are on their way, and the document
 * that both make together. Edits show at once, go out one after another and wait while the server cannot be reached. One
 * that the server does not keep is set aside, so that those behind it go on.
 */
import { apply, change, Conflict, rebase, type Change } from '@crow-lane/core/document/patch';
import { duplicatePlace } from '@crow-lane/core/document/edits/copies';
import type { FlowDocument, Id } from '@crow-lane/core/document/types';
import { freshId } from '../id.ts';
import { includes, type Me, type Right } from '../rights.ts';
import { trouble } from '../trouble.ts';
import { author } from './author.svelte.ts';
import { Company } from './company.svelte.ts';
import { hearLive } from './live.ts';
import { plainLabel, UndoStack, type Done } from './undo.svelte.ts';
import { forgetUnsent, keepUnsent, unsentOf, type Aside } from './unsent.ts';
import {
  copyFlow,
  Failed,
  fetchChanges,
  fetchFlow,
  fetchInverse,
  fetchKept,
  fetchWords,
  Refused,
  sendEdit,
  serverIsWell,
  Unreachable,
  type FetchedFlow,
  type RevisionNote,
  type RevisionWords,
  type SentEdit
} from './api.ts';

export type Keeping = 'kept' | 'keeping' | 'waiting';

export interface Notice {
  text: string;
  /** Something did not happen that was asked for. */
  bad: boolean;
  /** What can be done about it in one act. */
  act?: { label: string; run: () => void };
}

/** A flow opens with so many revisions in words; earlier ones are asked for when they are needed. */
export const openingWords = 50;
/** An edit that the server fails on so many times, while it does all else, is set aside. */
const mostTries = 3;
/** Who has missed more revisions than this loads the flow again. */
const mostMissed = 200;

export class OpenFlow {
  document: FlowDocument = $state.raw(undefined as unknown as FlowDocument);
  /** The document as the picture shows it, a moment later: what is done is seen at once on the desk, then on the lane. */
  drawn: FlowDocument = $state.raw(undefined as unknown as FlowDocument);
  /** The revision that the server has and that the document rests on. */
  revision = $state(0);
  /** Edits that the server has not acknowledged yet. */
  pending: SentEdit[] = $state.raw([]);
  /** Edits that the server would not keep. */
  aside: Aside[] = $state.raw([]);
  keeping: Keeping = $state('kept');
  /** Why edits wait. */
  trouble: string = $state(trouble.server);
  /** Whether the browser keeps what waits, so that the page may be closed. */
  safe = true;
  notice: Notice | undefined = $state(undefined);

  /** What may be done with it, and by whom. */
  readonly may: Right;
  readonly me: Me;
  readonly history = new UndoStack(() => author.name);
  readonly company: Company;
  private base: FlowDocument;
  private sending = false;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private wait = 500;
  /** The edit that was last sent in vain, and how often it was when the server was well. */
  private failing: { editId: string; tries: number } | undefined;
  private stepping = false;
  private catching = false;
  private unheard: (() => void) | undefined;

  constructor(
    readonly id: string,
    start: FetchedFlow,
    words: RevisionWords[]
  ) {
    this.may = start.may;
    this.me = start.me;
    if (start.me.accounts) author.sign(start.me.person?.name ?? 'A guest');
    this.company = new Company(id);
    this.base = start.document;
    this.document = start.document;
    this.revision = start.revision;
    this.history.recall(words, words.length < openingWords);
    // what somebody else left at this browser stays theirs
    const mine = (edit: SentEdit) => this.mayEdit && (!start.me.accounts || edit.author === author.name);
    const unsent = unsentOf(id);
    const waiting = unsent.waiting.filter(mine);
    this.aside = unsent.aside.filter(({ edit }) => mine(edit));
    const known = new Set(words.map(({ editId }) => editId));
    this.adopt(waiting.filter(({ editId }) => !known.has(editId) || forgetUnsent(id, editId)));
    this.drawn = this.document;
  }

  /** Edits made before the page was loaded that have not reached the server: made again here, and sent. */
  private adopt(edits: SentEdit[]): void {
    for (const edit of edits) {
      try {
        this.take(edit, this.fitted(edit));
      } catch (error) {
        if (!(error instanceof Conflict)) throw error;
        // it may have been kept before the revisions that the page opened with
        void this.clashUnlessKept(edit);
      }
    }
    if (this.pending.length > 0)
      this.notice ??= { bad: false, text: `${counted(this.pending.length)} from before the page was closed: being sent now.` };
  }

  private async clashUnlessKept(edit: SentEdit): Promise<void> {
    const kept = await fetchKept(this.id, [edit.editId]).catch(() => []);
    if (kept.length > 0) forgetUnsent(this.id, edit.editId);
    else this.clash(edit);
  }

  /** An edit as a change of the document as it now is; throws `Conflict`. */
  private fitted({ patch, label }: SentEdit): Change {
    const fitting = rebase(patch, this.document);
    return change(
      this.document,
      label,
      fitting.filter(({ op }) => op !== 'test')
    );
  }

  /** An edit that no longer fits what the server has. */
  private clash({ editId, label }: SentEdit, by?: { author: string; label: string }): void {
    forgetUnsent(this.id, editId);
    this.history.forget(editId);
    this.notice = { bad: true, text: `Not done: ${label}. ${clashWords(by)}` };
  }

  /** Begins to listen for what others change. Gives a function that ends it. */
  listen(): () => void {
    this.unheard = hearLive(this.id, () => this.revision, {
      revision: (revision) => {
        if (revision.number > this.revision + 1) void this.catchUp(revision.number);
        else this.receive(revision);
      },
      newest: (revision) => void this.catchUp(revision),
      present: (present) => this.company.hear(present),
      // the stream coming back is the first sign that the server is there again
      open: () => this.flush()
    });
    const leave = this.company.join();
    // sent now that the page is there
    if (this.pending.length > 0) this.flush();
    return () => {
      leave();
      this.unheard?.();
      clearTimeout(this.retry);
    };
  }

  get mayEdit(): boolean {
    return includes(this.may, 'edit');
  }

  /** Makes a change. It shows at once and is kept as soon as the server can be reached. */
  edit(made: Change): void {
    if (made.patch.length > 0) this.make('edit', made, made.label);
  }

  /** Gives the present revision a name: a revision of its own that changes nothing. */
  mark(name: string): void {
    this.make('edit', {
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

  undo(): Promise<void> {
    return this.step('undo');
  }

  redo(): Promise<void> {
    return this.step('redo');
  }

  private async step(kind: 'undo' | 'redo'): Promise<void> {
    // what is still being asked for comes first
    if (this.stepping) return;
    this.stepping = true;
    try {
      const done = await this.toStep(kind);
      if (!done) return;
      const fitted = rebase(done.inverse!, this.document).filter(({ op }) => op !== 'test');
      const made = change(this.document, `${kind === 'undo' ? 'Undo' : 'Redo'}: ${done.label}`, fitted);
      this.make(kind, made, done.label);
    } catch (error) {
      if (error instanceof Conflict) {
        const { undos, redos } = this.history;
        const { editId, label } = (kind === 'undo' ? undos : redos).at(-1)!;
        this.history.forget(editId);
        this.notice = { bad: true, text: `“${label}” cannot be taken back: another edit has changed the same part.` };
      } else this.notice = { bad: true, text: `Nothing was taken back. ${(error as Error).message}` };
    } finally {
      this.stepping = false;
    }
  }

  /** What is to be taken back next, asked of the server where it was done before the page was loaded. */
  private async toStep(kind: 'undo' | 'redo'): Promise<Done | undefined> {
    const { history } = this;
    while (kind === 'undo' && history.undos.length === 0 && history.earlier !== undefined) {
      const words = await fetchWords(this.id, 200, history.earlier);
      history.recall(words, words.length < 200);
    }
    const done = (kind === 'undo' ? history.undos : history.redos).at(-1);
    if (done && !done.inverse) done.inverse = await fetchInverse(this.id, done.number!);
    return done;
  }

  /** Makes a change as a new edit; `name` is what it is called when it can be taken back. */
  private make(kind: SentEdit['kind'], made: Change, name?: string): void {
    const { label, patch } = made;
    if (!this.mayEdit) return this.refuseToEdit();
    this.notice = undefined;
    this.take({ editId: freshId(), kind, label, patch, author: author.name }, made, name);
    this.flush();
  }

  /** Said instead of an edit; the way out is a copy, where one may be made. */
  private refuseToEdit(): void {
    const mayCopy = this.me.person !== undefined && this.me.person.role !== 'guest';
    const copy = () =>
      void copyFlow(this.id).then(
        (id) => location.assign(`/flows/${id}`),
        (error: Error) => (this.notice = { bad: true, text: error.message })
      );
    this.notice = {
      bad: true,
      text: 'Nothing was changed: you may read this flow, not edit it.',
      ...(mayCopy ? { act: { label: 'Take a copy', run: copy } } : {})
    };
  }

  private take(edit: SentEdit, { patch, inverse }: Change, name = plainLabel(edit.label)): void {
    const { kind, editId } = edit;
    this.document = apply(this.document, patch);
    if (inverse.length > 0) this.history.remember(kind, { label: name, editId, inverse });
    const sent = { ...edit, patch };
    this.pending = [...this.pending, sent];
    this.safe = keepUnsent(this.id, sent) && this.safe;
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
      // whether it is this edit that the server breaks on shows only when it is well otherwise
      const well = this.failing?.editId !== next.editId || (await serverIsWell());
      try {
        if (!well) throw new Unreachable(this.trouble);
        const revision = await sendEdit(this.id, this.revision, next);
        this.wait = 500;
        this.failing = undefined;
        this.keeping = 'keeping';
        await this.fetchMissed(revision);
        this.receive(revision);
      } catch (error) {
        if (error instanceof Refused) {
          await this.refused(next, error);
          continue;
        }
        const known = this.failing?.editId === next.editId ? this.failing.tries : 0;
        // an answer counts at once, silence only of a server that was well a moment before
        const counts = !(error instanceof Unreachable) || (well && this.failing?.editId === next.editId);
        this.failing = { editId: next.editId, tries: known + Number(counts) };
        if (this.failing.tries >= mostTries) {
          this.setAside(next, error instanceof Failed ? error.message : `The server fails on it. ${(error as Error).message}`);
          this.wait = 500;
          continue;
        }
        this.trouble = error instanceof Unreachable ? error.message : trouble.fault;
        this.keeping = 'waiting';
        this.retry = setTimeout(() => this.flush(), this.wait);
        this.wait = Math.min(this.wait * 2, 10_000);
        return;
      }
    }
    this.keeping = 'kept';
  }

  /** Others may have kept revisions that have not come by the stream yet. */
  private async fetchMissed({ number }: RevisionNote): Promise<void> {
    while (number > this.revision + 1) {
      const { revisions, revision } = await fetchChanges(this.id, this.revision);
      if (revision - this.revision > mostMissed || revisions.length === 0) return await this.load();
      for (const missed of revisions) if (missed.number < number) this.receive(missed);
    }
  }

  /** Brings the page to the newest revision when something did not come by the stream. */
  private async catchUp(newest: number): Promise<void> {
    if (this.catching || newest <= this.revision) return;
    this.catching = true;
    try {
      if (newest - this.revision > mostMissed) await this.load();
      for (let before = -1; newest > this.revision && before !== this.revision;) {
        before = this.revision;
        const { revisions, revision } = await fetchChanges(this.id, this.revision);
        for (const each of revisions) this.receive(each);
        newest = revision;
      }
    } catch {
      // the stream, or the next edit, will tell again
    } finally {
      this.catching = false;
    }
  }

  /** Takes the flow as the server now has it, and on it what is on its way. */
  private async load(): Promise<void> {
    const { document, revision } = await fetchFlow(this.id);
    if (revision <= this.revision) return;
    this.base = document;
    this.revision = revision;
    // what was kept meanwhile would be made a second time
    const kept =
      this.pending.length > 0
        ? await fetchKept(
            this.id,
            this.pending.map(({ editId }) => editId)
          )
        : [];
    for (const { editId } of kept) this.drop(editId);
    this.rebuild();
  }

  /** The edit was refused: it is taken out, and the page shows what the server has. */
  private async refused(edit: SentEdit, { message, status, errors, by }: Refused): Promise<void> {
    const details = errors[0] ? ` ${errors[0].pointer}: ${errors[0].message}.` : '';
    if (status !== 409) return this.setAside(edit, `${message}${details}`);
    this.drop(edit.editId);
    await this.load().catch(() => {
      // the next answer will bring the newest state
    });
    this.rebuild();
    this.clash(edit, by);
  }

  /** Takes an edit out of what is sent, and keeps it where it can be tried again. */
  private setAside(edit: SentEdit, why: string): void {
    this.failing = undefined;
    this.drop(edit.editId);
    this.history.forget(edit.editId);
    keepUnsent(this.id, edit, why);
    this.aside = [...this.aside, { edit, why }];
    this.rebuild((resting) => this.setAside(resting, `It rests on an edit that was set aside: ${edit.label}.`));
  }

  /** Makes an edit that was set aside once more. */
  tryAgain({ edit }: Aside): void {
    try {
      this.notice = undefined;
      const made = this.fitted(edit);
      this.dropAside(edit.editId);
      this.take(edit, made);
      this.flush();
    } catch (error) {
      if (!(error instanceof Conflict)) throw error;
      const why = 'The part that it changes is different now.';
      this.aside = this.aside.map((each) => (each.edit === edit ? { edit, why } : each));
    }
  }

  /** Forgets an edit that was set aside. */
  dropAside(editId: string): void {
    this.aside = this.aside.filter(({ edit }) => edit.editId !== editId);
    forgetUnsent(this.id, editId);
  }

  /** A revision that the server has kept, mine or another's. Revisions that are known already change nothing. */
  private receive(revision: RevisionNote): void {
    if (revision.number !== this.revision + 1) return;
    const [first] = this.pending;
    const asSent = first?.editId === revision.editId && JSON.stringify(first.patch) === JSON.stringify(revision.patch);
    // what is shown has it already: it stays the same document, so that nothing is drawn or checked again
    this.base = asSent && this.pending.length === 1 ? this.document : apply(this.base, revision.patch);
    this.revision = revision.number;
    const mine = this.pending.some(({ editId }) => editId === revision.editId);
    this.drop(revision.editId);
    if (!asSent) this.rebuild((edit) => this.clash(edit, revision));
    if (!mine && revision.author !== author.name) this.notice = { bad: false, text: `${revision.author}: ${revision.label}` };
  }

  /** An edit is with the server, or never will be. */
  private drop(edit: string): void {
    this.pending = this.pending.filter(({ editId }) => editId !== edit);
    forgetUnsent(this.id, edit);
    if (this.pending.length === 0) this.safe = true;
  }

  /** The document once more: what the server has, and on it what is on its way. What no longer fits is handed over. */
  private rebuild(unfit: (edit: SentEdit) => void = (edit) => this.clash(edit)): void {
    let document = this.base;
    const fitting: SentEdit[] = [];
    const others: SentEdit[] = [];
    for (const edit of this.pending) {
      try {
        const patch = rebase(edit.patch, document);
        document = apply(document, patch);
        fitting.push({ ...edit, patch });
      } catch (error) {
        if (!(error instanceof Conflict)) throw error;
        others.push(edit);
      }
    }
    this.pending = fitting;
    this.document = document;
    others.forEach(unfit);
  }
}

const counted = (edits: number) => (edits === 1 ? 'One edit' : `${edits} edits`);
const clashWords = (by: { author: string; label: string } | undefined) =>
  by
    ? `${by.author} has changed the same part (${by.label}); that is kept.`
    : 'Someone else has changed the same part; their change is kept.';
