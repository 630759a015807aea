<script lang="ts">
  import { addEntry, changeEntry, removeEntry } from '@crow-lane/core/document/edits/lists';
  import { setEntrySpot } from '@crow-lane/core/document/edits/ground';
  import type { Id, Level } from '@crow-lane/core/document/types';
  import AddLine from '$lib/parts/AddLine.svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import { typed } from '$lib/parts/typed.svelte.ts';

  /** The points where one can arrive in a level; the first is the one where nothing else is said. */
  let { id, level }: { id: Id; level: Level } = $props();
  const { flow } = flowContext();

  function add(name: string) {
    flow.edit(addEntry(flow.document, id, { name }));
  }
</script>

<h3>Entries</h3>
{#each Object.entries(level.entries) as [entry, { name, facing, spot }], index (entry)}
  <p class="line" data-entry={entry}>
    <input
      aria-label="Name of the entry {name}"
      maxlength="80"
      {@attach typed(
        flow,
        () => name,
        (text) => text.trim() && flow.edit(changeEntry(flow.document, id, entry, { name: text.trim() }))
      )}
    />
    <input
      class="facing"
      aria-label="Facing at {name}"
      placeholder="facing"
      maxlength="80"
      {@attach typed(
        flow,
        () => facing ?? '',
        (text) => flow.edit(changeEntry(flow.document, id, entry, { facing: text.trim() || undefined }))
      )}
    />
    {#if level.plan && spot !== undefined}<span class="dim">at {level.spots[spot]?.name}</span>
    {:else if Object.keys(level.spots).length > 0 && !level.plan}
      <select
        aria-label="Spot of the entry {name}"
        title="Where the player stands after arriving here"
        value={spot ?? ''}
        onchange={(event) => flow.edit(setEntrySpot(flow.document, id, entry, event.currentTarget.value || undefined))}
      >
        <option value="">at the first spot</option>
        {#each Object.entries(level.spots) as [each, { name: words }] (each)}<option value={each}>at {words}</option>{/each}
      </select>
    {/if}
    {#if index === 0}<span class="dim" title="Where the player arrives unless a rule says otherwise">first</span>{/if}
    <button
      type="button"
      aria-label="Delete the entry {name}"
      title="Delete {name}"
      onclick={() => flow.edit(removeEntry(flow.document, id, entry))}>×</button
    >
  </p>
{/each}
<AddLine placeholder="+ entry: front door, ferry steps" label="Name of a new entry" onadd={add} />

<style>
  .line {
    display: flex;
    gap: 4px;
    align-items: baseline;
    border-bottom: 1px solid var(--color-base-300);
  }
  .line input {
    flex: 1;
    min-width: 0;
    background: transparent;
    padding: 2px;
  }
  .line .facing {
    flex: 0 0 80px;
  }
  .line select {
    width: 96px;
    background: transparent;
  }
  .line button {
    width: 20px;
  }
</style>
