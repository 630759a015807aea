<script lang="ts">
  import type { Effect, Owner, Transition } from '@crow-lane/core/document/types';
  import Popup from '$lib/parts/Popup.svelte';
  import TimeBar from '$lib/parts/TimeBar.svelte';
  import { timed } from '@crow-lane/core/document/numbers';
  import { flowContext } from '$lib/flow/context.ts';
  import SecondsField from '$lib/parts/SecondsField.svelte';
  import { lengthOf, transitionWords } from '$lib/parts/transition.ts';

  /** How a move looks and how long it takes, on one line of time that shows where each effect is seen. */
  let {
    owner,
    by,
    effects,
    onchange
  }: { owner: Owner; by: Transition | undefined; effects: Effect[]; onchange: (by: Transition | undefined) => void } = $props();
  const { flow } = flowContext();
  const current = $derived<Transition>(by ?? { style: 'cut' });
  /** What covers the screen where nothing else is said. */
  const black = '#000000';
  const parts = [
    ['wait', 'wait before'],
    ['out', 'cover'],
    ['hold', 'stay covered'],
    ['in', 'uncover']
  ] as const;
  const total = $derived(lengthOf(timed(flow.document, current)));

  /** What is zero or empty is not said. */
  function set(fields: Partial<Transition>) {
    const said = Object.entries({ ...current, ...fields }).filter(
      ([, value]) => value !== undefined && value !== '' && value !== 0
    );
    onchange(Object.fromEntries(said) as unknown as Transition);
  }

  /** What covers and uncovers takes time: half a second each, until something else is said. */
  function setStyle(style: Transition['style']) {
    const untimed = style !== 'cut' && !current.out && !current.in;
    set({ style, ...(untimed && { out: 0.5, in: 0.5 }) });
  }
</script>

{#if !by}
  <button type="button" class="link" title="It begins as a fade; select its words to change it" onclick={() => setStyle('fade')}
    >+ transition</button
  >
{:else}
  <Popup label={transitionWords(timed(flow.document, by))} title="The transition: how the move looks, and how long it takes">
    {#snippet content(close)}
      <p class="row">
        <label
          >Style
          <select
            class="select select-xs"
            data-first
            value={current.style}
            onchange={(event) => setStyle(event.currentTarget.value as Transition['style'])}
          >
            <option value="cut">at once</option>
            <option value="fade">fade</option>
            <option value="slide">slide</option>
            <option value="iris">closing circle</option>
          </select>
        </label>
        <span class="dim">{total} s in all; nothing else can happen meanwhile</span>
      </p>
      <p class="row">
        {#each parts as [part, words] (part)}
          <label
            >{words}
            <SecondsField
              least={0}
              most={3600}
              value={current[part] ?? 0}
              onchange={(seconds) => set({ [part]: seconds })}
            /></label
          >
        {/each}
      </p>
      <TimeBar {owner} by={current} {effects} />
      <p class="row">
        <label
          >Covered in <input
            class="colour"
            type="color"
            value={current.colour ?? black}
            onchange={({ currentTarget: { value } }) => set({ colour: value === black ? undefined : value })}
          /></label
        >
        <label
          >Sound <input
            class="input input-xs sound"
            maxlength="80"
            placeholder="name of a sound"
            value={current.sound ?? ''}
            onchange={(event) => set({ sound: event.currentTarget.value.trim() || undefined })}
          /></label
        >
        <label
          >Music
          <select
            class="select select-xs"
            value={current.music ?? ''}
            onchange={(event) => set({ music: (event.currentTarget.value || undefined) as Transition['music'] })}
          >
            <option value="">as the next place has it</option>
            <option value="keep">goes on</option>
            <option value="stop">stops</option>
            <option value="fade">fades</option>
          </select>
        </label>
      </p>
      <button
        type="button"
        class="btn btn-xs"
        onclick={() => {
          close();
          onchange(undefined);
        }}>No transition</button
      >
    {/snippet}
  </Popup>
{/if}

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: center;
    margin-bottom: 6px;
    font-size: 12px;
  }
  .sound {
    width: 110px;
  }
  .colour {
    width: 34px;
    height: 24px;
    padding: 0;
    vertical-align: middle;
    border: 1px solid var(--color-base-content);
  }
  .row select {
    width: auto;
  }
</style>
