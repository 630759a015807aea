<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { replay } from '@crow-lane/core/check/replay';
  import { keepRun } from '@crow-lane/core/trial/runs';
  import { playSteps } from '@crow-lane/core/trial/trial';
  import { deadlineWords, stepWords } from '@crow-lane/core/words/steps';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';

  /** The route shown on the lane, as numbered steps under the places they happen in. */
  const { flow, view, session } = flowContext();

  /** The trial goes on where the way ends. */
  async function be() {
    session.beginAfter(flow.document, shown.steps);
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'trial' }));
  }
  function keep() {
    const trial = playSteps(flow.document, shown.steps)?.trial;
    const made = trial && keepRun(flow.document, trial, shown.title.slice(0, 80));
    if (!made) return;
    flow.edit(made);
    flow.notice = { bad: false, text: `Kept as a run: ${shown.title.slice(0, 80)}` };
  }
  const shown = $derived(view.shown!);
  interface Line {
    from: number;
    to: number;
    words: string;
  }
  const parts = $derived.by(() => {
    const found: { place: string; lines: Line[] }[] = [];
    let number = 0;
    for (const { step, from, bottom } of replay(flow.document, shown.steps)) {
      if (from === undefined) continue;
      number++;
      const words = 'time' in step ? deadlineWords(flow.document, from) : stepWords(flow.document, step, bottom);
      let part = found.at(-1);
      if (part?.place !== from) found.push((part = { place: from, lines: [] }));
      const last = part.lines.at(-1);
      // five lamps in a row are one line
      if (last?.words === words) last.to = number;
      else part.lines.push({ from: number, to: number, words });
    }
    return { found, total: number, broken: number < shown.steps.filter((step) => !('start' in step)).length };
  });
</script>

<section class="way" aria-label="The way, step by step">
  <h2>
    {shown.title}
    <button type="button" class="btn btn-xs" onclick={be}>Be there</button>
    <button type="button" class="btn btn-xs" title="Played again after every change" onclick={keep}>Keep as a run</button>
    <button type="button" class="btn btn-xs" onclick={() => (view.shown = undefined)}>Close</button>
  </h2>
  {#if parts.broken}<p class="lost">The flow has changed since; the way is shown as far as it still goes.</p>{/if}
  <ol>
    {#each parts.found as part, index (index)}
      <li>
        <button type="button" class="word" onclick={() => view.select(part.place)}>{placeName(flow.document, part.place)}</button>
        {#each part.lines as { from, to, words } (from)}
          <span class="line"
            ><b>{from === to ? from : `${from}–${to}`}</b> {words}{to > from ? `, ${to - from + 1} times` : ''}</span
          >
        {/each}
      </li>
    {/each}
  </ol>
</section>

<style>
  h2 {
    display: flex;
    gap: 10px;
    align-items: baseline;
  }
  ol {
    columns: 3 300px;
    column-gap: 24px;
  }
  li {
    break-inside: avoid;
    margin-bottom: 6px;
  }
  .line {
    display: block;
    padding-left: 14px;
  }
  .line b {
    display: inline-block;
    min-width: 34px;
  }
</style>
