<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Draw } from '@crow-lane/core/document/types';
  import { outcomeWords } from '@crow-lane/core/trial/words';
  import { drawWords } from '@crow-lane/core/words/steps';
  import { playContext } from '$lib/flow/play-context.ts';
  import type { Choice } from '$lib/flow/session.svelte.ts';

  /** What the player can do, with what it would come to; where that is drawn by chance, a choice of what is drawn. */
  let {
    choice,
    look = '',
    title,
    children
  }: { choice: Choice; look?: string; title?: string | undefined; children: Snippet } = $props();
  const { flow, session, plain } = playContext();
  const drawn = (draws: Draw[]) => draws.map((draw) => drawWords(flow.document, draw)).join(', ');
</script>

<button type="button" class="control {look}" {title} onclick={() => session.do(choice.event)}>
  {@render children()}
  {#if !plain && session.seen === session.trial?.state}<span class="would">{outcomeWords(flow.document, choice.line)}</span>{/if}
</button>
{#if !plain && choice.draws.length > 0}
  <select
    class="select select-xs force"
    aria-label="Draw instead"
    onchange={(event) => {
      const draw = choice.draws[Number(event.currentTarget.value)];
      if (draw) session.do(choice.event, draw);
    }}
  >
    <option value="">drawn by chance; or draw…</option>
    {#each choice.draws as draw, index (index)}<option value={index}>{drawn(draw)}</option>{/each}
  </select>
{/if}

<style>
  .control {
    padding: 4px 10px;
    border: 1px solid var(--color-base-content);
    background: var(--tile);
    text-align: left;
    cursor: pointer;
  }
  .control:hover,
  .control:focus-visible {
    background: var(--pick-wash);
  }
  .main {
    min-width: 150px;
    font-weight: 700;
  }
  .whole {
    width: 100%;
  }
  .card {
    display: flex;
    flex-direction: column;
    align-items: stretch;
  }
  .dimmed {
    color: var(--dim);
    border-color: var(--color-base-300);
  }
  .hidden-now {
    color: var(--dim);
    border-style: dashed;
    border-color: var(--color-base-300);
  }
  .would {
    display: block;
    font-size: 11px;
    font-weight: 400;
    color: var(--dim);
    max-width: 260px;
  }
  .force {
    width: 190px;
  }
</style>
