<script lang="ts">
  import { setLimit } from '@crow-lane/core/document/edits/levels';
  import { loadOf } from '@crow-lane/core/sheet/loads';
  import { flowContext } from '$lib/flow/context.ts';

  /** What the groups cost to load, and how much they may. Nothing is shown while no level says what it costs. */
  const { flow } = flowContext();
  const sums = $derived(
    [...Object.entries(flow.document.groups), [undefined, { name: 'no group' }] as const].flatMap(([group, { name }]) => {
      const load = loadOf(flow.document, group);
      return load ? [{ group, name, ...load }] : [];
    })
  );
  const limit = $derived(flow.document.limit);

  function set(what: 'megabytes' | 'seconds', text: string) {
    const value = text === '' ? undefined : Number(text);
    if (value === undefined || (value >= 0 && value <= 1e6)) flow.edit(setLimit(flow.document, { ...limit, [what]: value }));
  }
</script>

{#if sums.length > 0 || limit}
  <footer>
    <b>Loads</b>
    {#each sums as { group, name, megabytes, seconds } (group)}
      <span
        class:lost={group !== undefined &&
          ((limit?.megabytes !== undefined && megabytes > limit.megabytes) ||
            (limit?.seconds !== undefined && seconds > limit.seconds))}>{name} {megabytes} MB, {seconds} s</span
      >
    {/each}
    <label
      >at most <input
        type="number"
        min="0"
        class="input input-xs"
        aria-label="Most megabytes of a group"
        value={limit?.megabytes ?? ''}
        onchange={(event) => set('megabytes', event.currentTarget.value)}
      /> MB</label
    >
    <label
      ><input
        type="number"
        min="0"
        class="input input-xs"
        aria-label="Most seconds of a group"
        value={limit?.seconds ?? ''}
        onchange={(event) => set('seconds', event.currentTarget.value)}
      /> s a group</label
    >
  </footer>
{/if}

<style>
  footer {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 16px;
    padding: 4px 12px;
    font-size: 12px;
    border-top: 1px solid var(--color-base-300);
  }
  input {
    width: 70px;
  }
</style>
