<script lang="ts">
  import type { Effect, Owner, Transition } from '@crow-lane/core/document/types';
  import Popup from '$lib/parts/Popup.svelte';
  import TimeBar from '$lib/parts/TimeBar.svelte';
  import { lengthOf, transitionWords } from '$lib/parts/transition.ts';

  /** How a move looks and how long it takes, on one line of time that shows where each effect is seen. */
  let {
    owner,
    by,
    effects,
    onchange
  }: { owner: Owner; by: Transition | undefined; effects: Effect[]; onchange: (by: Transition | undefined) => void } = $props();
  /** What is being said; it goes to the document as one edit. */
  let draft: Transition | undefined = $state();
  const current = $derived<Transition>(draft ?? by ?? { style: 'cut' });
  /** What covers the screen where nothing else is said. */
  const black = '#000000';
  const parts = [
    ['wait', 'wait before'],
    ['out', 'cover'],
    ['hold', 'stay covered'],
    ['in', 'uncover']
  ] as const;
  const total = $derived(lengthOf(current));

  function set(fields: Partial<Transition>) {
    draft = { ...current, ...fields };
  }

  /** What covers and uncovers takes time: half a second each, until something else is said. */
  function setStyle(style: Transition['style']) {
    const untimed = style !== 'cut' && !current.out && !current.in;
    set({ style, ...(untimed && { out: 0.5, in: 0.5 }) });
  }

  function keep(close: () => void) {
    const next = Object.fromEntries(
      Object.entries(current).filter(([, value]) => value !== undefined && value !== '' && value !== 0)
    ) as unknown as Transition;
    draft = undefined;
    close();
    onchange(next.style === 'cut' && Object.keys(next).length === 1 ? undefined : next);
  }
</script>

<Popup
  label={by ? transitionWords(by) : '+ transition'}
  look={by ? 'word' : 'link'}
  title="The transition: how the move looks, and how long it takes"
>
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
          <input
            class="input input-xs"
            type="number"
            min="0"
            max="3600"
            step="0.1"
            value={current[part] ?? 0}
            onchange={(event) => set({ [part]: Math.max(0, Number(event.currentTarget.value) || 0) })}
          /> s</label
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
    <p class="row">
      <button type="button" class="btn btn-sm btn-primary" onclick={() => keep(close)}>Keep</button>
      <button
        type="button"
        class="btn btn-sm"
        onclick={() => {
          draft = undefined;
          close();
        }}>Cancel</button
      >
    </p>
  {/snippet}
</Popup>

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: center;
    margin-bottom: 6px;
    font-size: 12px;
  }
  .row input[type='number'] {
    width: 58px;
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
