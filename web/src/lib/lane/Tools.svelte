<script lang="ts">
  import { flowContext } from '$lib/flow/context.ts';
  import type { Sight } from './sight.svelte.ts';

  let { sight }: { sight: Sight } = $props();
  const { view, runs, flow } = flowContext();
</script>

<div class="tools">
  <button type="button" class="btn btn-xs" title="Add a place (n)" onclick={() => (view.dialog = { is: 'place', kind: 'level' })}
    >+ place</button
  >
  <button
    type="button"
    class="btn btn-xs"
    title="Find a place, a value, a piece or a rule (/)"
    onclick={() => (view.dialog = { is: 'find' })}>Find</button
  >
  <button type="button" class="btn btn-xs" title="Read the lane as a list (l)" onclick={() => (view.listed = true)}
    >As a list</button
  >
  {#if Object.keys(flow.document.runs).length > 0}
    <button
      type="button"
      class="btn btn-xs"
      aria-pressed={runs.marked}
      title="Mark what no recorded run uses"
      onclick={() => (runs.marked = !runs.marked)}>Not in runs</button
    >
  {/if}
  {#if view.selected !== undefined}
    <button
      type="button"
      class="btn btn-xs"
      title="Bring the selected place into sight (.)"
      onclick={() => (view.seek = { place: view.selected! })}>To selection</button
    >
  {/if}
  <button
    type="button"
    class="btn btn-xs btn-square"
    aria-label="Smaller"
    title="Smaller (-)"
    onclick={() => sight.zoomTo(sight.zoom / 1.2)}>−</button
  >
  <button type="button" class="btn btn-xs" title="Everything in sight (f)" onclick={() => sight.fit()}
    >{Math.round(sight.zoom * 100)} %</button
  >
  <button
    type="button"
    class="btn btn-xs btn-square"
    aria-label="Larger"
    title="Larger (+)"
    onclick={() => sight.zoomTo(sight.zoom * 1.2)}>+</button
  >
  <button
    type="button"
    class="btn btn-xs btn-square"
    aria-label="Keys"
    title="Keys (?)"
    onclick={() => (view.dialog = { is: 'keys' })}>?</button
  >
</div>

<style>
  .tools {
    position: absolute;
    right: 10px;
    bottom: 8px;
    display: flex;
    gap: 2px;
    cursor: default;
  }
  .tools > button {
    background: var(--color-base-100);
    border-color: var(--color-base-300);
  }
</style>
