<script lang="ts">
  import { changeVariable, removeVariable } from '@crow-lane/core/document/edits/parts';
  import type { Id, Scope, Variable } from '@crow-lane/core/document/types';
  import { flowContext } from '$lib/flow/context.ts';

  let { id, variable }: { id: Id; variable: Variable } = $props();
  const { flow } = flowContext();
  const scopes: Record<Scope, string> = { attempt: 'each attempt', run: 'each run', kept: 'kept' };

  function set(next: Variable) {
    flow.edit(changeVariable(flow.document, id, next));
  }

  function number(field: 'initial' | 'min' | 'max', input: HTMLInputElement) {
    if (variable.type !== 'number') return;
    const next = { ...variable, [field]: Math.round(Number(input.value)) };
    // the other two give way, so that min ≤ initial ≤ max always
    if (field === 'min') next.initial = Math.max(next.initial, next.min);
    if (field === 'min') next.max = Math.max(next.max, next.min);
    if (field === 'max') next.min = Math.min(next.min, next.max);
    next.initial = Math.min(Math.max(next.initial, next.min), next.max);
    if (Number.isSafeInteger(next.initial) && Math.abs(next[field]) < 2 ** 31) set(next);
    else input.value = String(variable[field]);
  }
</script>

<tr data-value={id}>
  <td>
    <input
      class="name"
      aria-label="Name of {variable.name}"
      value={variable.name}
      maxlength="80"
      onchange={(event) => event.currentTarget.value.trim() && set({ ...variable, name: event.currentTarget.value.trim() })}
    />
    <code class="dim">{id}</code>
  </td>
  <td>
    {#if variable.type === 'number'}
      {#each ['initial', 'min', 'max'] as const as field (field)}
        <label
          ><span class="dim">{{ initial: 'begins at', min: 'from', max: 'to' }[field]}</span><input
            type="number"
            value={variable[field]}
            onchange={(event) => number(field, event.currentTarget)}
          /></label
        >
      {/each}
    {:else if variable.type === 'flag'}
      <label
        ><span class="dim">begins as</span>
        <select
          value={String(variable.initial)}
          onchange={(event) => set({ ...variable, initial: event.currentTarget.value === 'true' })}
          ><option value="false">no</option><option value="true">yes</option></select
        >
      </label>
    {:else}
      <label
        ><span class="dim">begins as</span>
        <select value={variable.initial} onchange={(event) => set({ ...variable, initial: event.currentTarget.value })}
          >{#each variable.choices as choice (choice)}<option>{choice}</option>{/each}</select
        >
      </label>
    {/if}
  </td>
  <td>
    <select
      aria-label="When {variable.name} goes back"
      value={variable.scope}
      onchange={(event) => set({ ...variable, scope: event.currentTarget.value as Scope })}
    >
      {#each Object.entries(scopes) as [scope, words] (scope)}<option value={scope}>{words}</option>{/each}
    </select>
  </td>
  <td
    ><button
      type="button"
      class="delete"
      aria-label="Delete {variable.name}"
      title="Delete {variable.name}"
      onclick={() => flow.edit(removeVariable(flow.document, id))}>×</button
    ></td
  >
</tr>

<style>
  td {
    padding: 2px 6px 2px 0;
    vertical-align: middle;
    border-bottom: 1px solid var(--color-base-300);
  }
  .name {
    width: 96px;
    font-weight: 700;
    background: transparent;
  }
  code {
    font-size: 11px;
  }
  label {
    margin-right: 5px;
    white-space: nowrap;
  }
  label span {
    margin-right: 3px;
  }
  input[type='number'] {
    width: 34px;
    background: transparent;
    text-align: right;
    font-weight: 700;
    field-sizing: content;
    min-width: 22px;
    max-width: 70px;
    appearance: textfield;
  }
  select {
    background: transparent;
  }
  option {
    color: var(--color-base-content);
    background: var(--color-base-100);
  }
  .delete {
    cursor: pointer;
    color: var(--dim);
    width: 20px;
  }
</style>
