<script lang="ts">
  import { addPlace, emptyPlace, likelyKind } from '@crow-lane/core/document/edits/places';
  import { findRule, levelsOf, own, type PlaceKind, type Rule, type Target } from '@crow-lane/core/document/types';
  import { placeKinds, placeKindsInOrder } from '@crow-lane/core/vocabulary/places';
  import { targetWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import { moves } from '@crow-lane/core/vocabulary/moves';
  import Choices from '$lib/parts/Choices.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import { pickedTarget, targetChoices } from '$lib/parts/targets.ts';

  /** Where a rule leads; with `otherwise` where it leads when a relative move finds nothing. */
  let {
    rule,
    target,
    otherwise = false,
    onchange,
    onremove
  }: {
    rule: Rule;
    target: Target | undefined;
    otherwise?: boolean;
    onchange: (target: Target) => void;
    onremove?: () => void;
  } = $props();
  const { flow } = flowContext();

  const choices = $derived(targetChoices(flow.document, { chooses: 'choose' in rule.when, decides: rule.result !== undefined }));
  const place = $derived(target && 'place' in target ? own(flow.document.places, target.place) : undefined);
  /** The entries that some level has, for moves whose level depends on play. */
  const entries = $derived([
    ...new Map(levelsOf(flow.document).flatMap(([, level]) => Object.entries(level.entries).map(([id, { name }]) => [id, name])))
  ] as [string, string][]);
  const value = $derived(!target ? undefined : 'place' in target ? `place ${target.place}` : `move ${target.move}`);
  /** Of which kind a new place is: as chosen, else as its name says and from where it is asked. */
  let chosen: PlaceKind | undefined = $state();
  const kindOf = (name: string) => {
    const owner = findRule(flow.document, rule.id)?.owner;
    return chosen ?? likelyKind(flow.document, name, owner && 'place' in owner ? owner.place : levelsOf(flow.document)[0]?.[0]);
  };

  function pick(choice: string, close: () => void) {
    close();
    const picked = pickedTarget(choice);
    // what was said for the case that there is none stays said
    onchange('place' in picked || !target || !('else' in target) || !target.else ? picked : { ...picked, else: target.else });
  }

  function make(name: string, close: () => void) {
    const { id, ...change } = addPlace(flow.document, emptyPlace(kindOf(name), name));
    flow.edit(change);
    close();
    onchange({ place: id });
  }

  const shown = $derived(target && 'else' in target ? { ...target, else: undefined } : target);
</script>

<Popup
  label={shown ? targetWords(flow.document, shown) : otherwise ? '+ otherwise' : '+ go to'}
  look={shown ? 'word' : 'link'}
  title={otherwise ? 'Where else, when there is none?' : 'Where does it lead?'}
>
  {#snippet content(close)}
    <Choices
      name="Target"
      {choices}
      {value}
      onpick={(choice) => pick(choice, close)}
      make={{ label: (name) => `make the ${placeKinds[kindOf(name)].hint} ${name}`, run: (name) => make(name, close) }}
    />
    <p class="more">
      <label>
        A new one is
        <select class="select select-xs" bind:value={chosen}>
          <option value={undefined}>what its name says</option>
          {#each placeKindsInOrder as each (each)}<option value={each}>{placeKinds[each].one}</option>{/each}
        </select>
      </label>
    </p>
    {#if target && 'place' in target && place && placeKinds[place.kind].over && !otherwise}
      <label class="more">
        <input
          type="checkbox"
          class="checkbox checkbox-xs"
          checked={target.over === true}
          onchange={(event) => {
            const over = event.currentTarget.checked;
            close();
            onchange(over ? { place: target.place, over: true } : { place: target.place });
          }}
        />
        open it over this place, which pauses
      </label>
    {/if}
    {#if target && 'place' in target && place?.kind === 'level' && Object.keys(place.entries).length > 0}
      <label class="more">
        at
        <select
          class="select select-xs"
          value={target.entry ?? ''}
          onchange={(event) => {
            const entry = event.currentTarget.value;
            close();
            onchange(entry ? { place: target.place, entry } : { place: target.place });
          }}
        >
          <option value="">the first entry</option>
          {#each Object.entries(place.entries) as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
        </select>
      </label>
    {/if}
    {#if target && 'move' in target && moves[target.move].along && Object.keys(flow.document.orders).length > 0}
      <label class="more">
        in
        <select
          class="select select-xs"
          value={target.order ?? ''}
          onchange={(event) => {
            const { order: _order, ...rest } = target;
            const order = event.currentTarget.value;
            close();
            onchange(order ? { ...rest, order } : rest);
          }}
        >
          <option value="">the order being played</option>
          {#each Object.entries(flow.document.orders) as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
        </select>
      </label>
    {/if}
    {#if target && 'move' in target && moves[target.move].mayNameEntry && entries.length > 0}
      <label class="more">
        at
        <select
          class="select select-xs"
          value={target.entry ?? ''}
          onchange={(event) => {
            const { entry: _entry, ...rest } = target;
            const entry = event.currentTarget.value;
            close();
            onchange(entry ? { ...rest, entry } : rest);
          }}
        >
          <option value="">the first entry</option>
          {#each entries as [id, name] (id)}<option value={id}>{name}</option>{/each}
        </select>
      </label>
    {/if}
    {#if onremove}
      <button
        type="button"
        class="btn btn-xs"
        onclick={() => {
          close();
          onremove();
        }}>{otherwise ? 'Nowhere else' : 'Go nowhere: stay'}</button
      >
    {/if}
  {/snippet}
</Popup>

<style>
  .more {
    display: flex;
    align-items: center;
    gap: 6px;
    margin: 6px 0;
  }
  .more label {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
</style>
