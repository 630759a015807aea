<script lang="ts">
  import { addLevels, nameAt, patternOf } from '@crow-lane/core/document/edits/levels';
  import { sharedWin } from '@crow-lane/core/document/edits/rules';
  import { levelsOf, type Id } from '@crow-lane/core/document/types';
  import { flowContext } from '$lib/flow/context.ts';
  import Dialog from '$lib/parts/Dialog.svelte';

  /** Several new levels at once: how many, how they are called, and like which. */
  let { order: shown, onclose }: { order: Id; onclose: () => void } = $props();
  const { flow, view } = flowContext();
  const orders = $derived(Object.entries(flow.document.orders));
  // the dialog begins with what is shown and is then its own
  // svelte-ignore state_referenced_locally
  let order = $state(shown || (orders[0]?.[0] ?? ''));
  let count = $state(10);
  // svelte-ignore state_referenced_locally
  let pattern = $state((order && patternOf(flow.document, order)?.pattern) || 'Level {n}');
  let model = $state('');
  const first = $derived((order ? flow.document.orders[order]!.levels.length : 0) + 1);

  function add(event: SubmitEvent) {
    event.preventDefault();
    if (!pattern.trim() || !(count >= 1 && count <= 500)) return;
    const { ids, ...change } = addLevels(flow.document, order || undefined, count, pattern.trim(), model || undefined);
    flow.edit(change);
    onclose();
    view.select(ids[0]);
  }
</script>

<Dialog title="New levels" {onclose}>
  <form class="asked" onsubmit={add}>
    <label>How many <input class="input input-sm" type="number" min="1" max="500" required data-first bind:value={count} /></label
    >
    <label>Named <input class="input input-sm" maxlength="76" required bind:value={pattern} /></label>
    <p class="dim">
      {'{n}'} is the number in the order: {nameAt(pattern, first)}{count > 1 ? ` to ${nameAt(pattern, first + count - 1)}` : ''}
    </p>
    <label>
      Like
      <select class="select select-sm" bind:value={model}>
        <option value=""
          >{sharedWin(flow.document) ? 'nothing yet: won by the rule that all share' : 'nothing yet: won by a button'}</option
        >
        {#each levelsOf(flow.document) as [id, { name }] (id)}<option value={id}>{name}, each an independent copy</option>{/each}
      </select>
    </label>
    <label>
      Last in
      <select class="select select-sm" bind:value={order}>
        {#each orders as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
        {#if orders.length === 0}<option value="">a new order</option>{/if}
      </select>
    </label>
    <p class="acts">
      <button class="btn btn-sm btn-primary">Add {count} {count === 1 ? 'level' : 'levels'}</button>
      <button type="button" class="btn btn-sm" onclick={onclose}>Cancel</button>
    </p>
  </form>
</Dialog>
