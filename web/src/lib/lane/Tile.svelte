<script lang="ts">
  import type { Tile } from '@crow-lane/core/lane/layout';
  import { goalWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Mark from '$lib/parts/Mark.svelte';
  import { tileWords, wayWords } from './words.ts';
  import { placeKinds } from '@crow-lane/core/vocabulary/places';

  let {
    tile,
    selected,
    reached,
    dimmed,
    far,
    near,
    target,
    onselect,
    ongrab,
    onpull
  }: {
    tile: Tile;
    selected: boolean;
    /** It is the one tile that Tab stops at. */
    reached: boolean;
    dimmed: boolean;
    far: boolean;
    /** Large enough to list the ways out. */
    near: boolean;
    /** A pull is over it. */
    target: boolean;
    onselect: (event: MouseEvent) => void;
    /** The face is pressed: it may be dragged along its order. */
    ongrab: (event: PointerEvent) => void;
    onpull: (event: PointerEvent) => void;
  } = $props();

  const marks = { won: '▲', lost: '▬', plain: '→' };
  const { flow, checks, view, runs } = flowContext();
  const here = $derived(flow.company.at.get(tile.place));
  const initials = (name: string) =>
    name
      .split(' ')
      .map((word) => word[0])
      .join('')
      .slice(0, 2);
  const place = $derived(flow.drawn.places[tile.place]!);
  const mark = $derived(checks.marks.get(tile.place));
  /** Where things are in the level is given: in so many spots. */
  const spots = $derived(place.kind === 'level' ? Object.keys(place.spots).length : 0);
  const line = $derived(place.kind === 'level' ? goalWords(flow.drawn, tile.place) : tileWords(flow.drawn, tile.place));
</script>

<div
  class="tile {place.kind}"
  data-outcome={place.kind === 'ending' ? place.outcome : undefined}
  class:selected
  class:also={view.also.has(tile.place)}
  class:dimmed
  class:far
  class:near
  class:target
  class:fails={mark === 'fails'}
  data-differs={view.differing?.get(tile.place)}
  class:unused={runs.marked && runs.unused?.places.includes(tile.place)}
  data-place={tile.place}
  style:transform="translate({tile.x}px, {tile.y}px)"
  style:width="{tile.width}px"
  style:height="{tile.height}px"
>
  <button
    type="button"
    class="face"
    tabindex={reached ? 0 : -1}
    aria-pressed={selected}
    aria-label="{tile.number ? `${tile.number}, ` : ''}{place.name}, {placeKinds[place.kind].words}, {line}{spots > 0
      ? `, ${spots} ${spots === 1 ? 'spot' : 'spots'} inside`
      : ''}{here ? `, ${here.map(({ name }) => name).join(' and ')} here` : ''}"
    title={spots > 0 ? `${place.name}, ${spots} ${spots === 1 ? 'spot' : 'spots'} inside` : place.name}
    onclick={onselect}
    onpointerdown={ongrab}
  >
    {#if tile.number}<span class="number display">{tile.number}</span>{/if}
    {#if spots > 0}
      <svg class="inside" viewBox="0 0 14 9" aria-hidden="true"><path d="M0 1h5v7H0zM9 1h5v7H9zM5 4.5h4" /></svg>
    {/if}
    <span class="name">{place.name}</span>
    {#if near}
      {#if place.kind === 'level'}<span class="line">{line}</span>{/if}
      <span class="ways">
        {#each wayWords(flow.drawn, tile.place) as { outcome, over, to }, index (index)}
          <span class={outcome}>{marks[outcome]} {over ? 'over it ' : ''}{to}</span>
        {/each}
      </span>
    {:else}
      <span class="line">{line}</span>
    {/if}
  </button>
  <span class="mark" class:renewing={checks.renewing}><Mark {mark} /></span>
  {#if here}
    <span class="here" title="{here.map(({ name }) => name).join(', ')} {here.length === 1 ? 'is' : 'are'} here"
      >{here.length === 1 ? initials(here[0]!.name) : here.length}</span
    >
  {/if}
  <span class="pull" role="presentation" title="Pull to where the player goes from here" onpointerdown={onpull}></span>
</div>

<style>
  .tile {
    position: absolute;
    left: 0;
    top: 0;
    background: var(--tile);
    border: 1px solid color-mix(in srgb, var(--color-base-content) 22%, transparent);
    transition:
      transform 200ms,
      opacity 150ms;
  }
  .face {
    position: absolute;
    inset: 0;
    display: flex;
    flex-direction: column;
    align-items: flex-start;
    padding: 4px 5px 3px;
    text-align: left;
    font-size: 11px;
    line-height: 1.18;
    cursor: pointer;
    overflow: hidden;
  }
  .number {
    font-size: 17px;
    line-height: 1;
    margin-bottom: 3px;
  }
  .inside {
    position: absolute;
    left: 31px;
    top: 9px;
    width: 14px;
    fill: none;
    stroke: var(--dim);
    stroke-width: 1.3;
  }
  .name {
    font-weight: 700;
    max-width: 100%;
    max-height: 26px;
    flex-shrink: 0;
    overflow: hidden;
    overflow-wrap: anywhere;
  }
  /* where there is no number above it, the name flows around the mark */
  .tile:not(.level) .name::before {
    content: '';
    float: right;
    width: 14px;
    height: 13px;
  }
  .line {
    color: var(--dim);
    max-width: 100%;
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    overflow: hidden;
    margin-top: 1px;
    flex-shrink: 0;
  }
  /* what has no room goes into a second column, which is not seen: no line is cut in half */
  .ways {
    display: flex;
    flex-flow: column wrap;
    flex: 1;
    min-height: 0;
    width: 100%;
    font-size: 8px;
    line-height: 1.2;
    overflow: hidden;
  }
  .ways span {
    width: 100%;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .near .line,
  .tile:not(.level) .line {
    -webkit-line-clamp: 1;
    line-clamp: 1;
  }
  .mark {
    position: absolute;
    right: 4px;
    top: 4px;
    pointer-events: none;
  }
  .mark.renewing {
    opacity: 0.45;
  }
  .here {
    position: absolute;
    left: -7px;
    top: -7px;
    min-width: 18px;
    padding: 0 3px;
    text-align: center;
    font-size: 10px;
    line-height: 15px;
    font-weight: 700;
    color: var(--color-base-100);
    background: var(--color-base-content);
    border: 1px solid var(--color-base-100);
    z-index: 4;
  }
  .menu {
    border-bottom: 4px solid var(--plain);
  }
  .interlude {
    border-left: 4px solid var(--dim);
  }
  .ending {
    border-right: 6px double var(--color-base-content);
  }
  .ending[data-outcome='won'] {
    border-right-color: var(--won);
  }
  .ending[data-outcome='lost'] {
    border-right-color: var(--lost);
  }
  .fails {
    background: var(--lost-wash);
  }
  .dimmed {
    opacity: 0.62;
  }
  .tile[data-differs]::after {
    position: absolute;
    left: -1px;
    bottom: -15px;
    padding: 0 4px;
    font-size: 10px;
    line-height: 14px;
    background: var(--color-base-content);
    color: var(--color-base-100);
    z-index: 3;
  }
  .tile[data-differs='added']::after {
    content: '+ added';
  }
  .tile[data-differs='changed']::after {
    content: '~ changed';
  }
  .unused::after {
    content: '○ no run';
    position: absolute;
    left: -1px;
    bottom: -15px;
    padding: 0 4px;
    font-size: 10px;
    line-height: 14px;
    background: var(--color-base-100);
    border: 1px dashed var(--color-base-content);
    z-index: 3;
  }
  .also {
    outline: 3px dotted var(--color-accent);
    outline-offset: 1px;
  }
  .selected,
  .target {
    outline: 3px solid var(--color-accent);
    outline-offset: 1px;
    z-index: 2;
  }
  .target {
    outline-style: dashed;
  }
  .face:focus-visible {
    outline: 2px solid var(--color-base-content);
    outline-offset: -3px;
  }
  .pull {
    position: absolute;
    right: -7px;
    bottom: 6px;
    width: 13px;
    height: 18px;
    background: var(--color-accent);
    border: 1px solid var(--color-base-content);
    cursor: crosshair;
    opacity: 0;
    touch-action: none;
    z-index: 3;
  }
  .pull::after {
    content: '';
    position: absolute;
    left: 3px;
    top: 5px;
    border: 4px solid transparent;
    border-left-color: #161c26;
    border-right: 0;
  }
  .tile:hover .pull,
  .selected .pull {
    opacity: 1;
  }
  .far .line,
  .far .pull {
    display: none;
  }
  .far .number {
    font-size: 30px;
  }
  .far .name {
    font-size: 13px;
    max-height: 32px;
  }
  .far.level .name {
    max-height: 16px;
  }
</style>
