<script lang="ts">
  import { addObjective, changeObjective, likelyMet, removeObjective } from '@crow-lane/core/document/edits/objectives';
  import type { Id, Level } from '@crow-lane/core/document/types';
  import { conditionWords } from '@crow-lane/core/words/words';
  import AddLine from '$lib/parts/AddLine.svelte';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';

  /** What the player is to do in a level, each with when it is met: shown, ticked off and checked, never enforced. */
  let { id, level }: { id: Id; level: Level } = $props();
  const { flow, checks } = flowContext();
  const owner = $derived({ place: id });
  /** What fails of one; its reasons and fixes stand above, with all that is wrong here. */
  const failing = (objective: Id) =>
    checks.report?.checks.filter(
      ({ subject, outcome, accepted }) => outcome === 'fails' && accepted === undefined && subject === `${id}/${objective}`
    ) ?? [];

  function add(text: string) {
    flow.edit(addObjective(flow.document, id, { text, met: likelyMet(flow.document, id, text) }));
  }
</script>

<h3>Objectives</h3>
{#each Object.entries(level.objectives) as [objective, { text, met, needed }] (objective)}
  <div class="objective" data-objective={objective}>
    <input
      aria-label="Objective {text}"
      maxlength="80"
      {@attach typed(
        flow,
        () => text,
        (changed) => changed.trim() && flow.edit(changeObjective(flow.document, id, objective, { text: changed.trim() }))
      )}
    />
    <button
      type="button"
      aria-label="Delete the objective {text}"
      title="Delete {text}"
      onclick={() => flow.edit(removeObjective(flow.document, id, objective))}>×</button
    >
    <span class="met">
      met if
      <Popup label={met === 'false' ? 'say when' : conditionWords(flow.document, owner, met)} title="When is it met?">
        {#snippet content(close)}
          <ConditionField
            {owner}
            use="if"
            label="Met if"
            value={met}
            onkeep={(condition) => {
              close();
              if (condition !== '') flow.edit(changeObjective(flow.document, id, objective, { met: condition }));
            }}
          />
        {/snippet}
      </Popup>
    </span>
    <label class="needed" title="The level must not be won before it is met: checked, not enforced"
      ><input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={needed === true}
        onchange={(event) =>
          flow.edit(changeObjective(flow.document, id, objective, { needed: event.currentTarget.checked || undefined }))}
      /> needed to win</label
    >
  </div>
  {#each failing(objective) as { check, message } (check)}<p class="lost">{message}</p>{/each}
{/each}
<AddLine placeholder="+ objective: light every lamp" label="A new objective" onadd={add} />

<style>
  .objective {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 1px 8px;
    align-items: baseline;
    border-bottom: 1px solid var(--color-base-300);
    padding: 2px 0;
  }
  .objective > input {
    min-width: 0;
    background: transparent;
    padding: 2px;
  }
  .objective > button {
    width: 20px;
    justify-self: end;
  }
  .lost,
  .met,
  .needed {
    font-size: 12px;
  }
  .needed {
    display: flex;
    gap: 4px;
    align-items: center;
  }
</style>
