<script lang="ts" module>
  export interface Choice {
    value: string;
    label: string;
    hint?: string;
  }
</script>

<script lang="ts">
  import { cut } from '@crow-lane/core/document/cut';

  /** A searched list: type to narrow it, arrows and Enter to pick, and, where that makes sense, a last line to make a new one. */
  let {
    choices,
    value,
    onpick,
    make,
    name
  }: {
    choices: Choice[];
    value?: string;
    name: string;
    onpick: (value: string) => void;
    make?: { label: (text: string) => string; run: (text: string) => void };
  } = $props();

  const id = $props.id();
  let search = $state('');
  let at = $state(0);
  let list: HTMLUListElement | undefined = $state();
  /** As many as are shown at a time: who does not see the wanted one types on. */
  const most = 200;
  const found = $derived(
    choices
      .filter(({ label, hint }) => `${label} ${hint ?? ''}`.toLowerCase().includes(search.trim().toLowerCase()))
      .slice(0, most)
  );
  const lines = $derived(found.length + (make && search.trim() ? 1 : 0));

  function take(index: number) {
    if (index < found.length) onpick(found[index]!.value);
    else if (make && search.trim()) make.run(cut(search.trim(), 80));
  }

  function key(event: KeyboardEvent) {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      at = (at + (event.key === 'ArrowDown' ? 1 : lines - 1)) % Math.max(1, lines);
      list?.children[at]?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      event.preventDefault();
      take(at);
    }
  }
</script>

<input
  data-first
  class="input input-sm w-full"
  placeholder={make ? 'Search, or name a new one' : 'Search'}
  aria-label={name}
  role="combobox"
  aria-expanded="true"
  aria-controls={id}
  aria-activedescendant="{id}-{at}"
  autocomplete="off"
  maxlength="80"
  bind:value={search}
  oninput={() => (at = 0)}
  onkeydown={key}
/>
<ul {id} bind:this={list} role="listbox" aria-label={name}>
  {#each found as choice, index (choice.value)}
    <li
      id="{id}-{index}"
      role="option"
      aria-selected={choice.value === value}
      class:at={index === at}
      onpointerenter={() => (at = index)}
      onclick={() => take(index)}
      onkeydown={key}
    >
      <span class:now={choice.value === value}>{choice.label}</span>
      {#if choice.hint}<span class="dim">{choice.hint}</span>{/if}
    </li>
  {/each}
  {#if make && search.trim()}
    <li
      id="{id}-{found.length}"
      role="option"
      aria-selected="false"
      class:at={at === found.length}
      onpointerenter={() => (at = found.length)}
      onclick={() => take(found.length)}
      onkeydown={key}
    >
      <span class="plain">+ {make.label(search.trim())}</span>
    </li>
  {:else if found.length === 0}
    <li role="option" aria-selected="false" aria-disabled="true" class="dim">
      {search.trim() ? 'Nothing of this name.' : make ? 'None yet: type a name to make one.' : 'There are none.'}
    </li>
  {/if}
</ul>

<style>
  ul {
    margin-top: 6px;
    max-height: 260px;
    overflow: auto;
  }
  li {
    display: flex;
    justify-content: space-between;
    gap: 16px;
    padding: 3px 6px;
    cursor: pointer;
  }
  li.at {
    background: var(--pick-wash);
  }
  .now {
    font-weight: 700;
  }
</style>
