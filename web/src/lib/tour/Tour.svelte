<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { flowContext } from '$lib/flow/context.ts';
  import { steps } from './steps.ts';

  /** A tour of the demo with faults: out of the way, left at any time, gone on with where it was left. */
  const { flow, checks, view } = flowContext();
  const key = 'tour';
  const stored = localStorage.getItem(key);
  let at = $state(stored === null || stored === 'left' ? 0 : Math.min(Math.max(0, Number(stored) || 0), steps.length - 1));
  let stage: 'offered' | 'going' | 'small' | 'left' = $state(stored === null ? 'offered' : stored === 'left' ? 'left' : 'small');
  const step = $derived(steps[at]!);
  const done = $derived(
    step.done?.({ document: flow.document, report: checks.of === flow.document ? checks.report : undefined })
  );

  async function go(to: number) {
    at = to;
    stage = 'going';
    localStorage.setItem(key, String(to));
    const target = steps[to]!.view;
    view.shown = undefined;
    await goto(resolve('/flows/[id]/[[view=view]]', target === 'lane' ? { id: flow.id } : { id: flow.id, view: target }), {
      keepFocus: true
    });
  }
  function leave() {
    stage = 'left';
    localStorage.setItem(key, 'left');
  }
</script>

{#if stage === 'going'}
  <aside class="tour" aria-label="Tour">
    <h2>{step.title}</h2>
    {#each step.text as text (text)}<p>{text}</p>{/each}
    {#if done}<p class="won" role="status">✓ done</p>{/if}
    <p class="acts">
      <span class="dim">{at + 1} of {steps.length}</span>
      <button type="button" class="btn btn-xs" disabled={at === 0} onclick={() => go(at - 1)}>Back</button>
      {#if at < steps.length - 1}
        <button type="button" class="btn btn-xs btn-primary" onclick={() => go(at + 1)}>{done === false ? 'Skip' : 'On'}</button>
      {/if}
      <button type="button" class="btn btn-xs" onclick={() => (stage = 'small')}>Aside</button>
      <button type="button" class="btn btn-xs" onclick={leave}>{at === steps.length - 1 ? 'End' : 'Leave the tour'}</button>
    </p>
  </aside>
{:else if stage === 'offered'}
  <aside class="tour" aria-label="Tour">
    <p>This game has a mistake of every kind. A tour of ten minutes shows how they are found and fixed.</p>
    <p class="acts">
      <button type="button" class="btn btn-xs btn-primary" onclick={() => go(0)}>Take the tour</button>
      <button type="button" class="btn btn-xs" onclick={leave}>Not now</button>
    </p>
  </aside>
{:else}
  <button type="button" class="btn btn-xs again" data-tour-aside onclick={() => go(stage === 'left' ? 0 : at)}
    >{stage === 'left' ? 'Tour' : `Tour, step ${at + 1}`}</button
  >
{/if}

<style>
  /* what scrolls under the small button can be scrolled out from under it */
  :global(:root:has([data-tour-aside])) {
    --tour-room: 44px;
  }
  .tour,
  .again {
    position: absolute;
    left: 14px;
    bottom: 12px;
    z-index: 19;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-content);
  }
  .tour {
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
