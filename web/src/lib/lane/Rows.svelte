<script lang="ts">
  import type { LaneLayout, Row } from '@crow-lane/core/lane/layout';
  import type { Sight } from './sight.svelte.ts';

  /** The ground of the lane: its rows from edge to edge, and their names over what is panned. */
  let { lane, sight, wanted }: { lane: LaneLayout; sight: Sight; wanted: Row | undefined } = $props();
</script>

{#each lane.rows as row, index (index)}
  <div
    class="row {row.kind}"
    class:wanted={wanted === row}
    style:top="{row.y * sight.zoom + sight.y}px"
    style:height="{row.height * sight.zoom}px"
  >
    {#if row.kind === 'levels'}<i class="paint"></i>{/if}
  </div>
{/each}
{#each lane.rows as row, index (index)}
  <div
    class="title display {row.kind}"
    style:width="{Math.min(92, Math.max(60, 92 * sight.zoom))}px"
    style:top="{row.y * sight.zoom + sight.y}px"
    style:height="{row.height * sight.zoom}px"
  >
    {row.kind === 'levels' && row.order ? 'Levels' : row.name}{#if row.kind === 'levels' && row.order}<br />{row.name}{/if}
  </div>
{/each}

<style>
  .row {
    position: absolute;
    left: 0;
    right: 0;
    color: var(--dim);
    pointer-events: none;
  }
  /* over the picture, so that what is panned goes away under the names of the rows */
  .title {
    position: absolute;
    left: 0;
    padding: 6px 4px 0 12px;
    font-size: 11px;
    line-height: 1.25;
    color: var(--dim);
    background: linear-gradient(90deg, var(--ground, var(--color-base-200)) 70%, transparent);
    overflow: hidden;
    overflow-wrap: anywhere;
    pointer-events: none;
    z-index: 5;
  }
  .row.levels {
    background: var(--road);
  }
  .title.levels {
    --ground: var(--road);
    color: var(--road-text);
  }
  .paint {
    position: absolute;
    left: 0;
    right: 0;
    bottom: 5px;
    height: 3px;
    background: repeating-linear-gradient(90deg, var(--road-mark) 0 20px, transparent 20px 38px);
    opacity: 0.7;
  }
  .row.endings,
  .row.between {
    border-bottom: 1px dashed var(--color-base-300);
  }
  .wanted {
    box-shadow: inset 0 0 0 2px var(--color-accent);
  }
</style>
