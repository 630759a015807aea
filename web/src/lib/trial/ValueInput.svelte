<script lang="ts">
  import { valueNamed } from '@crow-lane/core/document/values';
  import type { Variable } from '@crow-lane/core/document/types';
  import type { Value } from '@crow-lane/core/language/evaluate';

  /** A value of a variable, set by hand; a number is kept within its range. */
  let { id, variable, value, onset }: { id: string; variable: Variable; value: Value; onset: (value: Value) => void } = $props();

  function set(text: string) {
    if (variable.type === 'number') {
      const to = Math.round(Number(text));
      if (Number.isFinite(to)) onset(Math.min(Math.max(to, variable.min), variable.max));
    } else onset(variable.type === 'flag' ? text === 'true' : text);
  }
</script>

{#if variable.type === 'number'}
  <input
    {id}
    type="number"
    min={variable.min}
    max={variable.max}
    value={value as number}
    onchange={(event) => set(event.currentTarget.value)}
  />
{:else}
  <select {id} value={String(value)} onchange={(event) => set(event.currentTarget.value)}>
    {#if variable.type === 'flag'}<option value="false">no</option><option value="true">yes</option>
    {:else}{#each variable.choices as choice (choice)}<option value={choice}>{valueNamed(variable, choice)}</option>{/each}{/if}
  </select>
{/if}

<style>
  input,
  select {
    background: transparent;
    text-align: right;
    width: 84px;
  }
  option {
    color: var(--color-base-content);
    background: var(--color-base-100);
  }
</style>
