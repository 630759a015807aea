<script lang="ts">
  import { onMount } from 'svelte';
  import type { Cell, Id, PlanPatrol } from '@crow-lane/core/document/types';
  import { secondsOf } from '@crow-lane/core/document/numbers';
  import type { Place } from '@crow-lane/core/plan/automaton';
  import { patrolName } from '@crow-lane/core/plan/fits';
  import { canPatrol } from '@crow-lane/core/vocabulary/pieces';
  import { stepByStep } from '@crow-lane/core/plan/passing';
  import type { Crossing, Pass, Passes } from '@crow-lane/core/times/crossing';
  import { crossingWords } from '@crow-lane/core/words/times';
  import { capital } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import SecondsField from '$lib/parts/SecondsField.svelte';
  import type { Drawing } from './drawing.svelte.ts';
  import type { Playing } from './playing.svelte.ts';

  /** The patrols of a plan: where they go, played in place, and how the player comes past them. */
  let { drawing, playing, onwalk }: { drawing: Drawing; playing: Playing; onwalk: (way: Place[]) => void } = $props();
  const { flow } = flowContext();
  const level = $derived(drawing.level!);
  const plan = $derived(drawing.plan!);
  const patrols = $derived(Object.entries(plan.patrols ?? {}));
  const able = $derived(Object.values(level.pieces).filter(({ kind }) => canPatrol(kind)));
  let passes: Passes | undefined = $state.raw(undefined);
  /** What is told is of the plan as it was. */
  let isOld = $state(true);
  let plays = $state(false);

  $effect(() => {
    const { known, isAhead, level: now } = drawing;
    isOld = true;
    if (!known || isAhead || !now?.plan?.patrols) return;
    // a speed may be a number that has changed elsewhere
    void flow.document.numbers;
    let isLate = false;
    const later = setTimeout(async () => {
      const found = await drawing.passes();
      if (isLate) return;
      passes = found;
      playing.pass = undefined;
      isOld = false;
    }, 200);
    return () => {
      isLate = true;
      clearTimeout(later);
    };
  });

  onMount(() => {
    let before = performance.now();
    let frame = requestAnimationFrame(function look(now) {
      const next = playing.moment + (now - before) / 1000;
      if (plays) playing.moment = next >= playing.length ? 0 : next;
      before = now;
      frame = requestAnimationFrame(look);
    });
    return () => {
      cancelAnimationFrame(frame);
      playing.pass = undefined;
      playing.moment = 0;
    };
  });

  function change(id: Id, fields: Partial<PlanPatrol>, label: string) {
    drawing.draw(label, (now) => {
      const before = now.patrols?.[id];
      return before ? { ...now, patrols: { ...now.patrols, [id]: { ...before, ...fields } } } : now;
    });
  }
  function remove(id: Id) {
    drawing.draw('take a patrol away', (now) => {
      const { [id]: _, ...rest } = now.patrols ?? {};
      return { ...now, patrols: rest };
    });
  }
  const nameOf = (id: Id) => patrolName({ ...level, plan }, id);
  const where = ([x, y]: Cell) => `${x}, ${y}`;
  const entryWords = ({ entry }: Crossing) =>
    entry === null || Object.keys(level.entries).length < 2 ? '' : `From ${level.entries[entry]?.name ?? entry}: `;

  function show(pass: Pass) {
    playing.pass = playing.pass === pass ? undefined : pass;
    playing.moment = 0;
    plays = playing.pass !== undefined;
  }
</script>

