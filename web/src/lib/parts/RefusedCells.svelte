<script lang="ts">
  import type { BadCell } from '@crow-lane/core/formats/levels-csv';

  /** What could not be taken from a file of levels: each cell by its line and column, with the reason. */
  let { cells }: { cells: BadCell[] } = $props();
  const rows = $derived(new Set(cells.map(({ line }) => line)).size);
</script>

{#if cells.length > 0}
  <p class="lost">{rows === 1 ? 'One row is' : `${rows} rows are`} left out:</p>
  <ul>
    {#each cells as { line, title, text, reason }, index (index)}
      <li>Line {line}{title === undefined ? '' : `, ${title} “${text}”`}: {reason}</li>
    {/each}
  </ul>
{/if}

<style>
  ul {
    list-style: square;
    padding-left: 18px;
    margin: 2px 0 8px;
    max-height: 24vh;
    overflow: auto;
    font-size: 12px;
  }
</style>
