<script lang="ts">
  import { addVariable } from '@crow-lane/core/document/edits/parts';
  import type { Variable } from '@crow-lane/core/document/types';
  import { flowContext } from '$lib/flow/context.ts';

  /** The line in which a new value is named. */
  const { flow } = flowContext();
  let name = $state('');
  let type: Variable['type'] = $state('number');

  function add(event: SubmitEvent) {
    event.preventDefault();
    if (!name.trim()) return;
    const base = { name: name.trim(), scope: 'run' as const };
    const made: Record<Variable['type'], Variable> = {
      number: { ...base, type: 'number', initial: 0, min: 0, max: 99 },
      flag: { ...base, type: 'flag', initial: false },
      choice: { ...base, type: 'choice', initial: 'first', choices: ['first', 'second'] }
    };
    flow.edit(addVariable(flow.document, made[type]));
    name = '';
  }
</script>

<form onsubmit={add}>
  <input
    class="input input-xs"
    placeholder="+ value: Lives, Score"
    aria-label="Name of a new value"
    maxlength="80"
    bind:value={name}
  />
  <select class="select select-xs" aria-label="Type of the new value" bind:value={type}
    ><option value="number">number</option><option value="flag">yes or no</option><option value="choice">one of some</option
    ></select
  >
  {#if name.trim()}<button class="btn btn-xs">Add</button>{/if}
</form>

<style>
  form {
    display: flex;
    gap: 4px;
    margin-top: 5px;
  }
  input {
    max-width: 320px;
  }
  select {
    width: 96px;
  }
</style>
