<script lang="ts">
  import { typed } from './typed.svelte.ts';
  import type { Snippet } from 'svelte';
  import People from './People.svelte';
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { levelsOf } from '@crow-lane/core/document/types';
  import { renameFlow } from '@crow-lane/core/document/edits/places';
  import { flowContext } from '$lib/flow/context.ts';
  import { decides } from '@crow-lane/core/report/report';
  import { failures } from '$lib/flow/live-checks.svelte.ts';
  import { summaryOf } from '$lib/summary.ts';
  import Crow from './Crow.svelte';
  import Exports from './Exports.svelte';
  import ThemeSwitch from './ThemeSwitch.svelte';

  /** What else the page offers stands before the help. */
  let { shows, children }: { shows: 'lane' | 'levels' | 'values' | 'trial' | 'checks' | 'plan'; children?: Snippet } = $props();
  const { flow, checks, causes, view } = flowContext();
  const views = [
    { view: undefined, name: 'Lane' },
    { view: 'levels', name: 'Levels' },
    { view: 'values', name: 'Values' },
    { view: 'trial', name: 'Trial' },
    { view: 'checks', name: 'Checks' }
  ] as const;
  const report = $derived(checks.report);
  const summary = $derived(report ? summaryOf(checks.of ?? flow.document, report) : undefined);
  const levels = $derived(levelsOf(flow.document).length);
  const failing = $derived(failures(report).length);
  const explaining = $derived(causes.causes.filter(({ verdict }) => decides(verdict)).length);
  const ending = $derived(report?.checks.find(({ check }) => check === 'ending-in-reach'));
  const counted = (count: number, one: string) => `${count} ${count === 1 ? one : `${one}s`}`;
  const kept = $derived(
    !flow.mayEdit
      ? 'only to read'
      : flow.keeping === 'kept'
        ? 'kept'
        : flow.keeping === 'keeping'
          ? 'keeping…'
          : `not kept yet: ${flow.pending.length}`
  );
  let sharing = $state(false);
  const undoing = $derived(flow.history.undos.at(-1));
  const redoing = $derived(flow.history.redos.at(-1));
  const undoTitle = $derived(
    undoing ? `Undo: ${undoing.label} (Ctrl Z)` : flow.history.canUndo ? 'Undo an earlier edit (Ctrl Z)' : 'Nothing to undo'
  );
</script>

