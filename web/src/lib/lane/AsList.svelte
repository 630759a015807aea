<script lang="ts">
  import { onMount } from 'svelte';
  import type { Id } from '@crow-lane/core/document/types';
  import { laneOf } from './lane-of.ts';
  import { goalWords, placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Mark from '$lib/parts/Mark.svelte';
  import { tileWords, wayWords } from './words.ts';

  let back: HTMLButtonElement;
  onMount(() => back.focus());

  /** The lane in words: its rows as headings, its places in the order of play with where each leads. */
  const { flow, checks, view } = flowContext();
  const lane = $derived(laneOf(flow.document));
  const rows = $derived(
    lane.rows.map((row, index) => ({
      name: row.kind === 'levels' && row.order !== undefined ? `Levels, ${row.name}` : row.name,
      tiles: [...lane.tiles.values()].filter((tile) => tile.row === index).sort((a, b) => a.x - b.x)
    }))
  );
  const line = (id: Id) =>
    flow.document.places[id]!.kind === 'level' ? goalWords(flow.document, id) : tileWords(flow.document, id);
  const outcomes = { won: 'Won:', lost: 'Lost:', plain: '' };
</script>

<div class="list">
  <p>
    <button type="button" class="btn btn-xs" bind:this={back} onclick={() => (view.listed = false)}>Back to the picture</button>
    Play begins at {placeName(flow.document, flow.document.start)}.
  </p>
  {#each rows as { name, tiles }, index (index)}
    <h2>{name} <span class="dim">{tiles.length}</span></h2>
    {#if tiles.length > 0}
      <ol aria-label={name}>
        {#each tiles as { place, number } (place)}
          {@const ways = wayWords(flow.document, place)}
          <li class:selected={view.selected === place} data-listed={place}>
            <button type="button" class="word" aria-pressed={view.selected === place} onclick={() => view.select(place)}
              >{number ? `${number} ` : ''}{placeName(flow.document, place)}</button
            >
            <Mark mark={checks.marks.get(place)} />
            <span class="dim">{line(place)}</span>
            {#if ways.length > 0}
              <ul aria-label="Ways out of {placeName(flow.document, place)}">
                {#each ways as { outcome, to, over }, index (index)}
                  <li class={outcome}>{outcomes[outcome]} {over ? 'opens' : 'to'} {to}</li>
                {/each}
              </ul>
            {/if}
          </li>
        {/each}
      </ol>
    {/if}
  {/each}
</div>

<style>
  .list {
    height: 100%;
    overflow: auto;
    padding: 10px 16px 20px;
    background: var(--color-base-100);
  }
  .list > p {
    display: flex;
    align-items: center;
    gap: 10px;
  }
  h2 {
    margin: 12px 0 4px;
    font-size: 14px;
  }
  ol {
    columns: 3 320px;
    column-gap: 24px;
  }
  ol > li {
    break-inside: avoid;
    padding: 2px 6px;
    content-visibility: auto;
    contain-intrinsic-size: auto 22px;
  }
  ol > li > :global(svg) {
    display: inline;
    vertical-align: -1px;
  }
  .selected {
    outline: 2px solid var(--color-accent);
  }
  ul {
    display: inline;
    font-size: 12px;
  }
  ul li {
    display: inline;
    margin-left: 8px;
  }
</style>
