<script lang="ts">
  import { setExpects } from '@crow-lane/core/document/edits/lists';
  import type { Id, Place } from '@crow-lane/core/document/types';
  import { conditionWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Popup from '$lib/parts/Popup.svelte';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import Evidence from './Evidence.svelte';

  /** What must hold whenever a place has been entered: checked, never enforced. */
  let { id, place }: { id: Id; place: Place } = $props();
  const { flow, checks } = flowContext();
  const owner = $derived({ place: id });
  const failing = (index: number) =>
    checks.report?.checks.find(
      ({ check, subject, outcome }) =>
        (check === 'expectation' || check === 'condition') && subject === `${id}/${index}` && outcome === 'fails'
    );

  function set(index: number, text: string) {
    const expects = text === '' ? place.expects.toSpliced(index, 1) : place.expects.toSpliced(index, 1, text);
    flow.edit(setExpects(flow.document, id, expects));
  }
</script>

{#snippet field(index: number, value: string, close: () => void)}
  <ConditionField
    {owner}
    use="if"
    label="Expected on arrival"
    {value}
    onkeep={(text) => {
      close();
      set(index, text);
    }}
  />
{/snippet}

<h3>Expected on arrival</h3>
{#each place.expects as text, index (index)}
  {@const verdict = failing(index)}
  <p class="line">
    <Popup label={conditionWords(flow.document, owner, text)} title="What must hold on every arrival">
      {#snippet content(close)}{@render field(index, text, close)}{/snippet}
    </Popup>
    <button type="button" aria-label="Remove this expectation" title="Remove this expectation" onclick={() => set(index, '')}
      >×</button
    >
  </p>
  {#if verdict}<Evidence {verdict} />{/if}
{/each}
<Popup label="+ expectation on arrival" look="link" title="What must hold on every arrival">
  {#snippet content(close)}{@render field(place.expects.length, '', close)}{/snippet}
</Popup>

<style>
  .line {
    display: flex;
    justify-content: space-between;
    gap: 6px;
    border-bottom: 1px solid var(--color-base-300);
    padding: 2px 0;
  }
</style>
