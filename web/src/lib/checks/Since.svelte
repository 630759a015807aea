<script lang="ts">
  import { verdictKey } from '@crow-lane/core/report/report';
  import type { VerdictChange } from '@crow-lane/core/report/compare';
  import { cut } from '@crow-lane/core/document/cut';
  import type { FlowDocument } from '@crow-lane/core/document/types';
  import { onDestroy } from 'svelte';
  import { apply } from '@crow-lane/core/document/patch';
  import { fetchFlow, fetchPatches, fetchWords, type RevisionWords } from '$lib/flow/api.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import { Tries } from './tries.ts';

  /** Which verdicts changed since an earlier revision, and by which edits. */
  let { onsince }: { onsince: (changes: VerdictChange[] | undefined) => void } = $props();
  const { flow } = flowContext();
  const tries = new Tries();
  onDestroy(() => tries.stop());
  /** Every revision in between is checked: with more than these only the two ends are. */
  const most = 60;

  let notes: RevisionWords[] = $state.raw([]);
  let since: number | undefined = $state();
  let changes: (VerdictChange & { by?: RevisionWords })[] | undefined = $state.raw();
  let busy = $state('');
  $effect(() => {
    void flow.revision;
    void fetchWords(flow.id, 200).then(
      (got) => (notes = got),
      () => (notes = [])
    );
  });

  async function compare(revision: number) {
    since = revision;
    changes = undefined;
    onsince(undefined);
    const { document, revision: present } = flow;
    const current = () => since === revision && flow.document === document;
    busy = 'checking both…';
    try {
      const { document: before } = await fetchFlow(flow.id, revision);
      const found = await tries.between(before, document);
      if (!current()) return;
      busy = '';
      if (!found) return;
      changes = found;
      onsince(found);
      if (present - revision > most || found.length === 0) return;
      await findEdits(revision, before, found, current);
    } catch (error) {
      if (current()) busy = (error as Error).message;
    }
  }

  /** By which edit each verdict came to be as it is: the last one that changed it. */
  async function findEdits(revision: number, before: FlowDocument, found: VerdictChange[], current: () => boolean) {
    const between = await fetchPatches(flow.id, revision, most);
    const by = new Map<string, RevisionWords>();
    for (const [index, note] of between.entries()) {
      busy = `edit ${index + 1} of ${between.length}`;
      const after = apply(before, note.patch);
      const step = await tries.between(before, after);
      if (!current()) return;
      for (const change of step ?? []) by.set(verdictKey(change), note);
      before = after;
    }
    busy = '';
    changes = found.map((change) => ({ ...change, by: by.get(verdictKey(change)) }));
  }
  const words = { broken: 'fails now', fixed: 'fixed', other: 'changed' };
</script>

<p class="choose">
  <label
    >Compare with
    <select
      class="select select-xs"
      aria-label="Compare with the revision"
      disabled={notes.length === 0 || flow.pending.length > 0}
      value={since ?? ''}
      onchange={(event) => {
        const { value } = event.currentTarget;
        if (value) void compare(Number(value));
        else {
          since = changes = undefined;
          onsince(undefined);
        }
      }}
    >
      <option value="">no earlier revision</option>
      {#each notes as { number, label } (number)}<option value={number - 1}>{number - 1}, before: {cut(label, 60)}</option>{/each}
    </select></label
  >
  {#if busy}<span class="dim" role="status">{busy}</span>{/if}
</p>
{#if changes}
  <ul class="changes">
    {#each changes as { is, verdict, by }, index (index)}
      <li class={is}>
        <b class={is === 'fixed' ? 'won' : is === 'broken' ? 'lost' : ''}>{words[is]}</b>
        {verdict.message}
        {#if by}<span class="dim">by “{by.label}”, revision {by.number}, {by.author}</span>{/if}
      </li>
    {/each}
    {#if changes.length === 0}<li class="dim">No verdict has changed.</li>{/if}
  </ul>
{/if}

<style>
  .choose {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  label {
    display: flex;
    gap: 6px;
    align-items: center;
    white-space: nowrap;
  }
  select {
    width: 240px;
  }
  .changes {
    max-height: 220px;
    overflow: auto;
    margin: 4px 0;
    font-size: 12px;
  }
  li {
    padding: 2px 0 2px 8px;
    border-left: 4px dotted var(--plain);
    margin-bottom: 2px;
  }
  .broken {
    border-left: 4px solid var(--lost);
  }
  .fixed {
    border-left: 4px double var(--won);
  }
</style>