{#snippet crossings(found: Crossing[])}
  {#each found as crossing (crossing.entry)}
    {@const { pass } = crossing}
    <p
      data-crossing={crossing.outcome}
      class:dim={isOld}
      class:lost={crossing.outcome === 'blocked' || crossing.outcome === 'met'}
    >
      {capital(`${entryWords(crossing)}${crossingWords(crossing)}`)}
      {#if pass}
        <span class="acts">
          <button type="button" class="link" aria-pressed={playing.pass === pass} onclick={() => show(pass)}
            >{playing.pass === pass ? 'Hide the route past' : 'Show the route past'}</button
          >
          <button type="button" class="link" onclick={() => onwalk(stepByStep(pass.walked!.way))}>Watch the route</button>
        </span>
      {/if}
    </p>
  {/each}
{/snippet}

{#if patrols.length > 0}
  <div class="play">
    <button type="button" class="btn btn-xs" onclick={() => (plays = !plays)}>{plays ? 'Pause' : 'Play'}</button>
    <input
      type="range"
      aria-label="Seconds after arrival"
      min="0"
      max={playing.length}
      step="0.05"
      bind:value={playing.moment}
      oninput={() => (plays = false)}
    />
    <output>{playing.moment.toFixed(1)} s</output>
  </div>
{/if}
{#each patrols as [id, patrol] (id)}
  {@const name = nameOf(id)}
  <section class="one" aria-label={name}>
    <h2>
      {name}
      {#if playing.foes[id]}<span class="dim">at {where(playing.foes[id])}</span>{/if}
    </h2>
    {#if passes?.alone[id]}{@render crossings(passes.alone[id])}{:else}<p class="dim">
        {isOld
          ? `Being worked out…${drawing.looked.passes ? ` ${drawing.looked.passes.toLocaleString('en-GB')} states looked at` : ''}`
          : 'It is not played: Answer tells what does not fit.'}
      </p>{/if}
    <p class="row">
      <select
        class="select select-xs"
        aria-label="How {name} turns"
        value={patrol.turn}
        onchange={(event) => change(id, { turn: event.currentTarget.value as PlanPatrol['turn'] }, `how ${name} turns`)}
        ><option value="back">back and forth</option><option value="round">round</option></select
      >
      <button type="button" class="btn btn-xs" onclick={() => remove(id)}>Delete</button>
    </p>
    <p class="row">
      <SecondsField
        value={patrol.speed}
        least={0.1}
        most={1000}
        label="Speed of {name}"
        unit="cells/s"
        onchange={(speed) => change(id, { speed }, `${name} goes ${secondsOf(flow.document, speed)} cells a second`)}
      />
    </p>
    <ol>
      {#each patrol.points as point, index (index)}
        <li>
          {where(point)}
          {#if patrol.points.length > 1}<button
              type="button"
              class="btn btn-xs"
              aria-label="Take point {index + 1} of {name} away"
              onclick={() =>
                change(id, { points: patrol.points.filter((_, at) => at !== index) }, `take point ${index + 1} of ${name} away`)}
              >×</button
            >{/if}
        </li>
      {/each}
    </ol>
  </section>
{:else}
  <p class="dim">
    {#if able.length > 0}None. Take the stamp “{able[0]!.name} patrol” and click its points, one after another.
    {:else}None, and nothing that could: a foe or a hazard patrols. Pieces are made on the desk.{/if}
  </p>
{/each}
{#if passes?.together}
  <section class="one" aria-label="All patrols together">
    <h2>All together</h2>
    {@render crossings(passes.together)}
  </section>
{/if}
{#if patrols.length > 0}
  <p class="dim">
    Foes begin at their first point when the player arrives, and do not see. The player goes a cell a tick, may wait wherever it
    can stand, and meets a foe in one cell or where both change places. Gates are open.
  </p>
{/if}

<style>
  .play {
    display: grid;
    grid-template-columns: 58px minmax(0, 1fr) 48px;
    align-items: center;
    gap: 8px;
  }
  [type='range'] {
    width: 100%;
    accent-color: var(--color-accent);
  }
  h2 .dim {
    font-weight: 400;
  }
  output {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  .one {
    padding: 2px 0 8px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .row {
    display: flex;
    align-items: center;
    gap: 6px;
    margin: 4px 0;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 0 10px;
  }
  ol {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    margin-top: 4px;
  }
  li {
    display: flex;
    align-items: center;
    gap: 4px;
  }
</style>
