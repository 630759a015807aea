<script lang="ts">
  import { patternOf, renumber } from '@crow-lane/core/document/edits/levels';
  import { flowContext } from '$lib/flow/context.ts';
  import AddLevels from './AddLevels.svelte';
  import Answers from './Answers.svelte';
  import Grid from './Grid.svelte';
  import Loads from './Loads.svelte';
  import Orders from './Orders.svelte';
  import Saves from './Saves.svelte';
  import Selects from './Selects.svelte';
  import { Sheet } from './sheet.svelte.ts';
  import StrokeDialog from './StrokeDialog.svelte';
  import TableFile from './TableFile.svelte';
  import Times from './Times.svelte';

  /** The levels: as a sheet, by what they answer, and the orders, selects and saves that go through them. */
  const { flow } = flowContext();
  const sheet = new Sheet(flow);
  const parts = [
    { key: 'sheet', name: 'Sheet' },
    { key: 'answers', name: 'What answers what' },
    { key: 'orders', name: 'Orders' },
    { key: 'selects', name: 'Level selects' },
    { key: 'saves', name: 'Saves' },
    { key: 'loads', name: 'Loads' },
    { key: 'times', name: 'Times' }
  ] as const;
  let part: (typeof parts)[number]['key'] = $state('sheet');
  let dialog: 'add' | 'won' | 'lost' | undefined = $state();
  const misnumbered = $derived(
    Object.keys(flow.document.orders).filter((order) =>
      patternOf(flow.document, order)?.levels.some(({ said, number }) => said !== number)
    )
  );
</script>

<div class="levels">
  <div class="bar">
    <div role="tablist" aria-label="Parts of the levels">
      {#each parts as { key, name } (key)}
        <button type="button" role="tab" aria-selected={part === key} onclick={() => (part = key)}>{name}</button>
      {/each}
    </div>
    {#if part === 'sheet'}
      <input
        class="input input-xs find"
        placeholder="Name"
        aria-label="Only levels with this in their name"
        bind:value={sheet.text}
      />
      <select class="select select-xs" aria-label="Only of this order" bind:value={sheet.order}>
        <option value="">all orders</option>
        {#each Object.entries(flow.document.orders) as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
      </select>
      <select class="select select-xs" aria-label="Only of this group" bind:value={sheet.group}>
        <option value="">all groups</option>
        {#each Object.entries(flow.document.groups) as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
        <option value="-">no group</option>
      </select>
      <span class="acts">
        <button type="button" class="btn btn-xs" onclick={() => (dialog = 'add')}>+ levels…</button>
        <button type="button" class="btn btn-xs" disabled={sheet.levels.length === 0} onclick={() => (dialog = 'won')}
          >Won by…</button
        >
        <button type="button" class="btn btn-xs" disabled={sheet.levels.length === 0} onclick={() => (dialog = 'lost')}
          >Lost by…</button
        >
        {#each misnumbered as order (order)}
          <button
            type="button"
            class="btn btn-xs"
            title="Names with numbers get the number of their place"
            onclick={() => flow.edit(renumber(flow.document, order))}>Number {flow.document.orders[order]!.name} in order</button
          >
        {/each}
        <TableFile {sheet} />
      </span>
    {/if}
  </div>
  {#if part === 'sheet'}
    <Grid {sheet} />
  {:else if part === 'answers'}<Answers />
  {:else if part === 'orders'}<Orders />
  {:else if part === 'selects'}<Selects />
  {:else if part === 'saves'}<Saves />
  {:else if part === 'loads'}<Loads />
  {:else}<Times />{/if}
</div>
{#if dialog === 'add'}<AddLevels order={sheet.order} onclose={() => (dialog = undefined)} />{/if}
{#if dialog === 'won' || dialog === 'lost'}
  <StrokeDialog result={dialog} levels={sheet.levels} onclose={() => (dialog = undefined)} />
{/if}

<style>
  .levels {
    height: 100%;
    display: grid;
    grid-template-rows: auto 1fr auto;
    min-height: 0;
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    padding: 5px 12px;
    border-bottom: 1px solid var(--color-base-300);
  }
  [role='tablist'] {
    display: flex;
    margin-right: 6px;
  }
  [role='tab'] {
    padding: 2px 9px;
    border: 1px solid var(--color-base-300);
    margin-left: -1px;
    cursor: pointer;
  }
  [role='tab'][aria-selected='true'] {
    background: var(--color-base-content);
    color: var(--color-base-100);
  }
  .find {
    width: 110px;
  }
  .bar select {
    width: 118px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 3px;
  }
  .levels > :global(.sheetpart) {
    overflow: auto;
    padding: 10px 16px 20px;
    background: var(--color-base-100);
    min-height: 0;
  }
</style>
