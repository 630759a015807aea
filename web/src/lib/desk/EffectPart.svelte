<script lang="ts">
  import { valueNamed } from '@crow-lane/core/document/values';
  import { tick } from 'svelte';
  import { addVariable } from '@crow-lane/core/document/edits/parts';
  import { addSignal } from '@crow-lane/core/document/edits/lists';
  import { own, type Effect, type EffectKind, type Id, type Owner } from '@crow-lane/core/document/types';
  import { piecesAtHand } from '@crow-lane/core/play/scope';
  import { effectKind, effectKinds, effects } from '@crow-lane/core/vocabulary/effects';
  import { effectSeenWords, effectWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Choices from '$lib/parts/Choices.svelte';
  import Constants from '$lib/parts/Constants.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import ConditionField from '$lib/parts/ConditionField.svelte';

  /** One effect of a rule, or, without one, the word that adds one. */
  let {
    owner,
    effect,
    onchange,
    onremove
  }: { owner: Owner; effect?: Effect; onchange: (effect: Effect) => void; onremove?: () => void } = $props();
  const { flow } = flowContext();

  let chosen: EffectKind | undefined = $state();
  let variable: Id | undefined = $state();
  const kind = $derived(chosen ?? (effect ? effectKind(effect) : 'set'));
  const subject = $derived(variable ?? (effect && 'set' in effect && kind === 'set' ? effect.set : undefined));
  const policy = $derived(subject === undefined ? undefined : own(flow.document.variables, subject));
  const { value: field, may } = $derived(effects[kind]);
  /** What the effect can name: of the pieces at hand those that can be removed, and only orders that are drawn. */
  const choices = $derived.by(() => {
    if (field.is !== 'id') return [];
    if (field.of === 'piece') return named(Object.fromEntries(piecesAtHand(flow.document, owner)));
    if (field.of === 'signal') return named(flow.document.signals);
    if (field.of === 'variable') return named(flow.document.variables);
    return named(Object.fromEntries(Object.entries(flow.document.orders).filter(([, { draw }]) => draw !== 'fixed')));
  });
  const of = (value: unknown) => ({ [kind]: value }) as unknown as Effect;

  function named(map: Record<Id, { name: string }>) {
    return Object.entries(map).map(([value, { name }]) => ({ value, label: name }));
  }

  /** Keeps what is common to the old and the new effect: when the player sees it. */
  function set(next: Effect, close: () => void) {
    const at = effect?.at;
    chosen = variable = undefined;
    close();
    onchange(at ? { ...next, at } : next);
  }

  function makeSignal(name: string, close: () => void) {
    const { id, ...change } = addSignal(flow.document, name);
    flow.edit(change);
    set(of(id), close);
  }

  function makeVariable(name: string) {
    const { id, ...change } = addVariable(flow.document, { name, type: 'number', initial: 0, min: 0, max: 99, scope: 'run' });
    flow.edit(change);
    chooseVariable(id);
  }

  /** The list gives way to the field for the new value, which takes the focus over from it. */
  function chooseVariable(id: Id) {
    variable = id;
    void tick().then(() => document.querySelector<HTMLElement>(':popover-open [data-first]')?.focus());
  }
</script>

<Popup
  label={effect ? effectSeenWords(flow.document, owner, effect) : '+ effect'}
  look={effect ? 'word' : 'link'}
  title={effect ? 'What does it do?' : 'Add an effect'}
>
  {#snippet content(close)}
    <label class="kind">
      <select
        class="select select-sm"
        value={kind}
        onchange={(event) => (chosen = event.currentTarget.value as EffectKind)}
        aria-label="Kind of effect"
      >
        {#each effectKinds as each (each)}<option value={each}>{effects[each].label}</option>{/each}
      </select>
      {#if effect}
        <select
          class="select select-sm"
          aria-label="When it is seen"
          value={effect.at ?? ''}
          onchange={(event) => {
            const { at: _at, ...rest } = effect;
            const at = event.currentTarget.value as 'leaving' | 'hidden' | '';
            onchange((at ? { ...rest, at } : rest) as Effect);
          }}
        >
          <option value="">at once</option>
          <option value="leaving">seen while leaving</option>
          <option value="hidden">while the screen is covered</option>
        </select>
      {/if}
      {#if onremove}
        <button
          type="button"
          class="btn btn-sm"
          onclick={() => {
            close();
            onremove();
          }}>Remove</button
        >
      {/if}
    </label>
    {#if kind === 'set'}
      {#if policy && subject !== undefined}
        {@const id = subject}
        <p class="which">
          {policy.name}
          <span class="dim"
            >{policy.type === 'number'
              ? `${policy.min} to ${policy.max}`
              : policy.type === 'flag'
                ? 'yes or no'
                : policy.choices.map((choice) => valueNamed(policy, choice)).join(', ')}</span
          >
        </p>
        <div class="quick">
          {#if policy.type === 'number'}
            {#each [`${id} + 1`, `${id} - 1`, '0'] as to (to)}
              <button type="button" class="btn btn-xs" onclick={() => set({ set: id, to }, close)}
                >{effectWords(flow.document, owner, { set: id, to })}</button
              >
            {/each}
          {:else}
            {#each policy.type === 'flag' ? ['true', 'false'] : policy.choices.map((choice) => `'${choice}'`) as to (to)}
              <button type="button" class="btn btn-xs" onclick={() => set({ set: id, to }, close)}
                >{effectWords(flow.document, owner, { set: id, to })}</button
              >
            {/each}
          {/if}
        </div>
        <ConditionField
          {owner}
          use={{ assign: id }}
          label="New value"
          value={effect && 'set' in effect && effect.set === id ? effect.to : ''}
          onkeep={(to) => to && set({ set: id, to }, close)}
        />
      {:else}
        <Choices
          name="Value"
          choices={named(flow.document.variables)}
          onpick={chooseVariable}
          make={{ label: (name) => `make the value ${name}`, run: makeVariable }}
        />
      {/if}
    {:else if field.is === 'id'}
      <Choices
        name={effects[kind].label}
        {choices}
        onpick={(id) => set(of(id), close)}
        make={field.of === 'signal'
          ? { label: (name) => `make the signal ${name}`, run: (name) => makeSignal(name, close) }
          : undefined}
      />
      {#if may?.by && effect && 'remove' in effect}
        <label class="by"
          >how many
          <input
            class="input input-xs"
            type="number"
            min="1"
            max="10000"
            value={effect.by ?? 1}
            onchange={(event) => {
              const by = Math.round(Number(event.currentTarget.value));
              if (by >= 1 && by <= 10000) {
                const { by: _by, ...rest } = effect;
                onchange((by === 1 ? rest : { ...rest, by }) as Effect);
              }
            }}
          /></label
        >
      {/if}
    {:else if field.is === 'constant'}
      <Constants
        values={field.values}
        words={(value) => effectWords(flow.document, owner, of(value))}
        onpick={(value) => set(of(value), close)}
      />
    {/if}
  {/snippet}
</Popup>

<style>
  .kind {
    display: flex;
    gap: 6px;
    margin-bottom: 8px;
  }
  .which {
    font-weight: 700;
    margin-bottom: 4px;
  }
  .which span {
    font-weight: 400;
    margin-left: 6px;
  }
  .quick {
    display: flex;
    flex-wrap: wrap;
    gap: 3px;
    margin-bottom: 8px;
  }
</style>
