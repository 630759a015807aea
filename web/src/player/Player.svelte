<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import type { FlowDocument } from '@crow-lane/core/document/types';
  import { valueNamed } from '@crow-lane/core/document/values';
  import type { PageGame } from '@crow-lane/core/formats/page';
  import { active } from '@crow-lane/core/play/state';
  import { valueOf } from '@crow-lane/core/play/turn';
  import { mostSteps, writeRun } from '@crow-lane/core/document/run-file';
  import { runOf } from '@crow-lane/core/trial/recorded';
  import { stepsOf } from '@crow-lane/core/trial/trial';
  import { setPlayContext } from '$lib/flow/play-context.ts';
  import { Session } from '$lib/flow/session.svelte.ts';
  import { fileName, save } from '$lib/parts/save.ts';
  import { keysOf, pressKey } from '$lib/trial/keys.ts';
  import { padControls } from '$lib/trial/pad.ts';
  import Scene from '$lib/trial/Scene.svelte';
  import LaneMap from './LaneMap.svelte';
  import { keep, recall } from './kept.ts';

  /** The game as its players meet it: what can be done here, and round it what the page itself can do. */
  let { game, document: flow }: { game: PageGame; document: FlowDocument } = $props();
  const session = new Session();
  setPlayContext({
    flow: {
      get document() {
        return flow;
      }
    },
    session,
    pictureOf: (level) => game.insides[level]!,
    plain: true
  });

  let said = $state('');
  let asks: 'over' | 'save' | undefined = $state();
  let happened = $state('');
  /** Steps that could not be played again, as the game has changed since. */
  let lost = $state(0);

  untrack(() => {
    const before = recall(game.id);
    session.pace = 1;
    session.speed = 1;
    lost = session.beginAfter(flow, before?.steps ?? [], { seed: before?.seed ?? seeded() });
  });
  function seeded(): number {
    return Math.floor(Math.random() * 1e9);
  }

  const trial = $derived(session.trial);
  $effect(() => {
    if (trial && !keep(game.id, { seed: trial.seed, steps: stepsOf(trial) }))
      said = 'This browser cannot keep your progress: it is lost when you close the page.';
  });

  const values = $derived(
    trial && game.shows.values
      ? Object.entries(flow.variables).map(([id, variable]) => ({
          id,
          name: variable.name,
          value: valueNamed(variable, valueOf(trial.flow, session.seen ?? trial.state, id))
        }))
      : []
  );

  function startOver() {
    asks = undefined;
    lost = 0;
    said = '';
    keep(game.id, undefined);
    session.begin(seeded());
    page.querySelector<HTMLElement>('.scene button')?.focus();
  }

  function saveRun(event: SubmitEvent) {
    event.preventDefault();
    const run = trial && runOf(trial, happened.trim() || `Played ${new Date().toISOString().slice(0, 10)}`);
    if (!run || run.steps.length > mostSteps) {
      said = run
        ? `A file holds ${mostSteps.toLocaleString('en')} actions, and you have played longer.`
        : 'There is nothing to save yet.';
      return;
    }
    save(new Blob([writeRun(flow.name, run)], { type: 'application/json' }), `${fileName(flow.name)}.run.json`);
    asks = undefined;
    said = 'Saved. Send the file to the designer of the game.';
  }

  let page: HTMLElement;
  onMount(() => {
    const pads = padControls({
      scene: () => page.querySelector<HTMLElement>('.scene .place:not([inert])') ?? undefined,
      key: (names) => pressKey(session, names),
      isWalked: () => page.querySelector('.scene .walk') !== null
    });
    let last = performance.now();
    const clock = setInterval(() => {
      const now = performance.now();
      // nothing happens to a player who is not there
      if (!document.hidden && asks === undefined) session.tick((now - last) / 1000);
      last = now;
    }, 50);
    return () => {
      pads();
      clearInterval(clock);
    };
  });

  function key(event: KeyboardEvent) {
    if (asks !== undefined && event.key === 'Escape') asks = undefined;
    else if (asks === undefined && pressKey(session, keysOf(event))) event.preventDefault();
  }
</script>

<svelte:window onkeydown={key} />
<main bind:this={page}>
  <header>
    <h1>{flow.name}</h1>
    <span class="page-acts">
      <label
        >Time
        <select class="select" bind:value={session.speed}>
          <option value={1}>normal speed</option><option value={0.5}>half speed</option><option value={0}>stopped</option>
        </select></label
      >
      <button
        type="button"
        class="btn"
        aria-expanded={asks === 'save'}
        onclick={() => (asks = asks === 'save' ? undefined : 'save')}>Save what I did…</button
      >
      <button
        type="button"
        class="btn"
        aria-expanded={asks === 'over'}
        onclick={() => (asks = asks === 'over' ? undefined : 'over')}>Start over…</button
      >
    </span>
  </header>
  {#if asks === 'save'}
    <form class="asked" onsubmit={saveRun}>
      <label>What happened, or where did you get stuck? <input maxlength="80" autocomplete="off" bind:value={happened} /></label>
      <button class="btn">Save as a file</button>
    </form>
  {:else if asks === 'over'}
    <p class="asked">
      This deletes your progress and all saved games.
      <button type="button" class="btn" onclick={startOver}>Start over</button>
      <button type="button" class="btn" onclick={() => (asks = undefined)}>Keep playing</button>
    </p>
  {/if}
  {#if lost > 0}
    <p class="asked">
      The game has changed since your last visit: your last {lost === 1 ? 'action' : `${lost} actions`} could not be repeated.
    </p>
  {/if}
  <p class="said" role="status">{said}</p>
  {#if trial}
    <Scene />
    {#if values.length > 0}
      <dl class="values" aria-label="Values">
        {#each values as { id, name, value } (id)}<div>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>{/each}
      </dl>
    {/if}
    {#if game.map}<LaneMap map={game.map} here={active(session.seen ?? trial.state).place} name={flow.name} />{/if}
  {:else}
    <p>Play cannot begin: there is no place where it starts, or its rules go on forever.</p>
  {/if}
</main>

<style>
  main {
    max-width: 820px;
    margin: 0 auto;
    padding: 10px 14px 30px;
  }
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px 16px;
    margin-bottom: 8px;
  }
  h1 {
    flex: 1;
    font-size: 20px;
  }
  .page-acts {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
  }
  .page-acts label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .asked {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 10px;
    padding: 8px 12px;
    margin-bottom: 8px;
    background: var(--pick-wash);
  }
  .asked label {
    flex: 1;
    min-width: 240px;
  }
  .asked input {
    width: 100%;
  }
  .said:empty {
    display: none;
  }
  .said {
    margin-bottom: 8px;
    color: var(--dim);
  }
  .values {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 18px;
    margin-top: 10px;
    padding: 8px 12px;
    background: var(--color-base-100);
  }
  .values div {
    display: flex;
    gap: 6px;
  }
  dt {
    color: var(--dim);
  }
  dd {
    margin: 0;
    font-weight: 700;
  }
</style>
