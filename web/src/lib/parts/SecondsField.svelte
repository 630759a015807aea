<script lang="ts">
  import { secondsOf } from '@crow-lane/core/document/numbers';
  import type { Seconds } from '@crow-lane/core/document/types';
  import { flowContext } from '$lib/flow/context.ts';

  /** So many seconds, or of another unit, or as many as one of the named numbers says, which several things keep to. */
  let {
    value,
    least,
    most,
    label,
    unit = 's',
    first = false,
    onchange
  }: {
    value: Seconds;
    least: number;
    most: number;
    /** For those who do not see what stands before it. */
    label?: string;
    unit?: string;
    /** It has the focus when its popup opens. */
    first?: boolean;
    onchange: (seconds: Seconds) => void;
  } = $props();
  const { flow } = flowContext();
  /** Those that can stand for seconds here. */
  const numbers = $derived(
    Object.entries(flow.document.numbers).filter(([id, number]) => id === value || (number.value > 0 && number.value >= least))
  );
</script>

<input
  class="input input-xs"
  type="number"
  min={least}
  max={most}
  step="any"
  required
  data-first={first || undefined}
  aria-label={label}
  disabled={typeof value !== 'number'}
  value={secondsOf(flow.document, value)}
  onchange={(event) => {
    const seconds = Number(event.currentTarget.value);
    if (seconds >= least && seconds <= most) onchange(seconds);
  }}
/>
{unit}
{#if numbers.length > 0 || typeof value !== 'number'}
  <select
    class="select select-xs"
    aria-label="{label ?? 'Seconds'}, by a number"
    value={typeof value === 'number' ? '' : value}
    onchange={(event) => onchange(event.currentTarget.value || (secondsOf(flow.document, value) ?? least))}
  >
    <option value="">of its own</option>
    {#each numbers as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
  </select>
{/if}

<style>
  input {
    width: 64px;
  }
  select {
    width: auto;
    max-width: 140px;
  }
</style>
