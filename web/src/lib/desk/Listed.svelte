<script lang="ts">
  import { removeListed, renameListed } from '@crow-lane/core/document/edits/lists';
  import type { Id } from '@crow-lane/core/document/types';
  import type { Snippet } from 'svelte';
  import { setBrief } from '@crow-lane/core/document/edits/lists';
  import AddLine from '$lib/parts/AddLine.svelte';
  import Note from '$lib/parts/Note.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';

  /** Signals, groups, orders or numbers by name, each with what else there is to say of it. */
  let {
    list,
    one,
    hint,
    onadd,
    more
  }: {
    list: 'signals' | 'groups' | 'orders' | 'numbers';
    one: string;
    hint: string;
    onadd: (name: string) => void;
    more?: Snippet<[Id]>;
  } = $props();
  const { flow } = flowContext();
</script>

{#each Object.entries(flow.document[list]) as [id, { name, brief }] (id)}
  <p class="line">
    <input
      aria-label="Name of the {one} {name}"
      maxlength="80"
      {@attach typed(
        flow,
        () => name,
        (text) => {
          const to = text.trim();
          if (to && to !== name) flow.edit(renameListed(flow.document, list, id, to));
        }
      )}
    />
    {@render more?.(id)}
    <Note value={brief} of={name} onkeep={(note) => flow.edit(setBrief(flow.document, { list, id }, note))} />
    <button
      type="button"
      aria-label="Delete the {one} {name}"
      title="Delete {name}"
      onclick={() => flow.edit(removeListed(flow.document, list, id))}>×</button
    >
  </p>
{/each}
<AddLine placeholder="+ {one}: {hint}" label="Name of a new {one}" {onadd} />

<style>
  .line {
    display: flex;
    gap: 6px;
    align-items: baseline;
    border-bottom: 1px solid var(--color-base-300);
  }
  .line input {
    flex: 1;
    min-width: 0;
    background: transparent;
    padding: 2px;
  }
  .line > button {
    width: 20px;
  }
</style>
