<script lang="ts">
  import { takeTour } from './take.ts';
  import type { TourStage } from './stage.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';

  /** Takes the tour up again where it was put aside. */
  let { stage }: { stage: TourStage } = $props();
  const { flow, view } = flowContext();
</script>

{#if stage.is === 'aside' || stage.is === 'left'}
  <button type="button" class="btn btn-xs" onclick={() => takeTour(flow, view, stage, stage.at)}
    >{stage.is === 'left' ? 'Tour' : `Tour, step ${stage.at + 1}`}</button
  >
{/if}
