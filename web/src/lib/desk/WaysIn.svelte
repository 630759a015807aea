<script lang="ts">
  import { setStart } from '@crow-lane/core/document/edits/places';
  import { findRule, type Id } from '@crow-lane/core/document/types';
  import { movesOf } from '@crow-lane/core/lane/moves';
  import { arrivalWords, ownerWords, triggerWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Evidence from './Evidence.svelte';
  import { rulesTo } from '@crow-lane/core/play/leading';

  let { place }: { place: Id } = $props();
  const { flow, checks, view } = flowContext();
  /** Every rule that can bring the player here, and from which place if it is one place's. */
  const ways = $derived(
    rulesTo(flow.document, place).flatMap(({ id }) => {
      const { owner, rule } = findRule(flow.document, id)!;
      const drawn = movesOf(flow.document).some(
        (move) => move.rule === id && (('place' in move.to && move.to.place === place) || !('place' in move.to))
      );
      return drawn ? [{ id, owner, rule }] : [];
    })
  );
  /** What the player carries on arrival, of values that something changes. */
  const carried = $derived(
    Object.entries(checks.report?.arrivals[place] ?? {}).flatMap(([id, arrival]) =>
      flow.document.variables[id]
        ? [`${flow.document.variables[id].name} ${arrivalWords(arrival, flow.document.variables[id])}`]
        : []
    )
  );
  const reached = $derived(checks.report?.checks.find(({ check, subject }) => check === 'place-reached' && subject === place));
</script>

<h2>
  Ways in
  <button
    type="button"
    class="btn btn-xs whole"
    title="The whole flow: its values, orders and groups, and what fails (Escape)"
    onclick={() => view.select(undefined)}>Whole flow</button
  >
</h2>
{#if reached?.outcome === 'fails'}<Evidence verdict={reached} />{/if}
{#if flow.document.start === place}
  <div class="way">Play begins here.</div>
{/if}
{#each ways as { id, owner, rule } (id)}
  {@const from = 'place' in owner ? owner.place : undefined}
  <div class="way" data-result={rule.result}>
    from {#if from && from !== place}<button type="button" class="word" onclick={() => view.select(from)}
        >{ownerWords(flow.document, owner)}</button
      >{:else}<b>{from === place ? 'itself' : ownerWords(flow.document, owner)}</b>{/if}
    {triggerWords(flow.document, owner, rule)}{rule.result ? `, ${rule.result}` : ''}
  </div>
{/each}
{#if ways.length === 0 && flow.document.start !== place}
  <p class="dim">No rule leads here. Pull from another place to this one, or</p>
  <button type="button" class="link" onclick={() => flow.edit(setStart(flow.document, place))}>Let play begin here</button>
{/if}
{#if carried.length > 0}
  <p class="dim route">The player arrives with {carried.join(', ')}.</p>
{/if}
{#if reached?.outcome === 'holds' && reached.length !== undefined}
  <p class="dim route">
    {reached.shortest === false ? 'A' : 'Shortest'} route here: {reached.length}
    {reached.length === 1 ? 'step' : 'steps'}
    {#if reached.length > 0}· <button
        type="button"
        class="link"
        onclick={async () => (view.shown = { title: reached.message, steps: await checks.routeOf(reached) })}>show</button
      >{/if}
  </p>
{:else if reached?.outcome === 'open'}
  <p class="dim">Not settled whether it can be reached: the flow has more states than are looked at here.</p>
{/if}

<style>
  .whole {
    float: right;
  }
  .way {
    padding: 3px 8px;
    margin-bottom: 4px;
    background: var(--tile);
    border-left: 4px solid var(--color-base-300);
  }
  .way[data-result='won'] {
    border-left-color: var(--won);
  }
  .way[data-result='lost'] {
    border-left: 4px dashed var(--lost);
  }
  .route {
    margin-top: 6px;
  }
</style>
