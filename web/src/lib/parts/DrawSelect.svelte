<script lang="ts">
  import { setDraw } from '@crow-lane/core/document/edits/lists';
  import type { Id, Order } from '@crow-lane/core/document/types';
  import { flowContext } from '$lib/flow/context.ts';

  /** How an order is played: as listed, or drawn. */
  let { order: id }: { order: Id } = $props();
  const { flow } = flowContext();
  const order = $derived(flow.document.orders[id]!);
</script>

<select
  class="select select-xs"
  aria-label="How {order.name} is played"
  value={order.draw}
  onchange={(event) => flow.edit(setDraw(flow.document, id, event.currentTarget.value as Order['draw']))}
>
  <option value="fixed">as listed</option>
  <option value="table">by a drawn row</option>
  <option value="bag">drawn one by one</option>
</select>

<style>
  select {
    width: 140px;
  }
</style>
