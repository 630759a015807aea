<script lang="ts">
  import type { ReadError } from '@crow-lane/core/document/read';
  import type { Id, Run } from '@crow-lane/core/document/types';
  import { stepOfRun } from '@crow-lane/core/trial/recorded';
  import { addRun, keepRun, recordAnew, removeRun, renameRun, setBug, trialOf } from '@crow-lane/core/trial/runs';
  import { runOutcomeWords } from '@crow-lane/core/trial/words';
  import { stepWords } from '@crow-lane/core/words/steps';
  import { conditionWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import AddLine from '$lib/parts/AddLine.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import Unused from './Unused.svelte';

  /** The recorded runs: each is played again after every change, and says where it now goes another way. */
  const { flow, session, runs } = flowContext();
  const kept = $derived(Object.entries(flow.document.runs));

  function keep(name: string) {
    const made = session.trial && keepRun(flow.document, session.trial, name, session.expects);
    if (made) {
      flow.edit(made);
      session.run = made.id;
    } else
      flow.notice = {
        bad: true,
        text: 'A run starts at the beginning of the game and has no made-up values.'
      };
  }

  let refused: ReadError[] = $state.raw([]);
  /** Takes what a player did on a page to play: it is kept as it went there, and played as far as it goes on the flow as it is. */
  async function takeFile(file: File | undefined) {
    if (!file) return;
    // what reads files is large, and seldom needed
    const { readRun } = await import('@crow-lane/core/document/read');
    const { file: read, errors } = readRun(await file.text());
    refused = errors ?? [];
    if (!read) return;
    const made = addRun(flow.document, read.run);
    flow.edit(made);
    take(made.id, read.run);
    const played = (session.trial?.lines.length ?? 1) - 1;
    const all = read.run.steps.length - 1;
    const of = read.flow === flow.document.name ? '' : ` It was recorded in “${read.flow}”.`;
    const how =
      played < all
        ? `only the first ${played} of ${all} events are possible in the current flow.`
        : 'the trial is where the player stopped.';
    flow.notice = { bad: played < all, text: `${read.run.name}: ${how}${of}` };
  }

  function take(id: Id, run: Run) {
    const trial = trialOf(flow.document, run);
    const expects = run.steps.flatMap((step, line) => (step.expects ? [[line, step.expects] as const] : []));
    if (trial) session.take(trial, id, new Map(expects));
  }
</script>

<section class="runs" aria-label="Recorded runs">
  <h2>Runs</h2>
  <AddLine placeholder="Keep this trial as: A fall in level 2" label="Name of a new run" onadd={keep} />
  <label class="btn btn-xs file" title="The file that a player has saved on a page to play"
    >A player's file…
    <input
      class="hidden-text"
      aria-label="What a player did on a page to play"
      type="file"
      accept=".json,application/json"
      onchange={async (event) => {
        const input = event.currentTarget;
        await takeFile(input.files?.[0]);
        input.value = '';
      }}
    /></label
  >
  {#if refused.length > 0}
    <ol class="lost" role="alert">
      {#each refused as { pointer, message, line, column }, index (index)}
        <li>{line ? `line ${line}, column ${column}: ` : ''}{pointer ? `${pointer} ` : ''}{message}</li>
      {/each}
    </ol>
  {/if}
  <ul>
    {#each kept as [id, run] (id)}
      {@const result = runs.results[id]}
      {@const differs = result !== undefined && result.goes !== 'as recorded'}
      <li data-run={id} class:differs class:known={run.bug !== undefined}>
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
          {#if runs.of !== flow.document || !result}<span class="dim">playing…</span>
          {:else if !differs}<span class="won">✓ as recorded</span>
          {:else if result.goes === 'against'}<span class="lost">not as expected after event {result.at}</span>
          {:else if result.goes === 'differently'}<span class="lost">goes differently at event {result.at}</span>{/if}
        </p>
        {#if run.bug !== undefined}<p><b>{differs ? 'Known bug:' : 'Was known as a bug:'}</b> {run.bug}</p>{/if}
        {#if result && result.goes !== 'as recorded' && run.steps[result.at]}
          <p class="done">{stepWords(flow.document, stepOfRun(run.steps[result.at]!))}</p>
          {#if result.goes === 'against'}
            <p>
              expected: {conditionWords(flow.document, { flow: true }, result.expected)}{result.readable
                ? ''
                : ', which cannot be read there'}
            </p>
          {:else}
            <table>
              <thead><tr><th scope="col">recorded</th><th scope="col">now</th></tr></thead>
              <tbody>
                <tr>
                  <td>{runOutcomeWords(flow.document, result.before)}</td>
                  <td>{result.now ? runOutcomeWords(flow.document, result.now) : 'it is no longer possible'}</td>
                </tr>
              </tbody>
            </table>
          {/if}
        {/if}
        <p>
          <button type="button" class="link" onclick={() => take(id, run)}>play it</button>
          {#if result?.goes === 'differently'}
            <button
              type="button"
              class="link"
              title="The new behaviour is intended"
              onclick={() => flow.edit(recordAnew(flow.document, id))}>record again</button
            >
          {/if}
          {#if differs && run.bug === undefined}
            <Popup label="it shows a bug" look="link" title="The run is right and the flow is wrong">
              {#snippet content(close)}
                <form
                  onsubmit={(event) => {
                    event.preventDefault();
                    const bug = String(new FormData(event.currentTarget).get('bug')).trim();
                    if (!bug) return;
                    close();
                    flow.edit(setBug(flow.document, id, bug));
                  }}
                >
                  <label
                    >What is wrong with the flow
                    <input class="input input-sm" name="bug" data-first required maxlength="1000" autocomplete="off" /></label
                  >
                  <button class="btn btn-sm btn-primary">Mark</button>
                </form>
              {/snippet}
            </Popup>
          {:else if run.bug !== undefined}
            <button type="button" class="link" onclick={() => flow.edit(setBug(flow.document, id, undefined))}
              >no longer a bug</button
            >
          {/if}
          <button type="button" class="link" onclick={() => flow.edit(removeRun(flow.document, id))}>delete</button>
        </p>
      </li>
    {/each}
  </ul>
  <Unused />
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
  .file {
    margin-top: 6px;
  }
  .file:focus-within {
    outline: 2px solid var(--color-accent);
  }
  li {
    padding: 4px 0;
    border-bottom: 1px solid var(--color-base-300);
    font-size: 12px;
  }
  li input {
    flex: 1 1 100%;
    font-weight: 700;
    background: transparent;
  }
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .known {
    border-left: 4px dotted var(--plain);
    padding-left: 6px;
  }
  .differs:not(.known) {
    padding-left: 6px;
    border-left: 4px dashed var(--lost);
    background: var(--lost-wash);
  }
  table {
    width: 100%;
  }
  th,
  td {
    width: 50%;
    padding-right: 8px;
    text-align: left;
    vertical-align: top;
  }
  th,
  .done {
    font-weight: 700;
  }
</style>
