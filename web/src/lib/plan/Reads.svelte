<script lang="ts">
  import { untrack } from 'svelte';
  import type { PlanRead } from '@crow-lane/core/document/types';
  import { readOf } from '@crow-lane/core/plan/letters';
  import { drawnFrom, TooLarge, unknownIn } from '@crow-lane/core/plan/text';
  import { grounds, groundsOf } from '@crow-lane/core/vocabulary/ground';
  import Dialog from '$lib/parts/Dialog.svelte';
  import type { Drawing } from './drawing.svelte.ts';

  /** What the characters of a grid from elsewhere mean: asked once, and kept with the plan. */
  let { drawing, cells, onclose }: { drawing: Drawing; cells: string[][]; onclose: (done: boolean) => void } = $props();
  const level = $derived(drawing.level!);
  const plan = $derived(drawing.plan!);
  const unknown = untrack(() => [...unknownIn(cells, drawing.level!, drawing.plan!)].sort(([, a], [, b]) => b - a));
  const most = 40;
  const options = $derived([
    ...groundsOf(plan.view).map((ground) => ({ value: JSON.stringify(ground), label: grounds[ground]!.words })),
    ...Object.entries(level.pieces)
      .filter(([, { kind }]) => kind !== 'player')
      .map(([piece, { name }]) => ({ value: JSON.stringify({ piece }), label: name })),
    ...Object.entries(level.entries).map(([entry, { name }]) => ({ value: JSON.stringify({ entry }), label: `entry ${name}` })),
    ...Object.values(plan.things ?? {}).flatMap((thing) =>
      'gate' in thing ? [{ value: JSON.stringify(readOf(thing)), label: `gate: ${thing.gate}` }] : []
    )
  ]);
  /** Blanks are mostly open, what there is most of besides is solid. */
  let meant: Record<string, string> = $state(
    Object.fromEntries(
      unknown.map(([char], index) => [char, JSON.stringify(char === ' ' || char === '0' || index > 0 ? '.' : '#')])
    )
  );
  let error = $state('');

  function take(event: SubmitEvent) {
    event.preventDefault();
    const reads = {
      ...plan.reads,
      ...Object.fromEntries(Object.entries(meant).map(([char, value]) => [char, JSON.parse(value) as PlanRead]))
    };
    try {
      drawnFrom(cells, level, { ...plan, reads });
    } catch (problem) {
      if (!(problem instanceof TooLarge)) throw problem;
      error = problem.message;
      return;
    }
    // the drawing is made later, when the question is gone
    const [grid, on] = [cells, drawing];
    on.draw('from a grid', (before) => drawnFrom(grid, on.level!, { ...before, reads: { ...before.reads, ...reads } }));
    onclose(true);
  }
</script>

<Dialog title="What do these mean?" onclose={() => onclose(false)}>
  <form class="asked" onsubmit={take}>
    <p class="dim">
      {unknown.length}
      {unknown.length === 1 ? 'character is' : 'characters are'} not known yet. The answer is kept with the plan.
    </p>
    {#each unknown.slice(0, most) as [char, n], index (char)}
      <label
        ><span><kbd>{char === ' ' ? 'blank' : char}</kbd> <span class="dim">in {n} {n === 1 ? 'cell' : 'cells'}</span></span>
        <select
          class="select select-sm"
          aria-label="What {char === ' ' ? 'a blank' : char} means"
          data-first={index === 0 || undefined}
          bind:value={meant[char]}
        >
          {#each options as { value, label } (value)}<option {value}>{label}</option>{/each}
        </select></label
      >
    {/each}
    {#if unknown.length > most}<p class="dim">{unknown.length - most} more count as open.</p>{/if}
    {#if error}<p class="lost" role="alert">{error}</p>{/if}
    <p class="acts">
      <button class="btn btn-sm btn-primary">Draw it</button>
      <button type="button" class="btn btn-sm" onclick={() => onclose(false)}>Cancel</button>
    </p>
  </form>
</Dialog>

<style>
  kbd {
    display: inline-block;
    min-width: 20px;
    padding: 0 4px;
    text-align: center;
    border: 1px solid var(--color-base-300);
  }
</style>
