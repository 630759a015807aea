<script lang="ts">
  import { addRule } from '@crow-lane/core/document/edits/rules';
  import { levelsOf, type Id } from '@crow-lane/core/document/types';
  import { answerOf, answerRows, fillingRule, type AnswerRow } from '@crow-lane/core/sheet/answers';
  import { targetWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import States from './States.svelte';

  /** Which level answers what can happen in it; a blank is something that happens and nobody listens to. */
  const { flow, view } = flowContext();
  const groups = $derived([
    ...Object.entries(flow.document.groups).map(([id, { name }]) => ({ id, name })),
    { id: '', name: 'In no group' }
  ]);
  const tables = $derived(
    groups.flatMap(({ id, name }) => {
      const levels = levelsOf(flow.document).flatMap(([level, { group }]) => ((group ?? '') === id ? [level] : []));
      const rows = answerRows(flow.document, levels);
      return levels.length > 0 && rows.length > 0 ? [{ id, name, levels, rows }] : [];
    })
  );
  const all = $derived(levelsOf(flow.document).map(([id]) => id));

  function fill(level: Id, row: AnswerRow) {
    flow.edit(addRule(flow.document, { place: level }, fillingRule(flow.document, level, row, all)));
    view.select(level, false);
  }
</script>

<div class="sheetpart">
  <p class="dim">What can happen in each level, and what it leads to. Blank: no rule responds. Select it to add one.</p>
  {#each tables as { id, name, levels, rows } (id)}
    <h2>{name}</h2>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th scope="col">When</th>
            {#each levels as level (level)}
              <th scope="col"
                ><button type="button" class="link" onclick={() => view.select(level, false)}
                  >{flow.document.places[level]!.name}</button
                ></th
              >
            {/each}
          </tr>
        </thead>
        <tbody>
          {#each rows as row (JSON.stringify(row.trigger))}
            <tr>
              <th scope="row">{'touch' in row.trigger ? `${row.what} is touched` : `${row.what} is pressed`}</th>
              {#each levels as level (level)}
                {@const answer = answerOf(flow.document, level, row)}
                {#if answer.is === 'absent'}<td class="absent"><span class="hidden-text">not in this level</span></td>
                {:else if answer.is === 'blank'}
                  <td class="blank"
                    ><button
                      type="button"
                      onclick={() => fill(level, row)}
                      aria-label="Answer {row.what} in {flow.document.places[level]!.name}">nothing</button
                    ></td
                  >
                {:else}
                  <td>
                    {#each answer.rules as { rule, shared } (rule.id)}
                      <span class={rule.result ?? 'plain'}
                        >{rule.result ? `${rule.result}: ` : ''}{rule.go ? targetWords(flow.document, rule.go) : 'stays'}</span
                      >{#if shared}<span class="dim">{' · shared'}</span>{/if}
                    {/each}
                  </td>
                {/if}
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/each}
  <States />
  {#if tables.length === 0}<p>No level has anything that can be touched, and no button.</p>{/if}
</div>

<!-- the table of states looks alike -->
<style>
  .sheetpart :global(h2) {
    font-size: 14px;
    margin: 12px 0 4px;
  }
  .sheetpart :global(.wide) {
    overflow-x: auto;
  }
  .sheetpart :global(table) {
    font-size: 12px;
    border-collapse: collapse;
  }
  .sheetpart :global(th),
  .sheetpart :global(td) {
    border: 1px solid var(--color-base-300);
    padding: 3px 7px;
    text-align: left;
    vertical-align: top;
    min-width: 96px;
    max-width: 190px;
  }
  .sheetpart :global(th[scope='row']) {
    position: sticky;
    left: 0;
    background: var(--color-base-100);
  }
  .sheetpart :global(td span) {
    overflow-wrap: anywhere;
  }
  .absent {
    background: var(--color-base-200);
  }
  .sheetpart :global(.blank) {
    background: var(--lost-wash);
    padding: 0;
  }
  .sheetpart :global(.blank button) {
    width: 100%;
    padding: 3px 7px;
    text-align: left;
    color: var(--lost);
    border-left: 3px dashed var(--lost);
    cursor: pointer;
  }
</style>
