<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { replay } from '@crow-lane/core/play/replay';
  import { playedWords } from '@crow-lane/core/words/steps';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import { own, type Id, type Step } from '@crow-lane/core/document/types';

  /** A route as numbered steps under the places they happen in; after any of them one can be there. */
  let { steps, at, onat }: { steps: Step[]; at?: number; onat?: (step: number) => void } = $props();
  const { flow, view, session } = flowContext();

  interface Line {
    from: number;
    to: number;
    words: string;
  }
  const parts = $derived.by(() => {
    const found: { place: string; lines: Line[] }[] = [];
    let number = 0;
    for (const played of replay(flow.document, steps)) {
      const { from } = played;
      if (from === undefined) continue;
      number++;
      const words = playedWords(flow.document, played);
      let part = found.at(-1);
      if (part?.place !== from) found.push((part = { place: from, lines: [] }));
      const last = part.lines.at(-1);
      // five lamps in a row are one line
      if (last?.words === words) last.to = number;
      else part.lines.push({ from: number, to: number, words });
    }
    return { found, broken: number < steps.filter((step) => !('start' in step)).length };
  });

  const hasPlan = (id: Id) => {
    const place = own(flow.document.places, id);
    return place?.kind === 'level' && place.plan !== undefined;
  };

  /** The trial goes on after so many steps; those up to a further one are shown on the plan. */
  async function be(count: number, watched = count) {
    const first = steps[0] && 'start' in steps[0] ? 1 : 0;
    session.beginAfter(flow.document, steps.slice(0, count + first), { following: steps.slice(count + first, watched + first) });
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'trial' }));
  }
</script>

{#if parts.broken}<p class="lost">The flow has changed: the route is shown as far as it still leads.</p>{/if}
<ol>
  {#each parts.found as part, index (index)}
    <li>
      <button type="button" class="word" onclick={() => view.select(part.place)}>{placeName(flow.document, part.place)}</button>
      {#if hasPlan(part.place)}<button
          type="button"
          class="watch"
          title="What happens here is walked on the plan"
          onclick={() => be(part.lines[0]!.from - 1, part.lines.at(-1)!.to)}>watch on the plan</button
        >{/if}
      {#each part.lines as { from, to, words } (from)}
        <span class="line" class:past={at !== undefined && from > at} aria-current={at !== undefined && at >= from && at <= to}>
          {#if onat}<button type="button" title="Show the route up to here" onclick={() => onat(to)}
              ><b>{from === to ? from : `${from}–${to}`}</b></button
            >{:else}<b>{from === to ? from : `${from}–${to}`}</b>{/if}
          {words}{to > from ? `, ${to - from + 1} times` : ''}
          <button type="button" class="be" title="Play from here, after step {to}" onclick={() => be(to)}>be there</button>
        </span>
      {/each}
    </li>
  {/each}
</ol>

<style>
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
    cursor: inherit;
  }
  .line button {
    cursor: pointer;
  }
  .past {
    opacity: 0.6;
  }
  [aria-current='true'] {
    background: var(--pick-wash);
  }
  .be,
  .watch {
    margin-left: 6px;
    font-size: 11px;
    text-decoration: underline;
    cursor: pointer;
  }
  .be {
    opacity: 0;
  }
  .line:hover .be,
  .be:focus-visible {
    opacity: 1;
  }
</style>
