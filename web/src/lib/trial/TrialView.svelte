<script lang="ts">
  import { onMount } from 'svelte';
  import type { Id } from '@crow-lane/core/document/types';
  import { active, bottom } from '@crow-lane/core/play/state';
  import { flowContext } from '$lib/flow/context.ts';
  import Carried from './Carried.svelte';
  import Runs from './Runs.svelte';
  import Scene from './Scene.svelte';
  import Tape from './Tape.svelte';
  import Walks from './Walks.svelte';

  /** Be the player: the place as the player meets it, the values beside it, under both the tape. */
  const { flow, checks, session } = flowContext();
  $effect.pre(() => session.show(flow.document));
  const reached = $derived(
    new Map(
      (checks.report?.checks ?? []).flatMap((verdict) =>
        verdict.check === 'place-reached' && verdict.outcome === 'holds' ? [[verdict.subject, verdict]] : []
      )
    )
  );
  let place: Id = $state('');
  let walking = $state(false);

  async function beginAfter() {
    const verdict = reached.get(place);
    if (verdict) session.beginAfter(flow.document, await checks.routeOf(verdict));
  }

  onMount(() => {
    let last = performance.now();
    const clock = setInterval(() => {
      const now = performance.now();
      session.tick((now - last) / 1000);
      last = now;
    }, 100);
    return () => clearInterval(clock);
  });

  /** The keys that rules name, unless something is typed or a control has the focus and takes Enter for itself. */
  function key(event: KeyboardEvent) {
    const at = event.target as HTMLElement;
    if (!session.trial || event.ctrlKey || event.metaKey || event.altKey || at.matches('input, select, textarea')) return;
    if (at.matches('button, a') && (event.key === 'Enter' || event.key === ' ')) return;
    const { state, flow: playing } = session.trial;
    const names = [event.key.toLowerCase(), ...(event.key === 'Escape' ? ['esc'] : event.key === ' ' ? ['space'] : [])];
    const rule = playing
      .applying(active(state).place, bottom(state).place)
      .by.press.find(({ rule: { when } }) => 'press' in when && when.key !== undefined && names.includes(when.key.toLowerCase()));
    if (!rule || !('press' in rule.rule.when)) return;
    event.preventDefault();
    session.do({ press: rule.rule.when.press });
  }
</script>

<svelte:window onkeydown={key} />
<div class="trial">
  <div class="bar">
    <button type="button" class="btn btn-xs" onclick={() => session.begin()}>From the start</button>
    <label
      >or at
      <select class="select select-xs" aria-label="Begin at" bind:value={place}>
        <option value="">choose a place</option>
        {#each Object.entries(flow.document.places) as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
      </select></label
    >
    <button
      type="button"
      class="btn btn-xs"
      disabled={!place}
      title="All values as they begin"
      onclick={() => session.beginIn(place)}>in a clean state</button
    >
    <button
      type="button"
      class="btn btn-xs"
      disabled={!reached.has(place)}
      title="As a player really comes there"
      onclick={beginAfter}>after the shortest way</button
    >
    <button type="button" class="btn btn-xs" onclick={() => (walking = true)}>Many at random…</button>
    <span class="gap"></span>
    <label
      >clock
      <select class="select select-xs" aria-label="Clock" bind:value={session.speed}>
        <option value={0}>stopped</option><option value={1}>true speed</option><option value={5}>5 times</option>
      </select></label
    >
    <label
      >transitions
      <select class="select select-xs" aria-label="Transitions" bind:value={session.pace}>
        <option value={0}>skipped</option><option value={1}>true length</option><option value={4}>4 times</option>
      </select></label
    >
  </div>
  {#if session.lost}<p class="lostline">{session.lost}</p>{/if}
  {#if session.trial}
    <div class="both">
      <Scene />
      <div class="side">
        <Carried />
        <Runs />
      </div>
    </div>
    <Tape />
  {:else}
    <p class="none">Play cannot begin: there is no place where it starts, or its rules go on for ever.</p>
  {/if}
</div>

{#if walking}<Walks onclose={() => (walking = false)} />{/if}

<style>
  .side {
    display: grid;
    grid-template-rows: auto 1fr;
    min-height: 0;
    border-left: 1px solid var(--color-base-300);
  }
  .trial {
    height: 100%;
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr) minmax(120px, 34%);
    min-height: 0;
  }
  .bar {
    grid-row: 1;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    padding: 5px 16px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .bar label {
    display: flex;
    align-items: center;
    gap: 5px;
  }
  .bar select {
    width: 138px;
  }
  .gap {
    flex: 1;
  }
  .lostline {
    grid-row: 2;
    padding: 4px 16px;
    background: var(--lost-wash);
  }
  .both {
    grid-row: 3;
    display: grid;
    grid-template-columns: 1fr minmax(260px, 330px);
    min-height: 0;
  }
  .trial > :global(.tape) {
    grid-row: 4;
  }
  .none {
    padding: 20px;
  }
</style>
