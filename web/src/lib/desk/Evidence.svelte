<script lang="ts">
  import { onMount } from 'svelte';
  import { suspicions, type Verdict } from '@crow-lane/core/report/report';
  import { placeOf } from '@crow-lane/core/report/answers';
  import FixLine from '$lib/parts/FixLine.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import { acceptFinding } from '$lib/flow/accept.ts';
  import { flowContext } from '$lib/flow/context.ts';

  /** A failing verdict: what, why, and, where there is one, the route to it. */
  let { verdict }: { verdict: Verdict } = $props();
  const { flow, view, checks, causes } = flowContext();
  onMount(() => causes.show());
  const cause = $derived(causes.causes.find((each) => each.verdict === verdict));
  const because = $derived(cause ? undefined : causes.causes.find(({ follows }) => follows.includes(verdict))?.verdict);

  const take = (reason: string) => acceptFinding(flow, checks, verdict, reason);
  function fix() {
    const change = cause && causes.fixOf(flow.document, cause);
    if (change) flow.edit(change);
  }
  /** The place it is about, itself or by a rule of its. */
  const place = $derived(placeOf(flow.document, verdict));
</script>

<div class="finding {verdict.severity}">
  <p>
    {#if place && place !== view.selected}<button type="button" class="text" onclick={() => view.select(place)}
        >{verdict.message}</button
      >{:else}<b>{verdict.message}</b>{/if}
  </p>
  {#each verdict.why ?? [] as reason, index (index)}
    <p class="why">
      {reason.text}
      {#each reason.places ?? [] as id (id)}
        {#if flow.document.places[id] && id !== view.selected}<button type="button" class="link" onclick={() => view.select(id)}
            >{flow.document.places[id].name}</button
          >{' '}{/if}
      {/each}
    </p>
  {/each}
  {#if because}<p class="why">Because: {because.message}</p>{/if}
  {#if cause?.fix}<FixLine {...cause.fix} onuse={fix} />{/if}
  {#if suspicions.includes(verdict.check)}<button type="button" class="link" onclick={() => take('Expected.')}>expect this</button
    >{' '}{/if}
  <Popup label="it is meant" look="link accept" title="Accept this finding">
    {#snippet content(close)}
      <form
        onsubmit={(event) => {
          event.preventDefault();
          const reason = String(new FormData(event.currentTarget).get('reason')).trim();
          if (!reason) return;
          close();
          take(reason);
        }}
      >
        <label
          >It is meant, because
          <input class="input input-sm" name="reason" data-first required maxlength="1000" autocomplete="off" /></label
        >
        <button class="btn btn-sm btn-primary">Accept</button>
      </form>
    {/snippet}
  </Popup>
  {#if verdict.length}
    <button
      type="button"
      class="link"
      onclick={async () => (view.shown = { title: verdict.message, steps: await checks.routeOf(verdict) })}
      >show the route, {verdict.length}
      {verdict.length === 1 ? 'step' : 'steps'}{verdict.shortest === false ? ' (there may be a shorter one)' : ''}</button
    >
  {/if}
</div>

<style>
  .finding::after {
    content: '';
    display: block;
    clear: right;
  }
  .finding {
    background: var(--lost-wash);
    border-left: 4px solid var(--lost);
    padding: 4px 8px;
    margin-bottom: 5px;
  }
  .finding.warning {
    background: var(--pick-wash);
    border-left-color: var(--color-warning);
  }
  .finding.information {
    background: var(--tile);
    border-left-color: var(--plain);
  }
  .text {
    font-weight: 700;
    text-align: left;
    cursor: pointer;
  }
  .text:hover {
    text-decoration: underline;
  }
  .why {
    font-size: 12px;
  }
  .finding :global(.accept) {
    float: right;
    font-size: 12px;
    margin-block: 0;
  }
</style>
