<script lang="ts">
  import { lettersOf } from '@crow-lane/core/plan/letters';
  import { drawnFrom, gridOf, isSeparated, textOf, TooLarge, unknownIn } from '@crow-lane/core/plan/text';
  import type { Drawing } from './drawing.svelte.ts';
  import Reads from './Reads.svelte';

  /** The plan as text, a character a cell: edited here, or pasted from elsewhere. */
  let { drawing }: { drawing: Drawing } = $props();
  const level = $derived(drawing.level!);
  const plan = $derived(drawing.plan!);
  const now = $derived(textOf(level, plan));
  let typed: string | undefined = $state(undefined);
  let asking: string[][] | undefined = $state.raw(undefined);
  let error = $state('');
  const letters = $derived(Object.entries(lettersOf(level, plan)));

  function take(text: string) {
    error = '';
    if (text === now) return (typed = undefined);
    const [cells, isOwn] = [gridOf(text), !isSeparated(text)];
    if (unknownIn(cells, level, plan).size > 0) {
      asking = cells;
      return;
    }
    try {
      drawnFrom(cells, level, plan);
    } catch (problem) {
      if (!(problem instanceof TooLarge)) throw problem;
      error = problem.message;
      return;
    }
    typed = undefined;
    const on = drawing;
    on.draw('as text', (before) => drawnFrom(cells, on.level!, before, isOwn));
  }
</script>

<textarea
  aria-label="The plan as text"
  spellcheck="false"
  value={typed ?? now}
  rows={Math.min(26, plan.rows.length + 1)}
  oninput={(event) => (typed = event.currentTarget.value)}
  onchange={(event) => take(event.currentTarget.value)}></textarea>
{#if error}<p class="lost" role="alert">{error}</p>{/if}
{#if typed !== undefined}
  <p>
    <button type="button" class="btn btn-xs btn-primary" onclick={() => take(typed ?? now)}>Use the text</button>
    <button type="button" class="btn btn-xs" onclick={() => ((typed = undefined), (error = ''))}>Leave it</button>
  </p>
{/if}
<ul>
  {#each letters as [char, read] (char)}
    <li>
      <kbd>{char}</kbd>
      {typeof read === 'string'
        ? read
        : 'piece' in read
          ? (level.pieces[read.piece]?.name ?? read.piece)
          : 'entry' in read
            ? (level.entries[read.entry]?.name ?? read.entry)
            : `gate: ${read.gate}`}
    </li>
  {/each}
</ul>
<p class="dim"># solid, . open, - ledge, | climb{plan.view === 'above' ? ', < > ^ v one way' : ''}</p>
{#if asking}
  <Reads
    {drawing}
    cells={asking}
    onclose={(done) => {
      asking = undefined;
      if (done) typed = undefined;
    }}
  />
{/if}

<style>
  textarea {
    width: 100%;
    padding: 6px;
    font-family: ui-monospace, monospace;
    font-size: 12px;
    line-height: 1.15;
    white-space: pre;
    overflow: auto;
    border: 1px solid var(--color-base-300);
    background: var(--tile);
  }
  ul {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    margin: 6px 0;
  }
  kbd {
    display: inline-block;
    min-width: 17px;
    text-align: center;
    border: 1px solid var(--color-base-300);
  }
</style>
