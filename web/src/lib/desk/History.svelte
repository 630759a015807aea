<script lang="ts">
  import { restore } from '@crow-lane/core/document/edits/places';
  import type { FlowDocument } from '@crow-lane/core/document/types';
  import { differences } from '@crow-lane/core/words/differences';
  import { fetchFlow, fetchWords, type RevisionWords } from '$lib/flow/api.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import { ago } from '$lib/parts/shelf-words.ts';

  /** What was done, newest first; any two revisions beside each other; and the way back to one. */
  const { flow, view } = flowContext();
  let notes: RevisionWords[] = $state.raw([]);
  let failed = $state('');
  let all = $state(false);
  /** The revisions that are compared: the older one, and the newer one (undefined: as it is now). */
  let older: number | undefined = $state();
  let newer: number | undefined = $state();
  let name = $state('');
  const page = 100;

  // what is kept from now on is listed too
  $effect(() => {
    void flow.revision;
    void load();
  });

  async function load(before?: number) {
    try {
      const got = await fetchWords(flow.id, page, before);
      notes = before === undefined ? got : [...notes, ...got];
      all = got.length < page;
      failed = '';
    } catch (error) {
      failed = (error as Error).message;
    }
  }

  /** The document as it was at a revision; undefined while it is on its way, and where it cannot be had. */
  async function at(revision: number): Promise<FlowDocument | undefined> {
    try {
      const { document } = await fetchFlow(flow.id, revision);
      failed = '';
      return document;
    } catch (error) {
      failed = (error as Error).message;
      return undefined;
    }
  }

  /** What was done, and under it how the flow began. */
  const lines = $derived([
    ...notes.map(({ number, label, author, at: when }) => ({ number, label, by: `${author}, ${ago(when)}` })),
    ...(all ? [{ number: (notes.at(-1)?.number ?? flow.revision + 1) - 1, label: 'As it began', by: '' }] : [])
  ]);
  /** The documents that are compared, once they are there; the newer one is missing while it is the present one. */
  let before: FlowDocument | undefined = $state.raw();
  let after: FlowDocument | undefined = $state.raw();
  $effect(() => {
    const [from, to] = [older, newer];
    before = after = undefined;
    if (from === undefined) return;
    void Promise.all([at(from), to === undefined ? undefined : at(to)]).then((found) => {
      if (older === from && newer === to) [before, after] = found;
    });
  });
  const compared = $derived(before && (newer === undefined || after) ? differences(before, after ?? flow.document) : undefined);
  $effect(() => {
    view.differing =
      compared && new Map(compared.flatMap(({ place, is }) => (place === undefined ? [] : [[place, is] as const])));
    return () => (view.differing = undefined);
  });

  async function bringBack(revision: number) {
    const document = await at(revision);
    if (document) flow.edit(restore(flow.document, document, `Back to revision ${revision}`));
    older = newer = undefined;
  }

  function mark(event: SubmitEvent) {
    event.preventDefault();
    if (name.trim()) flow.mark(name.trim());
    name = '';
  }
</script>

<section aria-label="History">
  <h2>
    History
    <button type="button" class="btn btn-xs" onclick={() => (view.history = false)}>Close</button>
  </h2>
  <form onsubmit={mark}>
    <input
      class="input input-xs"
      placeholder="Name this revision: first playable"
      aria-label="Name of this revision"
      maxlength="80"
      bind:value={name}
    />
    {#if name.trim()}<button class="btn btn-xs">Name it</button>{/if}
  </form>
  {#if failed}<p class="lost">{failed}</p>{/if}
  <ol>
    {#each lines as { number, label, by } (number)}
      <li class:chosen={older === number || newer === number} class:named={label.startsWith('Named: ')}>
        <span class="number">{number}</span>
        <span class="said">{label.replace(/^Named: /, '')} <span class="dim">{by}</span></span>
        <span class="acts">
          {#if number !== flow.revision}
            <button type="button" class="link" onclick={() => ((older = number), (newer = undefined))}>compare with now</button>
          {/if}
          {#if older !== undefined && older !== number}
            <button
              type="button"
              class="link"
              onclick={() => {
                const pair = [older!, number].sort((a, b) => a - b);
                [older, newer] = [pair[0], pair[1]];
              }}>with {older}</button
            >
          {/if}
          {#if number !== flow.revision}
            <button type="button" class="link" onclick={() => void bringBack(number)}>bring back</button>
          {/if}
        </span>
      </li>
    {/each}
  </ol>
  {#if !all && notes.length > 0}
    <button type="button" class="btn btn-xs" onclick={() => load(notes.at(-1)!.number)}>Earlier ones</button>
  {/if}
</section>
<section aria-label="What is different">
  {#if older === undefined}
    <p class="dim">Choose a revision to see what has changed since.</p>
  {:else}
    <h2>From revision {older} to {newer ?? 'now'}</h2>
    {#if !compared}
      <p class="dim">Fetching…</p>
    {:else if compared.length === 0}
      <p class="dim">Nothing is different.</p>
    {/if}
    <ul>
      {#each compared ?? [] as { is, text, place }, index (index)}
        <li class={is}>
          <b>{is}</b>
          {#if place && flow.document.places[place]}<button type="button" class="text" onclick={() => (view.seek = { place })}
              >{text}</button
            >{:else}{text}{/if}
        </li>
      {/each}
    </ul>
  {/if}
</section>

<style>
  form {
    display: flex;
    gap: 4px;
    margin-bottom: 6px;
  }
  form input {
    width: 300px;
  }
  li {
    display: flex;
    gap: 8px;
    padding: 2px 6px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .chosen {
    background: var(--pick-wash);
  }
  .named .said {
    font-weight: 700;
  }
  .number {
    min-width: 28px;
    text-align: right;
    color: var(--dim);
  }
  .said {
    flex: 1;
  }
  .acts {
    display: flex;
    gap: 8px;
    font-size: 12px;
    white-space: nowrap;
  }
  ul b {
    min-width: 62px;
    font-weight: 400;
    color: var(--dim);
  }
  .text {
    text-align: left;
    cursor: pointer;
  }
  .text:hover {
    text-decoration: underline;
  }
  .added {
    border-left: 4px solid var(--won);
  }
  .removed {
    border-left: 4px dashed var(--lost);
  }
  .changed {
    border-left: 4px solid var(--plain);
  }
</style>
