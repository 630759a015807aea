<script lang="ts">
  import type { Verdict } from '@crow-lane/core/report/report';
  import Evidence from './Evidence.svelte';

  /** Causes, each with what follows from it, folded. */
  let { causes, where }: { causes: { verdict: Verdict; follows: Verdict[] }[]; where: string } = $props();
</script>

{#each causes as { verdict, follows }, index (index)}
  <Evidence {verdict} />
  {#if follows.length > 0}
    <details>
      <summary>{follows.length} more {follows.length === 1 ? 'follows' : 'follow'} {where}</summary>
      {#each follows as each, at (at)}<Evidence verdict={each} />{/each}
    </details>
  {/if}
{/each}

<style>
  details {
    margin: -3px 0 6px 12px;
    font-size: 12px;
  }
  summary {
    cursor: pointer;
  }
</style>
