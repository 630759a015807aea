<script lang="ts">
  import { addRule } from '@crow-lane/core/document/edits/rules';
  import type { Id } from '@crow-lane/core/document/types';
  import { valueNamed } from '@crow-lane/core/document/values';
  import { ruleForState, stateRows, statesOf, type StateRow, type States } from '@crow-lane/core/sheet/states';
  import { capital, effectWords, targetWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';

  /** In levels that go through states (a choice that their rules ask for): which state answers what. */
  const { flow, view } = flowContext();
  const tables = $derived(statesOf(flow.document).map((states) => ({ states, rows: stateRows(flow.document, states) })));

  function fill(states: States, row: StateRow, choice: Id) {
    flow.edit(addRule(flow.document, { place: states.level }, ruleForState(states, row, choice)));
    view.select(states.level, false);
  }
</script>

{#each tables as { states, rows } (`${states.level} ${states.variable}`)}
  {@const { level, variable, choices } = states}
  {@const { name } = flow.document.places[level]!}
  {@const value = flow.document.variables[variable]!}
  <h2>{name}, by {value.name}</h2>
  <div class="wide">
    <table data-states="{level} {variable}">
      <thead>
        <tr>
          <th scope="col">When</th>
          {#each choices as choice (choice)}<th scope="col">{valueNamed(value, choice)}</th>{/each}
        </tr>
      </thead>
      <tbody>
        {#each rows as row (JSON.stringify(row.trigger))}
          <tr>
            <th scope="row">{capital(row.words)}</th>
            {#each choices as choice (choice)}
              {@const rules = row.answers.get(choice)!}
              {#if rules.length === 0}
                <td class="blank"
                  ><button
                    type="button"
                    onclick={() => fill(states, row, choice)}
                    aria-label="Answer {row.words} while {value.name} is {valueNamed(value, choice)}">nothing</button
                  ></td
                >
              {:else}
                <td>
                  {#each rules as rule (rule.id)}
                    {@const does = (rule.do ?? [])
                      .map((effect) => effectWords(flow.document, { place: level }, effect))
                      .join(', ')}
                    <span class={rule.result ?? 'plain'}
                      >{rule.result ? `${rule.result}: ` : ''}{rule.go
                        ? targetWords(flow.document, rule.go)
                        : does || 'stays'}</span
                    >
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
