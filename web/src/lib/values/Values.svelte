<script lang="ts">
  import { flowContext } from '$lib/flow/context.ts';
  import Carry from './Carry.svelte';
  import ValueTable from './ValueTable.svelte';

  /** What the player carries: the policy of each value, and below it with what each place is entered. */
  const { flow } = flowContext();
</script>

<div class="values">
  <ValueTable />
  {#if Object.keys(flow.document.variables).length > 0}<Carry />{/if}
</div>

<style>
  .values {
    height: 100%;
    display: grid;
    grid-template-rows: minmax(0, auto) minmax(220px, 1fr);
    min-height: 0;
    background: var(--color-base-100);
  }
</style>
