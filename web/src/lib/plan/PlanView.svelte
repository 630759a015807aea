<script lang="ts">
  import { onMount } from 'svelte';
  import { resolve } from '$app/paths';
  import { page } from '$app/state';
  import { setPlan } from '@crow-lane/core/document/edits/plan';
  import { levelsOf, type Cell, type Id, type Level } from '@crow-lane/core/document/types';
  import { emptyPlan } from '@crow-lane/core/plan/draw';
  import { flowContext } from '$lib/flow/context.ts';
  import Draw from './Draw.svelte';

  /** The ground of one level, drawn cell by cell; without one, how to begin. */
  const { flow, view } = flowContext();
  const levels = $derived(levelsOf(flow.document));
  const id: Id | undefined = $derived(page.url.searchParams.get('level') ?? view.selected ?? levels[0]?.[0]);
  const level = $derived.by((): Level | undefined => {
    const place = id === undefined ? undefined : flow.document.places[id];
    return place?.kind === 'level' ? place : undefined;
  });
  let size: Cell = $state([28, 14]);
  onMount(() => {
    if (id !== undefined && level) view.select(id, false);
  });
</script>

{#if level && id !== undefined}
  {#key id}
    {#if level.plan}<Draw {id} />{:else}{@render beginning(id, level)}{/if}
  {/key}
{:else}
  <p class="none">
    There is no such level in this flow.
    <a class="link" href={resolve('/flows/[id]/[[view=view]]', { id: flow.id })}>To the lane</a>
  </p>
{/if}

{#snippet beginning(at: Id, place: Level)}
  <section class="begin">
    <h2>Draw {place.name}</h2>
    <p>
      Draw the ground, and place the pieces on it: how many there are, where the player gets, and what is out of reach follow from
      the drawing, and the level can be walked in the trial.
    </p>
    {#if Object.keys(place.spots).length > 0}
      <p class="note">
        The {Object.keys(place.spots).length} spots of {place.name} give way to those that follow from the plan. Undo brings them back.
      </p>
    {/if}
    <p class="size">
      <label>Columns <input class="input input-xs" type="number" min="3" max="240" bind:value={size[0]} /></label>
      <label>Rows <input class="input input-xs" type="number" min="3" max="160" bind:value={size[1]} /></label>
    </p>
    <p class="ways">
      {#each [['side', 'Seen from the side', 'The player walks, jumps and falls.'], ['above', 'Seen from above', 'The player goes from cell to cell.']] as [seen, name, line] (seen)}
        <button
          type="button"
          class="way"
          onclick={() => {
            const [width, height] = size.map((each, n) => Math.round(Math.min(Math.max(3, each || 3), n ? 160 : 240))) as Cell;
            flow.edit(setPlan(flow.document, at, emptyPlan(seen as 'side' | 'above', width, height), 'begin a plan'));
          }}><b>{name}</b><span class="dim">{line}</span></button
        >
      {/each}
    </p>
    <p><a class="link" href={resolve('/flows/[id]/[[view=view]]', { id: flow.id })}>Back to the lane</a></p>
  </section>
{/snippet}

<style>
  .none,
  .begin {
    padding: 24px 28px;
    max-width: 640px;
  }
  .begin p {
    margin: 8px 0;
  }
  .note {
    padding: 5px 10px;
    border-left: 4px solid var(--color-accent);
    background: var(--pick-wash);
  }
  .size {
    display: flex;
    gap: 16px;
  }
  .size input {
    width: 70px;
    margin-left: 6px;
  }
  .ways {
    display: flex;
    gap: 8px;
  }
  .way {
    padding: 8px 14px;
    border: 1px solid var(--color-base-content);
    background: var(--tile);
    text-align: left;
    cursor: pointer;
  }
  .way:hover,
  .way:focus-visible {
    background: var(--pick-wash);
  }
  .way span {
    display: block;
    font-size: 12px;
  }
</style>
