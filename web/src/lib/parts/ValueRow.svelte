<script lang="ts">
  import { typed } from './typed.svelte.ts';
  import type { Snippet } from 'svelte';
  import { changeVariable, removeVariable } from '@crow-lane/core/document/edits/parts';
  import { usesOf } from '@crow-lane/core/sheet/uses';
  import { choiceFrom } from '@crow-lane/core/document/edits/ids';
  import { valueNamed } from '@crow-lane/core/document/values';
  import type { ChoiceVariable, Id, Scope, Variable } from '@crow-lane/core/document/types';
  import AddLine from './AddLine.svelte';
  import Note from './Note.svelte';
  import { setBrief } from '@crow-lane/core/document/edits/lists';
  import Popup from './Popup.svelte';
  import { flowContext } from '$lib/flow/context.ts';

  /** One value as a row. Children stand before the button that deletes it. */
  let {
    id,
    variable,
    compact = false,
    children
  }: { id: Id; variable: Variable; compact?: boolean; children?: Snippet } = $props();
  const { flow, view } = flowContext();
  const scopes: Record<Scope, string> = { attempt: 'each attempt', run: 'each run', kept: 'kept' };

  function set(next: Variable) {
    flow.edit(changeVariable(flow.document, id, next));
  }

  /** What names it is said first. */
  function remove() {
    const { set: changed, read } = usesOf(flow.document).get(id)!;
    if (changed.length + read.length > 0) view.dialog = { is: 'value', id };
    else flow.edit(removeVariable(flow.document, id));
  }

  function addChoice(name: string) {
    if (variable.type !== 'choice' || variable.choices.length >= 64) return;
    const choice = choiceFrom(name, variable.choices);
    const added = { ...variable, choices: [...variable.choices, choice] };
    set(labelled(added, choice, name));
  }

  /** What is called as its id would be needs no label. */
  function labelled(choices: ChoiceVariable, choice: Id, name: string | undefined): ChoiceVariable {
    const { [choice]: _before, ...others } = choices.labels ?? {};
    const labels = name === undefined || name === choice.replaceAll('_', ' ') ? others : { ...others, [choice]: name };
    const { labels: _labels, ...rest } = choices;
    return Object.keys(labels).length > 0 ? { ...rest, labels } : rest;
  }

  function nameChoice(choice: Id, name: string) {
    if (variable.type === 'choice') set(labelled(variable, choice, name));
  }

  function removeChoice(choice: Id) {
    if (variable.type !== 'choice') return;
    const choices = variable.choices.filter((each) => each !== choice);
    const left = { ...variable, choices, initial: variable.initial === choice ? choices[0]! : variable.initial };
    set(labelled(left, choice, undefined));
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

<tr data-value={id} class:compact>
  <td>
    <input
      class="name"
      aria-label="Name of {variable.name}"
      title={variable.brief ?? id}
      maxlength="80"
      {@attach typed(
        flow,
        () => variable.name,
        (text) => text.trim() && set({ ...variable, name: text.trim() })
      )}
    />
    {#if !compact}
      <code class="dim">{id}</code>
      <Note
        value={variable.brief}
        of={variable.name}
        onkeep={(note) => flow.edit(setBrief(flow.document, { list: 'variables', id }, note))}
      />
    {/if}
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
          >{#each variable.choices as choice (choice)}<option value={choice}>{valueNamed(variable, choice)}</option
            >{/each}</select
        >
      </label>
      <Popup label="of {variable.choices.length}" look="link" title="What {variable.name} can be">
        {#snippet content()}
          <ul>
            {#each variable.choices as choice (choice)}
              <li>
                <input
                  class="name"
                  aria-label="Name of the choice {valueNamed(variable, choice)}"
                  title={choice}
                  maxlength="80"
                  {@attach typed(
                    flow,
                    () => valueNamed(variable, choice),
                    (text) => text.trim() && nameChoice(choice, text.trim())
                  )}
                />
                <button
                  type="button"
                  class="link"
                  disabled={variable.choices.length <= 2}
                  title={variable.choices.length <= 2 ? 'There are at least two' : ''}
                  onclick={() => removeChoice(choice)}>remove</button
                >
              </li>
            {/each}
          </ul>
          <AddLine placeholder="+ another" label="Another choice of {variable.name}" onadd={addChoice} />
        {/snippet}
      </Popup>
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
  {@render children?.()}
  <td
    ><button type="button" class="delete" aria-label="Delete {variable.name}" title="Delete {variable.name}" onclick={remove}
      >×</button
    ></td
  >
</tr>

<style>
  td {
    padding: 2px 6px 2px 0;
    vertical-align: middle;
    white-space: nowrap;
    border-bottom: 1px solid var(--color-base-300);
  }
  .compact td {
    font-size: 12px;
    padding-right: 3px;
  }
  .compact .name {
    width: 82px;
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
    background: transparent;
    text-align: right;
    font-weight: 700;
    field-sizing: content;
    min-width: 20px;
    max-width: 74px;
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
    width: 24px;
  }
</style>
