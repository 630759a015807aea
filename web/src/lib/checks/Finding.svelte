<script lang="ts">
  import { placeOf } from '@crow-lane/core/report/answers';
  import { suspicions, type Verdict } from '@crow-lane/core/report/report';
  import { unaccept } from '@crow-lane/core/document/edits/lists';
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import StepList from '$lib/parts/StepList.svelte';
  import { acceptFinding } from '$lib/flow/accept.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import Repairs from './Repairs.svelte';
  import type { Step } from '@crow-lane/core/document/types';

  /** A finding unfolded: why, the route, being there, what would fix it, and that it is meant. */
  let { verdict }: { verdict: Verdict } = $props();
  const { flow, view, checks } = flowContext();
  const place = $derived(placeOf(flow.document, verdict));
  let steps: Step[] | undefined = $state.raw();
  let meant = $state('');

  async function way() {
    steps = steps ? undefined : await checks.routeOf(verdict);
  }
  async function onLane() {
    if (verdict.length) view.shown = { title: verdict.message, steps: await checks.routeOf(verdict) };
    else if (place !== undefined) view.select(place);
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id }));
  }
  const take = (reason: string) => acceptFinding(flow, checks, verdict, reason);
  const accepted = $derived(
    flow.document.accepted.findIndex(({ check, subject }) => check === verdict.check && subject === verdict.subject)
  );
</script>

{#each verdict.why ?? [] as reason, index (index)}<p>{reason.text}</p>{/each}
<p class="acts">
  {#if verdict.length}
    <button type="button" class="link" aria-expanded={steps !== undefined} onclick={way}
      >the route, {verdict.length}
      {verdict.length === 1 ? 'step' : 'steps'}{verdict.shortest === false ? ' (there may be a shorter one)' : ''}</button
    >
  {/if}
  {#if place !== undefined || verdict.length}
    <button type="button" class="link" onclick={onLane}>Show on the lane</button>
  {/if}
</p>
{#if steps}<div class="way"><StepList {steps} /></div>{/if}
{#if verdict.accepted !== undefined}
  <p>
    Meant: {verdict.accepted}
    {#if accepted >= 0}<button type="button" class="link" onclick={() => flow.edit(unaccept(flow.document, accepted))}
        >take back</button
      >{/if}
  </p>
{:else if verdict.outcome === 'fails'}
  <Repairs {verdict} />
  <form
    onsubmit={(event) => {
      event.preventDefault();
      if (meant.trim()) take(meant.trim());
    }}
  >
    <input
      class="input input-xs"
      placeholder="It is meant, because…"
      aria-label="It is meant, because"
      maxlength="1000"
      autocomplete="off"
      bind:value={meant}
    />
    {#if meant.trim()}<button class="btn btn-xs">Accept</button>
    {:else if suspicions.includes(verdict.check)}<button type="button" class="btn btn-xs" onclick={() => take('Expected.')}
        >Expect this</button
      >{/if}
  </form>
{/if}

<style>
  p {
    padding: 1px 0;
    font-size: 12.5px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
  }
  .way {
    margin: 4px 0;
    padding: 4px 8px;
    max-height: 260px;
    overflow: auto;
    background: var(--color-base-100);
    font-size: 12px;
  }
  form {
    display: flex;
    gap: 6px;
    margin-top: 4px;
  }
  input {
    flex: 1;
  }
</style>
