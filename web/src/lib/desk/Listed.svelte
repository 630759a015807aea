<script lang="ts">
  import { removeListed, renameListed } from '@crow-lane/core/document/edits/lists';
  import type { Id } from '@crow-lane/core/document/types';
  import type { Snippet } from 'svelte';
  import { flowContext } from '$lib/flow/context.ts';

  /** Signals, groups or orders by name, each with what else there is to say of it. */
  let {
    list,
    one,
    hint,
    onadd,
    more
  }: {
    list: 'signals' | 'groups' | 'orders';
    one: string;
    hint: string;
    onadd: (name: string) => void;
    more?: Snippet<[Id]>;
  } = $props();
  const { flow } = flowContext();
  let adding = $state('');

  function add(event: SubmitEvent) {
    event.preventDefault();
    if (!adding.trim()) return;
    onadd(adding.trim());
    adding = '';
  }
</script>

{#each Object.entries(flow.document[list]) as [id, { name }] (id)}
  <p class="line">
    <input
      aria-label="Name of the {one} {name}"
      value={name}
      maxlength="80"
      onchange={(event) => {
        const to = event.currentTarget.value.trim();
        if (to && to !== name) flow.edit(renameListed(flow.document, list, id, to));
        else event.currentTarget.value = name;
      }}
    />
    {@render more?.(id)}
    <button
      type="button"
      aria-label="Delete the {one} {name}"
      title="Delete {name}"
      onclick={() => flow.edit(removeListed(flow.document, list, id))}>×</button
    >
  </p>
{/each}
<form onsubmit={add}>
  <input
    class="input input-xs"
    placeholder="+ {one}: {hint}"
    aria-label="Name of a new {one}"
    maxlength="80"
    bind:value={adding}
  />
  {#if adding.trim()}<button class="btn btn-xs">Add</button>{/if}
</form>

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
  .line button {
    width: 20px;
  }
  form {
    display: flex;
    gap: 4px;
    margin: 3px 0 8px;
  }
</style>
