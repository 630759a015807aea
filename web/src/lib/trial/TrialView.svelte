<script lang="ts">
  import { onMount } from 'svelte';
  import type { Beginning } from '@crow-lane/core/play/handle';
  import { valuesWords } from '@crow-lane/core/trial/words';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Begin from './Begin.svelte';
  import Carried from './Carried.svelte';
  import { keysOf, pressKey } from './keys.ts';
  import { padControls } from './pad.ts';
  import Runs from './Runs.svelte';
  import Scene from './Scene.svelte';
  import Tape from './Tape.svelte';
  import Walks from './Walks.svelte';

  /** Be the player: the place as the player meets it, the values beside it, under both the tape. */
  const { flow, session } = flowContext();
  $effect.pre(() => session.show(flow.document));
  let beginning = $state(false);
  let walking = $state(false);

  /** A trial that did not begin as every new player does says so. */
  function fromWords({ at, kept = {}, won = [] }: Beginning): string {
    const where = at === undefined ? '' : ` at ${placeName(flow.document, at)}`;
    if (at !== undefined) return `Begun${where} in a clean state: all values as they begin, nothing won.`;
    const names = won.map((level) => placeName(flow.document, level)).join(', ');
    return `Begun as a returning player: ${valuesWords(flow.document, kept)}${names ? `; won before: ${names}` : ''}.`;
  }

  let view: HTMLDivElement;
  onMount(() =>
    padControls({
      scene: () => view.querySelector<HTMLElement>('.scene .place:not([inert])') ?? undefined,
      key: (names) => pressKey(session, names),
      isWalked: () => view.querySelector('.scene .walk') !== null
    })
  );

  onMount(() => {
    let last = performance.now();
    const clock = setInterval(() => {
      const now = performance.now();
      session.tick((now - last) / 1000);
      last = now;
    }, 100);
    return () => clearInterval(clock);
  });

  function key(event: KeyboardEvent) {
    if (pressKey(session, keysOf(event))) event.preventDefault();
  }
</script>

<svelte:window onkeydown={key} />
<div class="trial" bind:this={view}>
  <div class="bar">
    <button type="button" class="btn btn-xs" onclick={() => session.begin()}>From the start</button>
    <button type="button" class="btn btn-xs" onclick={() => (beginning = true)}>Begin elsewhere…</button>
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
  {#if session.trial?.from}<p class="fromline">{fromWords(session.trial.from)}</p>{/if}
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
    <p class="none">Play cannot begin: there is no place where it starts, or its rules go on forever.</p>
  {/if}
</div>

{#if beginning}<Begin onclose={() => (beginning = false)} />{/if}
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
    grid-template-rows: auto auto auto minmax(0, 1fr) minmax(120px, 34%);
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
  .fromline {
    grid-row: 2;
    padding: 2px 16px;
    background: var(--tile);
    font-size: 12px;
  }
  .lostline {
    grid-row: 3;
    padding: 4px 16px;
    background: var(--lost-wash);
  }
  .both {
    grid-row: 4;
    display: grid;
    grid-template-columns: 1fr minmax(260px, 330px);
    min-height: 0;
  }
  .trial > :global(.tape) {
    grid-row: 5;
  }
  .none {
    padding: 20px;
  }
</style>
