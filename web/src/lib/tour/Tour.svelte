<script lang="ts">
  import { flowContext } from '$lib/flow/context.ts';
  import type { TourStage } from './stage.svelte.ts';
  import { steps } from './steps.ts';
  import { takeTour } from './take.ts';

  /** A tour of the demo with faults: out of the way, left at any time, gone on with where it was left. */
  let { stage }: { stage: TourStage } = $props();
  const { flow, checks, view } = flowContext();
  const step = $derived(steps[stage.at] ?? steps.at(-1)!);
  const done = $derived(
    step.done?.({ document: flow.document, report: checks.of === flow.document ? checks.report : undefined })
  );
  const go = (to: number) => takeTour(flow, view, stage, to);
</script>

{#if stage.is === 'going'}
  <aside class="tour" aria-label="Tour">
    <h2>{step.title}</h2>
    {#each step.text as text (text)}<p>{text}</p>{/each}
    {#if done}<p class="won" role="status">✓ done</p>{/if}
    <p class="acts">
      <span class="dim">{stage.at + 1} of {steps.length}</span>
      <button type="button" class="btn btn-xs" disabled={stage.at === 0} onclick={() => go(stage.at - 1)}>Back</button>
      {#if stage.at < steps.length - 1}
        <button type="button" class="btn btn-xs btn-primary" onclick={() => go(stage.at + 1)}
          >{done === false ? 'Skip' : 'On'}</button
        >
      {/if}
      <button type="button" class="btn btn-xs" onclick={() => (stage.is = 'aside')}>Aside</button>
      <button type="button" class="btn btn-xs" onclick={() => stage.leave()}
        >{stage.at === steps.length - 1 ? 'End' : 'Leave the tour'}</button
      >
    </p>
  </aside>
{:else if stage.is === 'offered'}
  <aside class="tour" aria-label="Tour">
    <p>This game has a mistake of every kind. A tour of ten minutes shows how they are found and fixed.</p>
    <p class="acts">
      <button type="button" class="btn btn-xs btn-primary" onclick={() => go(0)}>Take the tour</button>
      <button type="button" class="btn btn-xs" onclick={() => stage.leave()}>Not now</button>
    </p>
  </aside>
{/if}

<style>
  .tour {
    position: absolute;
    left: 14px;
    bottom: 12px;
    z-index: 19;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-content);
    width: 340px;
    padding: 10px 14px;
    border-left: 6px solid var(--color-accent);
    box-shadow: 5px 5px 0 #0002;
    font-size: 13px;
  }
  h2 {
    font-size: 15px;
    margin-bottom: 4px;
  }
  p {
    margin: 3px 0;
  }
  .acts {
    display: flex;
    gap: 6px;
    align-items: center;
    margin-top: 8px;
  }
  .acts .dim {
    margin-right: auto;
  }
</style>
