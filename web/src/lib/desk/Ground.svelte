<script lang="ts">
  import { tick } from 'svelte';
  import { resolve } from '$app/paths';
  import {
    addPassage,
    addSpot,
    groundShapes,
    nextSpotName,
    splitLevel,
    type GroundShape
  } from '@crow-lane/core/document/edits/ground';
  import type { Id, Level } from '@crow-lane/core/document/types';
  import { groundMarks } from '@crow-lane/core/lane/ground';
  import AddLine from '$lib/parts/AddLine.svelte';
  import GroundMap, { type OnGround } from '$lib/parts/GroundMap.svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import PassageEditor from './PassageEditor.svelte';
  import SpotEditor from './SpotEditor.svelte';

  /** Where things are in a level: a map of its spots, and what is chosen on it. */
  let { id, level }: { id: Id; level: Level } = $props();
  const { flow, checks } = flowContext();
  let chosen = $state<OnGround | undefined>(undefined);
  const marks = $derived(groundMarks(flow.document, id, checks.report?.checks ?? []));
  let editor: HTMLElement | undefined = $state();

  function add(name: string) {
    const { id: made, ...change } = addSpot(flow.document, id, { name });
    flow.edit(change);
    chosen = { spot: made };
  }
  async function connect(from: Id, to: Id) {
    const { id: made, ...change } = addPassage(flow.document, id, { from, to, both: true });
    flow.edit(change);
    chosen = { passage: made };
    await tick();
    editor?.querySelector<HTMLElement>('select')?.focus();
  }
</script>

<h3>Where things are</h3>
<p class="drawn">
  <a
    class="btn btn-xs"
    href="{resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'plan' })}?level={id}"
    title="The ground of this level, cell by cell (g)">{level.plan ? 'Open the plan' : 'Draw a plan'}</a
  >
  {#if level.plan}<span class="dim"
      >{Object.keys(level.spots).length > 0 ? 'These spots and passages follow from it.' : 'No spots follow from it.'}</span
    >{/if}
</p>
{#if level.plan}
  <GroundMap {id} {chosen} {marks} onchoose={(what) => (chosen = what)} />
{:else if Object.keys(level.spots).length === 0}
  <p class="dim">The player can touch everything here at any moment. Split this level to say where things are:</p>
  <div class="shapes">
    {#each Object.entries(groundShapes) as [shape, { name, line }] (shape)}
      <button type="button" class="shape" onclick={() => flow.edit(splitLevel(flow.document, id, shape as GroundShape))}
        ><b>{name}</b><span class="dim">{line}</span></button
      >
    {/each}
  </div>
{:else}
  <GroundMap {id} {chosen} {marks} onchoose={(what) => (chosen = what)} onpull={connect} />
  <div class="chosen" bind:this={editor}>
    {#if chosen && 'spot' in chosen && Object.hasOwn(level.spots, chosen.spot)}
      {#key chosen.spot}<SpotEditor {id} {level} here={chosen.spot} onconnect={connect} />{/key}
    {:else if chosen && 'passage' in chosen && Object.hasOwn(level.passages, chosen.passage)}
      {#key chosen.passage}<PassageEditor {id} {level} name={chosen.passage} />{/key}
    {/if}
  </div>
  <AddLine placeholder="+ spot: {nextSpotName(level)}, loft, yard" label="Name of a new spot" onadd={add} />
{/if}

<style>
  .drawn {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 8px;
    margin: 3px 0;
  }
  .shapes {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 5px;
    margin: 4px 0;
  }
  .shape {
    padding: 4px 8px;
    border: 1px solid var(--color-base-300);
    background: var(--tile);
    text-align: left;
    cursor: pointer;
  }
  .shape:hover,
  .shape:focus-visible {
    background: var(--pick-wash);
  }
  .shape span {
    display: block;
    font-size: 11px;
  }
  /* both editors look alike */
  .chosen :global(.editor) {
    padding: 4px 6px;
    border: 1px solid var(--color-base-300);
    border-top: 0;
    border-left: 4px solid var(--color-accent);
  }
  .chosen :global(.line) {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 6px;
    padding: 2px 0;
  }
  .chosen :global(.line select:not(.way)) {
    flex: 1 1 90px;
    min-width: 0;
  }
  .chosen :global(.grow) {
    flex: 1 1 110px;
    min-width: 0;
    background: transparent;
  }
  .chosen :global(input.grow) {
    border-bottom: 1px dotted var(--color-base-300);
  }
</style>
