<script lang="ts">
  import { onMount } from 'svelte';
  import type { Cell, Id, Plan } from '@crow-lane/core/document/types';
  import type { Reach } from '@crow-lane/core/plan/reach';
  import { placeOf } from '@crow-lane/core/report/answers';
  import { decides, type Verdict } from '@crow-lane/core/report/report';
  import { conditionWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import type { ShownCause } from '$lib/flow/live-causes.svelte.ts';
  import FixLine from '$lib/parts/FixLine.svelte';
  import { cellWords } from './stamps.ts';

  /** What is in the cell that is pointed at, where the player gets from there, and what is wrong in the level. */
  let {
    id,
    plan,
    cell,
    reach,
    onmark
  }: { id: Id; plan: Plan; cell: Cell; reach: Reach | undefined; onmark: (cells: Cell[]) => void } = $props();
  const { flow, causes } = flowContext();
  onMount(() => causes.show());

  const isHere = (verdict: Verdict) =>
    placeOf(flow.document, verdict) === id && (decides(verdict) || verdict.check === 'too-close');
  /** The findings of this level, each once with what explains it. */
  const wrong = $derived(
    causes.causes.flatMap((cause) => {
      const first = [cause.verdict, ...cause.follows].find(isHere);
      return first ? [{ verdict: first, cause }] : [];
    })
  );
  function fix(cause: ShownCause) {
    const change = causes.fixOf(flow.document, cause);
    if (change) flow.edit(change);
  }
  const cellsOf = ({ why = [] }: Verdict) => why.flatMap(({ cells = [] }) => cells);
  const asked = (asks: readonly string[]) => asks.map((each) => conditionWords(flow.document, { place: id }, each)).join(' and ');
</script>

<h2>{cell[0]}, {cell[1]}</h2>
<p>{cellWords(flow.document, id, plan, cell)}</p>
{#if reach}
  <p data-reach>
    From here the player can stand in <b>{reach.stands.length}</b>
    {reach.stands.length === 1 ? 'cell' : 'cells'}.{#if reach.falls}{' '}It can fall out of the plan.{/if}
  </p>
  {#each reach.behind as { asks, more } (asks.join())}
    <p class="behind"><b>{more}</b> more, if {asked(asks)}</p>
  {/each}
  {#if reach.never > 0}<p class="behind"><b>{reach.never}</b> never, whatever holds</p>{/if}
{/if}
<h2>What is wrong</h2>
{#each wrong as { verdict, cause } (`${verdict.check} ${verdict.subject}`)}
  {@const cells = cellsOf(verdict)}
  <div class="finding" data-finding="{verdict.check} {verdict.subject}">
    <p>
      {verdict.message}
      {#if cells.length > 0}<button type="button" class="link" onclick={() => onmark(cells)}>Show the cells</button>{/if}
    </p>
    {#if verdict.why && (verdict.why.length > 1 || verdict.check !== 'plan-fits')}
      <ul>
        {#each verdict.why.slice(0, 6) as { text }, index (index)}<li>{text}</li>{/each}
      </ul>
    {/if}
    {#if cause.verdict !== verdict}<p class="dim">Because: {cause.verdict.message}</p>{/if}
    {#if cause.fix}<FixLine {...cause.fix} onuse={() => fix(cause)} />{/if}
  </div>
{:else}
  <p class="dim">{causes.trying ? 'Being looked at…' : 'Nothing is wrong here.'}</p>
{/each}

<style>
  .behind {
    padding-left: 8px;
    border-left: 3px solid var(--lost);
  }
  .finding {
    margin: 4px 0 8px;
    padding-left: 8px;
    border-left: 3px solid var(--lost);
  }
  ul {
    list-style: disc;
    padding-left: 16px;
    font-size: 12px;
  }
</style>
