<script lang="ts">
  import { onDestroy } from 'svelte';
  import type { FlowDocument, Id } from '@crow-lane/core/document/types';
  import { keepRun, recordAnew, removeRun, renameRun, trialOf, type Replayed, type Uncovered } from '@crow-lane/core/trial/runs';
  import { runOutcomeWords } from '@crow-lane/core/trial/words';
  import { findRule } from '@crow-lane/core/document/types';
  import { stepWords } from '@crow-lane/core/words/steps';
  import { placeName, ruleWords } from '@crow-lane/core/words/words';
  import type { Step } from '@crow-lane/core/check/report';
  import { flowContext } from '$lib/flow/context.ts';
  import AddLine from '$lib/parts/AddLine.svelte';
  import { Asker } from '$lib/parts/asker.ts';
  import type { Done, Task } from './runs.worker.ts';

  /** The recorded runs: each is played again after every change, and says where it now goes another way. */
  const { flow, session, view } = flowContext();
  const asker = new Asker<Task, Done>(() => new Worker(new URL('./runs.worker.ts', import.meta.url), { type: 'module' }));
  onDestroy(() => asker.stop());
  let results: Record<Id, Replayed> = $state.raw({});
  let unused: Uncovered | undefined = $state.raw();
  let of: FlowDocument | undefined = $state.raw();
  $effect(() => {
    const { document } = flow;
    const later = setTimeout(async () => {
      const done = await asker.ask({ ask: 'runs', document } as Task);
      if (!done?.runs || flow.document !== document) return;
      results = done.runs;
      unused = done.unused;
      of = document;
    }, 150);
    return () => clearTimeout(later);
  });
  const runs = $derived(Object.entries(flow.document.runs));

  function keep(name: string) {
    const made = session.trial && !session.from && keepRun(flow.document, session.trial, name);
    if (made) flow.edit(made);
    else
      flow.notice = {
        bad: true,
        text: 'Only what a player can really do from the start is kept as a run: no made-up values, and not begun in the middle.'
      };
  }

  function take(id: Id) {
    const trial = trialOf(flow.document, flow.document.runs[id]!);
    if (trial) session.take(trial);
  }
</script>

<section class="runs" aria-label="Recorded runs">
  <h2>Runs</h2>
  <AddLine placeholder="Keep this trial as: A fall in level 2" label="Name of a new run" onadd={keep} />
  <ul>
    {#each runs as [id, run] (id)}
      {@const result = results[id]}
      <li data-run={id} class:differs={result?.goes === 'differently'}>
        <p>
          <input
            aria-label="Name of the run {run.name}"
            maxlength="80"
            value={run.name}
            onchange={(event) => {
              const name = event.currentTarget.value.trim();
              if (name && name !== run.name) flow.edit(renameRun(flow.document, id, name));
              else event.currentTarget.value = run.name;
            }}
          />
          <span class="dim">{run.steps.length - 1} events</span>
          {#if of !== flow.document || !result}<span class="dim">playing…</span>
          {:else if result.goes === 'as recorded'}<span class="won">✓ as recorded</span>
          {:else}<span class="lost">goes another way at event {result.at}</span>{/if}
        </p>
        {#if result?.goes === 'differently'}
          {@const { then: _then, ...step } = run.steps[result.at]!}
          <dl>
            <dt>{stepWords(flow.document, step as Step)}</dt>
            <dt>recorded</dt>
            <dd>{runOutcomeWords(flow.document, result.before)}</dd>
            <dt>now</dt>
            <dd>{result.now ? runOutcomeWords(flow.document, result.now) : 'it cannot be done any more'}</dd>
          </dl>
        {/if}
        <p>
          <button type="button" class="link" onclick={() => take(id)}>play it</button>
          {#if result?.goes === 'differently'}
            <button
              type="button"
              class="link"
              title="As it goes now is how it is meant"
              onclick={() => flow.edit(recordAnew(flow.document, id))}>record anew</button
            >
          {/if}
          <button type="button" class="link" onclick={() => flow.edit(removeRun(flow.document, id))}>delete</button>
        </p>
      </li>
    {/each}
  </ul>
  {#if runs.length > 0 && unused}
    <details>
      <summary>Not used by any run: {unused.places.length} places, {unused.rules.length} rules</summary>
      <ul>
        {#each unused.places as place (place)}
          <li>
            <button type="button" class="link" onclick={() => view.select(place)}>{placeName(flow.document, place)}</button>
          </li>
        {/each}
        {#each unused.rules as rule (rule)}
          {@const found = findRule(flow.document, rule)}
          {#if found}<li>{ruleWords(flow.document, found.owner, found.rule)}</li>{/if}
        {/each}
      </ul>
    </details>
  {/if}
</section>

<style>
  .runs {
    padding: 6px 16px 12px;
    overflow: auto;
    background: var(--color-base-100);
    border-top: 1px solid var(--color-base-300);
  }
  h2 {
    font-size: 14px;
  }
  li {
    padding: 4px 0;
    border-bottom: 1px solid var(--color-base-300);
    font-size: 12px;
  }
  input {
    flex: 1 1 100%;
    font-weight: 700;
    background: transparent;
  }
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .differs {
    padding-left: 6px;
    border-left: 4px dashed var(--lost);
    background: var(--lost-wash);
  }
  dt {
    font-weight: 700;
  }
</style>
