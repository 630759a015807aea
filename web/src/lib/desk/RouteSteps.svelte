<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { cut } from '@crow-lane/core/document/cut';
  import { keepRun } from '@crow-lane/core/trial/runs';
  import { playSteps } from '@crow-lane/core/trial/trial';
  import { flowContext } from '$lib/flow/context.ts';
  import StepList from '$lib/parts/StepList.svelte';

  /** The route shown on the lane, step by step. */
  const { flow, view, session } = flowContext();
  const shown = $derived(view.shown!);
  const total = $derived(shown.steps.filter((step) => !('start' in step)).length);
  const at = $derived(shown.at ?? total);

  function stepTo(step: number) {
    const to = Math.min(Math.max(0, step), total);
    view.shown = { ...shown, at: to === total ? undefined : to };
  }

  /** The trial goes on where the way ends. */
  async function be() {
    session.beginAfter(flow.document, shown.steps.slice(0, at + (shown.steps.length - total)));
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'trial' }));
  }

  function keep() {
    const name = cut(shown.title, 80);
    const trial = playSteps(flow.document, shown.steps)?.trial;
    const made = trial && keepRun(flow.document, trial, name);
    if (!made) return;
    flow.edit(made);
    flow.notice = { bad: false, text: `Kept as a run: ${name}` };
  }
</script>

<section class="way" aria-label="The route, step by step">
  <h2>
    {shown.title}
    <span class="walk">
      <button type="button" class="btn btn-xs" disabled={at === 0} aria-label="One step back" onclick={() => stepTo(at - 1)}
        >←</button
      >
      <span class="dim" role="status">{at} of {total}</span>
      <button type="button" class="btn btn-xs" disabled={at === total} aria-label="One step on" onclick={() => stepTo(at + 1)}
        >→</button
      >
    </span>
    <button type="button" class="btn btn-xs" onclick={be}>Be there</button>
    <button type="button" class="btn btn-xs" title="Played again after every change" onclick={keep}>Keep as a run</button>
    <button type="button" class="btn btn-xs" onclick={() => (view.shown = undefined)}>Close</button>
  </h2>
  <StepList steps={shown.steps} at={shown.at} onat={stepTo} />
</section>

<style>
  h2 {
    display: flex;
    gap: 10px;
    align-items: baseline;
  }
  .walk {
    display: flex;
    gap: 4px;
    align-items: baseline;
    font-size: 12px;
    font-weight: 400;
  }
</style>
