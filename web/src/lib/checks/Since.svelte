<script lang="ts">
  import type { VerdictChange } from '@crow-lane/core/check/compare';
  import { onDestroy } from 'svelte';
  import { fetchRevisions, type RevisionNote } from '$lib/flow/api.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import { documentAt } from '$lib/flow/history.ts';
  import { Tries } from './tries.ts';

  /** Which verdicts changed since an earlier revision, and by which edits. */
  let { onsince }: { onsince: (changes: VerdictChange[] | undefined) => void } = $props();
  const { flow } = flowContext();
  const tries = new Tries();
  onDestroy(() => tries.stop());
  /** Every revision in between is checked: with more than these only the two ends are. */
  const most = 60;

  let notes: RevisionNote[] = $state.raw([]);
  let since: number | undefined = $state();
  let changes: (VerdictChange & { by?: RevisionNote })[] | undefined = $state.raw();
  let busy = $state('');
  $effect(() => {
    void flow.revision;
    void fetchRevisions(flow.id, 'limit=200').then(
      (got) => (notes = got),
      () => (notes = [])
    );
  });

  async function compare(revision: number) {
    since = revision;
    changes = undefined;
    onsince(undefined);
    const { document } = flow;
    const between = notes.filter(({ number }) => number > revision);
    const current = () => since === revision && flow.document === document;
    busy = 'checking both…';
    const found = await tries.between(documentAt(document, notes, revision), document);
    if (!current()) return;
    busy = '';
    if (!found) return;
    changes = found;
    onsince(found);
    if (between.length > most || found.length === 0) return;
    // by which edit each came to be as it is: the last one that changed it
    const by = new Map<string, RevisionNote>();
    const oldestFirst = [...between].reverse();
    for (const [index, note] of oldestFirst.entries()) {
      busy = `edit ${index + 1} of ${between.length}`;
      const step = await tries.between(documentAt(document, notes, note.number - 1), documentAt(document, notes, note.number));
      if (!current()) return;
      for (const { check, subject } of step ?? []) by.set(`${check} ${subject}`, note);
    }
    busy = '';
    changes = found.map((change) => ({ ...change, by: by.get(`${change.check} ${change.subject}`) }));
  }
  const words = { broken: 'fails now', mended: 'mended', other: 'changed' };
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
      {#each notes as { number, label } (number)}<option value={number - 1}>{number - 1}, before: {label.slice(0, 60)}</option
        >{/each}
    </select></label
  >
  {#if busy}<span class="dim" role="status">{busy}</span>{/if}
</p>
{#if changes}
  <ul class="changes">
    {#each changes as { check, subject, is, verdict, by } (`${check} ${subject}`)}
      <li class={is}>
        <b class={is === 'mended' ? 'won' : is === 'broken' ? 'lost' : ''}>{words[is]}</b>
        {verdict.message}
        {#if by}<span class="dim">by “{by.label}”, revision {by.number}, {by.author}</span>{/if}
      </li>
    {/each}
    {#if changes.length === 0}<li class="dim">No verdict is another since.</li>{/if}
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
  .mended {
    border-left: 4px double var(--won);
  }
</style>
