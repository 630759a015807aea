<script lang="ts">
  import { flowContext } from '$lib/flow/context.ts';
  import FlowDesk from './FlowDesk.svelte';
  import History from './History.svelte';
  import Inside from './Inside.svelte';
  import RouteSteps from './RouteSteps.svelte';
  import Several from './Several.svelte';
  import WaysIn from './WaysIn.svelte';
  import WaysOut from './WaysOut.svelte';

  const { flow, view } = flowContext();
  const selected = $derived(
    view.selected !== undefined && Object.hasOwn(flow.document.places, view.selected) ? view.selected : undefined
  );

  /** Past all that is inside: to what a rule is added by, where there is none, else to the first rule. */
  function toWaysOut() {
    const out = desk.querySelector('[aria-label="Ways out"]');
    out?.querySelector<HTMLElement>('button')?.focus();
  }
  let desk: HTMLDivElement;
</script>

<div
  bind:this={desk}
  id="desk"
  class="desk"
  class:single={view.shown && !view.history}
  class:history={view.history || (view.also.size > 0 && !view.shown)}
>
  {#if view.history}
    <History />
  {:else if view.shown}
    <RouteSteps />
  {:else if view.also.size > 0}
    <Several />
  {:else if selected}
    <button type="button" class="skip btn btn-sm" onclick={toWaysOut}>To the ways out</button>
    {#key selected}
      <section aria-label="Ways in"><WaysIn place={selected} /></section>
      <section aria-label="Inside"><Inside id={selected} /></section>
      <section aria-label="Ways out"><WaysOut id={selected} /></section>
    {/key}
  {:else}
    <FlowDesk />
  {/if}
</div>

<style>
  .desk {
    position: relative;
    height: 100%;
    display: grid;
    grid-template-columns: minmax(230px, 290px) minmax(280px, 1fr) minmax(320px, 1.5fr);
    background: var(--color-base-100);
  }
  .history {
    grid-template-columns: minmax(420px, 1fr) minmax(380px, 1fr);
  }
  .single {
    grid-template-columns: 1fr;
  }
  .desk > :global(section) {
    padding: 8px 14px 20px;
    overflow: auto;
    border-right: 1px solid var(--color-base-300);
    min-width: 0;
  }
  .desk :global(h2) {
    font-size: 12px;
    color: var(--dim);
    margin-bottom: 6px;
  }
  .desk :global(h3) {
    font-size: 11px;
    margin: 6px 0 3px;
  }
</style>
