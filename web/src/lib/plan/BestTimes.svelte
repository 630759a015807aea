<script lang="ts">
  import type { Cell, Id } from '@crow-lane/core/document/types';
  import type { Place } from '@crow-lane/core/plan/automaton';
  import { widthOf } from '@crow-lane/core/plan/draw';
  import { isExact, type BestTime, type Times } from '@crow-lane/core/times/times';
  import { seconds, spare } from '@crow-lane/core/words/times';
  import type { Drawing } from './drawing.svelte.ts';

  /** How long the level takes at the least from each of its entries, beside the time that is given; the route on the plan. */
  let { drawing, tour = $bindable(), onwalk }: { drawing: Drawing; tour: Cell[]; onwalk: (way: Place[]) => void } = $props();
  let times: Times | undefined = $state.raw(undefined);
  let asked = $state(false);
  /** What is shown is of the level as it was. */
  let isOld = $state(false);
  let drawn: Id | null | undefined = $state(undefined);

  $effect(() => {
    const { known, isAhead, level } = drawing;
    isOld = true;
    if (!known || isAhead || !level) return;
    let isLate = false;
    // while strokes follow each other nothing is sought
    const later = setTimeout(async () => {
      const found = await drawing.times();
      if (isLate) return;
      times = found;
      asked = true;
      isOld = false;
      show(drawn);
    }, 300);
    return () => {
      isLate = true;
      clearTimeout(later);
    };
  });

  function cellsOf({ way = [] }: BestTime): Cell[] {
    const width = widthOf(drawing.plan!);
    return way.map(({ cell }): Cell => [cell % width, Math.floor(cell / width)]);
  }

  function show(entry: Id | null | undefined) {
    const time = times?.best.find((each) => each.entry === entry)?.time;
    drawn = time ? entry : undefined;
    tour = time ? cellsOf(time) : [];
  }
  const lookedAt = (n: number | undefined) => (n ? ` ${n.toLocaleString('en-GB')} states looked at` : '');
  /** A trial begins in a level where players usually arrive. */
  const isUsual = (entry: Id | null) => entry === null || entry === Object.keys(drawing.level?.entries ?? {})[0];
  const entryName = (entry: Id | null) => (entry === null ? 'the first ground' : (drawing.level?.entries[entry]?.name ?? entry));
</script>

<h2>Best time</h2>
{#if times}
  {@const limit = times.limit?.seconds}
  {#each times.best as { entry, time } (entry)}
    <p data-best={entry ?? ''} class:dim={isOld}>
      {#if !time}No route from {entryName(entry)} leads to a win.
      {:else}
        {@const exact = isExact(time)}
        From {entryName(entry)}:
        <b
          >{exact
            ? seconds(time.least)
            : time.most === undefined
              ? `at least ${seconds(time.least)}`
              : `between ${seconds(time.least)} and ${seconds(time.most)}`}</b
        >{#if limit !== undefined}<span class:lost={time.least >= limit}
            >; given {seconds(limit)}{#if time.most !== undefined && time.most < limit}, {spare(time.most, limit)} to spare{/if}</span
          >{/if}
        {#if time.way}
          <span class="acts">
            <button
              type="button"
              class="link"
              aria-pressed={drawn === entry}
              onclick={() => show(drawn === entry ? undefined : entry)}
              >{drawn === entry ? 'Hide the route' : 'Draw the route'}</button
            >
            {#if isUsual(entry)}<button type="button" class="link" onclick={() => onwalk(time.way!)}>Watch the route</button>{/if}
          </span>
        {/if}
      {/if}
    </p>
  {/each}
  <p class="dim">
    The player moves a cell at a time and never waits. Gates open once what they ask for is taken; whatever else a win asks is
    left out{drawing.plan?.patrols ? ', foes that patrol too' : ''}, so no win can be quicker.
  </p>
{:else}
  <p class="dim">
    {asked ? 'No rule wins this level, or none that a plan can tell.' : `Being worked out…${lookedAt(drawing.looked.times)}`}
  </p>
{/if}

<style>
  .acts {
    display: block;
  }
</style>
