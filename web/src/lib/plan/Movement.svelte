<script lang="ts">
  import { setMovement } from '@crow-lane/core/document/edits/plan';
  import { idFrom } from '@crow-lane/core/document/edits/ids';
  import type { Ability, Id, Level, Movement } from '@crow-lane/core/document/types';
  import { movementIn } from '@crow-lane/core/plan/types';
  import { mostReach } from '@crow-lane/core/vocabulary/ground';
  import { flowContext } from '$lib/flow/context.ts';
  import AddLine from '$lib/parts/AddLine.svelte';
  import Asked from './Asked.svelte';

  /** How the player moves: in all levels, or in this one alone. */
  let { id }: { id: Id } = $props();
  const { flow } = flowContext();
  const level = $derived(flow.document.places[id] as Level);
  const isOwn = $derived(level.movement !== undefined);
  const said: Movement = $derived(level.movement ?? flow.document.movement ?? {});
  const moving = $derived(movementIn(flow.document, level));
  const view = $derived(level.plan!.view);

  function set(movement: Movement | undefined) {
    flow.edit(setMovement(flow.document, isOwn ? id : undefined, movement));
  }
  function side(field: 'speed' | 'up' | 'across' | 'drop' | 'tall', value: number | undefined) {
    const { [field]: _, ...rest } = moving.side;
    const kept = Object.fromEntries(Object.entries(rest).filter(([, each]) => each !== undefined));
    set({ ...said, side: { ...kept, ...(value !== undefined && { [field]: value }) } as Movement['side'] });
  }
  const ability = (name: Id, value: Ability | undefined) => {
    const { [name]: _, ...others } = moving.abilities;
    set({ ...said, abilities: value ? { ...moving.abilities, [name]: value } : others });
  };
  const numbers = $derived([
    { field: 'up', label: 'Jumps up', value: moving.side.up },
    { field: 'across', label: 'and across', value: moving.side.across },
    { field: 'drop', label: 'Falls at most', value: moving.side.drop }
  ] as const);
  const clamp = (value: number) => Math.min(mostReach, Math.max(0, Math.round(value)));
</script>

<label class="check"
  ><input
    type="checkbox"
    class="checkbox checkbox-xs"
    checked={isOwn}
    onchange={(event) =>
      flow.edit(setMovement(flow.document, id, event.currentTarget.checked ? { ...flow.document.movement } : undefined))}
  />
  Only in {level.name}</label
>
{#if view === 'side'}
  {#each numbers as { field, label, value } (field)}
    <label class="line"
      >{label}
      <span
        ><input
          class="input input-xs"
          type="number"
          min="0"
          max={mostReach}
          placeholder="any"
          value={value ?? ''}
          onchange={(event) =>
            side(field, Number.isNaN(event.currentTarget.valueAsNumber) ? undefined : clamp(event.currentTarget.valueAsNumber))}
        /> cells</span
      ></label
    >
  {/each}
  <label class="line"
    >Is as tall as
    <span
      ><select
        class="select select-xs"
        value={String(moving.side.tall)}
        onchange={(event) => side('tall', Number(event.currentTarget.value))}
        ><option value="1">1 cell</option><option value="2">2 cells</option></select
      ></span
    ></label
  >
{:else}
  <label class="check"
    ><input
      type="checkbox"
      class="checkbox checkbox-xs"
      checked={moving.above.diagonal}
      onchange={(event) =>
        set({ ...said, above: { speed: moving.above.speed, ...(event.currentTarget.checked && { diagonal: true as const }) } })}
    /> Goes diagonally</label
  >
{/if}
<label class="line"
  >Cells a second
  <span
    ><input
      class="input input-xs"
      type="number"
      min="0.1"
      max="1000"
      step="any"
      value={view === 'side' ? moving.side.speed : moving.above.speed}
      onchange={(event) => {
        const value = event.currentTarget.valueAsNumber;
        if (!(value > 0)) return;
        if (view === 'side') side('speed', value);
        else set({ ...said, above: { speed: value, ...(moving.above.diagonal && { diagonal: true as const }) } });
      }}
    /></span
  ></label
>
<h2>Abilities</h2>
{#each Object.entries(moving.abilities) as [name, value] (name)}
  <fieldset>
    <legend>{value.name}</legend>
    <Asked
      {id}
      value={value.if === 'true' ? '' : value.if}
      before="had"
      title="When does the player have it?"
      onkeep={(text) => ability(name, { ...value, if: text || 'true' })}
    />
    {#if view === 'side'}
      {#each ['up', 'across'] as const as field (field)}
        <label class="line"
          >{field === 'up' ? 'Jumps up' : 'and across'}
          <span
            ><input
              class="input input-xs"
              type="number"
              min="0"
              max={mostReach}
              value={value[field] ?? ''}
              onchange={(event) => {
                const { [field]: _, ...rest } = value;
                const n = event.currentTarget.valueAsNumber;
                ability(name, Number.isNaN(n) ? rest : { ...rest, [field]: clamp(n) });
              }}
            /> cells</span
          ></label
        >
      {/each}
    {:else}
      <label class="check"
        ><input
          type="checkbox"
          class="checkbox checkbox-xs"
          checked={value.diagonal ?? false}
          onchange={(event) => {
            const { diagonal: _, ...rest } = value;
            ability(name, event.currentTarget.checked ? { ...rest, diagonal: true } : rest);
          }}
        /> Goes diagonally</label
      >
    {/if}
    <button type="button" class="btn btn-xs" onclick={() => ability(name, undefined)}>Delete</button>
  </fieldset>
{/each}
<AddLine
  placeholder="+ ability: high jump, rope"
  label="Name of a new ability"
  onadd={(name) => ability(idFrom(name, moving.abilities, 'ability'), { name, if: 'true', up: moving.side.up + 2 })}
/>

<style>
  .check,
  .line {
    display: flex;
    align-items: center;
    gap: 6px;
    padding: 3px 0;
  }
  .line {
    justify-content: space-between;
  }
  .line input {
    width: 66px;
  }
  h2 {
    margin-top: 10px;
  }
  fieldset {
    min-width: 0;
    margin: 6px 0;
    padding: 4px 8px;
    border: 1px solid var(--color-base-300);
  }
  legend {
    padding: 0 4px;
    font-weight: 700;
  }
</style>