<header>
  <a href={resolve('/')} aria-label="All flows" title="All flows"><Crow /></a>
  <h1 class="hidden-text">{flow.document.name}</h1>
  <input
    class="name display"
    aria-label="Name of the flow"
    maxlength="80"
    {@attach typed(
      flow,
      () => flow.document.name,
      (text) => {
        const name = text.trim();
        if (name && name !== flow.document.name) flow.edit(renameFlow(flow.document, name));
      }
    )}
  />
  <nav class="views" aria-label="Views">
    {#each views as { view: key, name } (name)}
      <a
        href={resolve('/flows/[id]/[[view=view]]', key ? { id: flow.id, view: key } : { id: flow.id })}
        aria-current={(key ?? 'lane') === shows ? 'page' : undefined}>{name}</a
      >
    {/each}
    {#if shows === 'plan'}<span class="here" aria-current="page">Plan</span>{/if}
  </nav>
  <span class="acts">
    <button
      type="button"
      class="btn btn-xs btn-square"
      aria-label="Undo"
      disabled={!flow.history.canUndo}
      title={undoTitle}
      onclick={() => flow.undo()}>↶</button
    >
    <button
      type="button"
      class="btn btn-xs btn-square"
      aria-label="Redo"
      disabled={flow.history.redos.length === 0}
      title={redoing ? `Redo: ${redoing.label} (Ctrl Shift Z)` : 'Nothing to redo'}
      onclick={() => flow.redo()}>↷</button
    >
    <button type="button" class="btn btn-xs" aria-pressed={view.history} onclick={() => (view.history = !view.history)}
      >History</button
    >
    <Exports />
    <People />
    {#if flow.me.person && flow.may === 'own'}<button type="button" class="btn btn-xs" onclick={() => (sharing = true)}
        >Share…</button
      >{/if}
  </span>
  <button
    type="button"
    class="answers"
    class:renewing={checks.renewing}
    title="What holds and what fails"
    onclick={() => goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'checks' }))}
  >
    {#if summary}
      {#if levels === 0}<span class="plain">no levels yet</span>
      {:else}<span class={summary.completable === levels ? 'won' : 'lost'}
          ><b>{summary.completable}</b> of {counted(levels, 'level')} <i>can be completed</i></span
        >{/if}
      <span class="places {summary.reached === summary.places ? 'won' : 'lost'}"
        ><b>{summary.reached}</b> of {counted(summary.places, 'place')} <i>reached</i></span
      >
      {#if ending?.outcome === 'holds'}<span class="won trap">an ending always in reach</span>{/if}
      {#if failing > 0}<span class="lost"
          >{#if explaining < failing}<i><b>{explaining}</b>{` ${explaining === 1 ? 'cause' : 'causes'}, `}</i>{/if}<b>{failing}</b
          >
          {failing === 1 ? 'finding' : 'findings'}</span
        >{/if}
      {#if summary.open > 0}<span class="plain"><b>{summary.open}</b> not settled</span>{/if}
    {:else}
      <span class="dim">checking…</span>
    {/if}
    <span class="dim state"
      >{checks.renewing ? (checks.states > 0 ? `${checks.states.toLocaleString('en')} states` : 'checking') : ''}</span
    >
  </button>
  <span class="kept" class:lost={flow.keeping === 'waiting'} class:dim={flow.keeping !== 'waiting'} role="status"
    >{kept}{#if flow.keeping === 'kept'}<i>, revision {flow.revision}</i>{/if}</span
  >
  {@render children?.()}
  <a
    class="help"
    href={resolve('/help/[[page]]', { page: shows === 'checks' ? 'findings' : shows })}
    target="_blank"
    rel="noopener"
    title="What can be done in this view">Help</a
  >
  <ThemeSwitch />
</header>

{#if sharing}
  {#await import('./Sharing.svelte') then { default: Sharing }}
    <Sharing id={flow.id} name={flow.document.name} me={flow.me} onclose={() => (sharing = false)} />
  {/await}
{/if}

<style>
  .help {
    font-size: 12px;
    font-weight: 700;
  }
  .help:hover {
    text-decoration: underline;
  }
  header {
    height: 46px;
    display: flex;
    align-items: center;
    gap: 8px;
    padding: 0 12px;
    background: var(--color-base-100);
    border-bottom: 1px solid var(--color-base-300);
    white-space: nowrap;
    min-width: 0;
  }
  .name {
    font-size: 16px;
    min-width: 60px;
    flex: 0 1 auto;
    background: transparent;
    text-overflow: ellipsis;
    padding: 2px 3px;
    field-sizing: content;
  }
  .name:hover {
    background: var(--color-base-200);
  }
  :is(.answers, .kept) i {
    font-style: normal;
  }
  .acts {
    display: flex;
    gap: 3px;
  }
  .answers {
    margin-left: auto;
    display: flex;
    align-items: baseline;
    gap: 12px;
    font-size: 12px;
    cursor: pointer;
    flex-shrink: 0;
  }
  .answers b {
    font-size: 14px;
  }
  .renewing {
    font-style: italic;
  }
  .kept {
    font-size: 12px;
  }
  .state:empty {
    display: none;
  }
  @media (max-width: 1420px) {
    .answers .trap {
      display: none;
    }
  }
  @media (max-width: 1340px) {
    .answers .places i,
    .kept i {
      display: none;
    }
  }
  @media (max-width: 1180px) {
    .answers i,
    .kept.dim {
      display: none;
    }
  }
</style>
