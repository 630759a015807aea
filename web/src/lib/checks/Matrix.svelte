<script lang="ts">
  import { byPlace, families, markOf, type Family } from '@crow-lane/core/report/answers';
  import type { Id } from '@crow-lane/core/document/types';
  import { placesInOrder } from '@crow-lane/core/lane/order';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Mark from '$lib/parts/Mark.svelte';
  import { rowsInSight } from '$lib/parts/rows.ts';

  /** Places by kinds of questions: a mark each, and a row or a cell that is chosen shows its evidence beside it. */
  let {
    chosen,
    shows,
    onchoose
  }: {
    /** The chosen place (null: what is about no place), and the family where a cell is chosen. */
    chosen: { place: Id | null; family?: Family } | undefined;
    /** Whether a place is to be listed. */
    shows: (place: Id | null) => boolean;
    onchoose: (chosen: { place: Id | null; family?: Family } | undefined) => void;
  } = $props();
  const { flow, checks } = flowContext();

  const table = $derived(checks.report && checks.of ? byPlace(checks.of, checks.report) : undefined);
  /** In the order of the lane: levels as they are played, then the screens, then what is about no place. */
  const rows = $derived.by(() => {
    const places: { place: Id | null; number: number | undefined }[] = placesInOrder(flow.document);
    return [...places, { place: null, number: undefined }].filter(({ place }) => shows(place));
  });
  const marksAt = (place: Id | null, family: Family) => {
    const verdicts = table?.get(place ?? undefined)?.get(family) ?? [];
    return { mark: markOf(verdicts), count: verdicts.filter(({ outcome }) => outcome === 'fails').length };
  };
  const nameOf = (place: Id | null) => (place === null ? 'The flow as a whole' : placeName(flow.document, place));

  let box: HTMLElement | undefined = $state();
  const { virtual, count } = rowsInSight(() => box, 28);
  $effect(() => count(rows.length));

  /** Arrows walk the cells, as in a grid. */
  function key(event: KeyboardEvent) {
    const cell = (event.target as HTMLElement).closest<HTMLElement>('[data-cell]');
    const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    if (!cell || !by) return;
    event.preventDefault();
    const [row, column] = cell.dataset.cell!.split(' ').map(Number) as [number, number];
    const to = {
      row: Math.min(Math.max(0, row + by[0]!), rows.length - 1),
      column: Math.min(Math.max(0, column + by[1]!), families.length)
    };
    $virtual.scrollToIndex(to.row);
    const there = () => box?.querySelector<HTMLElement>(`[data-cell="${to.row} ${to.column}"]`);
    // at once where it is drawn, so that the next key finds it there, however quickly it comes
    if (there()) there()!.focus();
    else requestAnimationFrame(() => there()?.focus());
  }
</script>

<div
  class="matrix"
  bind:this={box}
  role="grid"
  tabindex="-1"
  aria-label="Places and checks"
  aria-rowcount={rows.length + 1}
  onkeydown={key}
>
  <div class="line head" role="row">
    <span role="columnheader">Place</span>
    {#each families as { id, words } (id)}<span role="columnheader">{words}</span>{/each}
  </div>
  <div role="rowgroup" class="rows" style:height="{$virtual.getTotalSize()}px">
    {#each $virtual.getVirtualItems() as item (item.index)}
      {@const index = item.index}
      {@const start = item.start}
      {@const row = rows[index]}
      {#if row}
        {@const { place, number } = row}
        <div
          class="line"
          class:chosen={chosen && chosen.place === place}
          role="row"
          aria-rowindex={index + 2}
          style:transform="translateY({start}px)"
          data-row={place ?? ''}
        >
          <span role="rowheader"
            ><button
              type="button"
              data-cell="{index} 0"
              tabindex={index === 0 ? 0 : -1}
              onclick={() => onchoose(chosen?.place === place && chosen.family === undefined ? undefined : { place })}
              ><span class="number">{number ?? ''}</span> {nameOf(place)}</button
            ></span
          >
          {#each families as { id, words }, column (id)}
            {@const { mark, count: failing } = marksAt(place, id)}
            <span role="gridcell" class={mark === 'fails' ? 'fails' : ''}
              >{#if mark}<button
                  type="button"
                  data-cell="{index} {column + 1}"
                  tabindex="-1"
                  aria-label="{nameOf(place)}, {words}"
                  aria-pressed={chosen?.place === place && chosen.family === id}
                  onclick={() => onchoose({ place, family: id })}
                  ><Mark {mark} />{#if failing > 1}<b>{failing}</b>{/if}</button
                >{/if}</span
            >
          {/each}
        </div>
      {/if}
    {/each}
  </div>
</div>

<style>
  .matrix {
    overflow: auto;
    min-height: 0;
    background: var(--color-base-100);
  }
  .rows {
    position: relative;
  }
  .line {
    display: grid;
    /* the first, and as many as there are families */
    grid-template-columns: minmax(160px, 1.6fr);
    grid-auto-flow: column;
    grid-auto-columns: minmax(62px, 1fr);
    align-items: center;
    height: 28px;
    width: 100%;
    border-bottom: 1px solid var(--color-base-300);
  }
  .rows .line {
    position: absolute;
  }
  .head {
    position: sticky;
    top: 0;
    z-index: 2;
    height: 34px;
    font-size: 11.5px;
    line-height: 1.15;
    font-weight: 700;
    background: var(--color-base-200);
  }
  .head span {
    padding: 0 6px;
  }
  [role='rowheader'] button,
  [role='gridcell'] button {
    width: 100%;
    height: 27px;
    padding: 0 6px;
    cursor: pointer;
    text-align: left;
    overflow: hidden;
    white-space: nowrap;
    text-overflow: ellipsis;
  }
  [role='gridcell'] button {
    display: flex;
    align-items: center;
    gap: 4px;
    font-size: 11px;
  }
  .number {
    display: inline-block;
    width: 22px;
    color: var(--dim);
    font-variant-numeric: tabular-nums;
  }
  .fails {
    background: var(--lost-wash);
  }
  .chosen [role='rowheader'],
  [aria-pressed='true'] {
    background: var(--pick-wash);
  }
  button:focus-visible {
    outline: 2px solid var(--color-accent);
    outline-offset: -2px;
  }
  button:hover {
    background: var(--pick-wash);
  }
</style>
