<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { setExpects } from '@crow-lane/core/document/edits/lists';
  import { onlyPassed } from '@crow-lane/core/report/answers';
  import type { Arrival, Report } from '@crow-lane/core/report/report';
  import type { FlowDocument, Id } from '@crow-lane/core/document/types';
  import { placesInOrder } from '@crow-lane/core/lane/order';
  import { arrivalWords, conditionWords, placeName } from '@crow-lane/core/words/words';
  import { onDestroy } from 'svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import Popup from '$lib/parts/Popup.svelte';
  import { rowsInSight } from '$lib/parts/rows.ts';
  import { Questions } from './questions.ts';

  /** With what each place is entered: in the first game, and, where that differs, in any game. */
  const { flow, checks, view } = flowContext();
  const questions = new Questions();
  onDestroy(() => questions.stop());
  let first: Report['arrivals'] | undefined = $state.raw();
  /** The document that `first` is about. */
  let firstOf: FlowDocument | undefined = $state.raw();
  $effect(() => {
    const { document } = flow;
    const later = setTimeout(async () => {
      const found = await questions.first(document);
      if (flow.document !== document) return;
      first = found;
      firstOf = document;
    }, 250);
    return () => clearTimeout(later);
  });

  const arrivals = $derived(checks.report?.arrivals ?? {});
  const variables = $derived(Object.entries(flow.document.variables));
  /** In the order of the lane: levels as they are played, then the screens. */
  const places = $derived(placesInOrder(flow.document));
  let only = $state(false);
  const differs = (place: Id) =>
    variables.some(([id]) => first?.[place]?.[id] && JSON.stringify(first[place][id]) !== JSON.stringify(arrivals[place]?.[id]));
  const rows = $derived(only ? places.filter(({ place }) => differs(place)) : places);

  let box: HTMLElement | undefined = $state();
  const { virtual, count } = rowsInSight(() => box, 27);
  $effect(() => count(rows.length));
  const template = $derived(`190px repeat(${variables.length}, minmax(120px, 1fr))`);

  /** The values a cell has, as conditions: of a long range its two ends. */
  function conditions(id: Id, arrival: Arrival): string[] {
    if ('min' in arrival) {
      const all = Array.from({ length: Math.min(arrival.max - arrival.min + 1, 12) }, (_, n) => arrival.min + n);
      return (arrival.max - arrival.min >= 12 ? [arrival.min, arrival.max] : all).map((n) => `${id} = ${n}`);
    }
    return arrival.values.map((value) => (value === true ? id : value === false ? `not ${id}` : `${id} = '${value}'`));
  }

  let asking = $state('');
  async function show(place: Id, condition: string, close: () => void) {
    asking = condition;
    const route = await questions.route(flow.document, place, condition);
    asking = '';
    if (!route) {
      flow.notice = { bad: true, text: 'No arrival of this kind was found: the flow has more states than are looked at here.' };
      return;
    }
    close();
    view.shown = {
      title: `${placeName(flow.document, place)}, ${conditionWords(flow.document, { place }, condition)}`,
      steps: route
    };
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id }));
  }

  function expect(place: Id, condition: string, close: () => void) {
    const { expects } = flow.document.places[place]!;
    if (!expects.includes(condition)) flow.edit(setExpects(flow.document, place, [...expects, condition]));
    close();
  }
</script>

<section aria-label="What is carried">
  <h2>
    Carried on arrival
    <label
      ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={only} /> only where a later game differs from the first</label
    >
    {#if firstOf !== flow.document}<span class="dim">looking at first games…</span>
    {:else if first === undefined}<span class="dim"
        >first games are not settled: the flow has more states than are looked at here</span
      >{/if}
  </h2>
  <div class="carry" bind:this={box} role="table" aria-label="Values on arrival" aria-rowcount={rows.length + 1}>
    <div class="line head" role="row" style:grid-template-columns={template}>
      <span role="columnheader">Place</span>
      {#each variables as [id, { name }] (id)}<span role="columnheader">{name}</span>{/each}
    </div>
    <div role="rowgroup" class="rows" style:height="{$virtual.getTotalSize()}px">
      {#each $virtual.getVirtualItems() as item (rows[item.index]?.place ?? item.index)}
        {@const index = item.index}
        {@const start = item.start}
        {@const row = rows[index]}
        {#if row}
          {@const { place, number } = row}
          <div
            class="line"
            role="row"
            aria-rowindex={index + 2}
            style:grid-template-columns={template}
            style:transform="translateY({start}px)"
            data-carry={place}
          >
            <span role="rowheader"
              ><button type="button" class="link" onclick={() => view.select(place)}
                >{number ? `${number} ` : ''}{placeName(flow.document, place)}</button
              ></span
            >
            {#each variables as [id, { name }] (id)}
              {@const any = arrivals[place]?.[id]}
              {@const one = first?.[place]?.[id]}
              {@const later = any && first && firstOf === flow.document && JSON.stringify(one) !== JSON.stringify(any)}
              <span role="cell" class:later>
                {#if any}
                  <Popup
                    label={later
                      ? `${one ? arrivalWords(one) : 'not in the first'} · later ${arrivalWords(any)}`
                      : arrivalWords(any)}
                    look="value"
                    title="{name} on arrival in {placeName(flow.document, place)}"
                  >
                    {#snippet content(close)}
                      <table>
                        <tbody>
                          {#each conditions(id, any) as condition, at (at)}
                            <tr>
                              <td>{conditionWords(flow.document, { place }, condition)}</td>
                              <td
                                ><button
                                  type="button"
                                  class="link"
                                  disabled={asking !== ''}
                                  onclick={() => show(place, condition, close)}
                                  >{asking === condition ? 'looking…' : 'show the route'}</button
                                ></td
                              >
                              <td
                                ><button type="button" class="link" onclick={() => expect(place, condition, close)}
                                  >always expect this</button
                                ></td
                              >
                            </tr>
                          {/each}
                        </tbody>
                      </table>
                    {/snippet}
                  </Popup>
                {:else}<span class="dim"
                    >{checks.report ? (onlyPassed(checks.report, place) ? 'left at once' : 'not reached') : ''}</span
                  >{/if}
              </span>
            {/each}
          </div>
        {/if}
      {/each}
    </div>
  </div>
</section>

<style>
  section {
    display: grid;
    grid-template-rows: auto 1fr;
    min-height: 0;
    padding: 6px 16px 0;
    border-top: 2px solid var(--color-base-content);
  }
  h2 {
    display: flex;
    align-items: baseline;
    gap: 18px;
    font-size: 14px;
    margin-bottom: 4px;
  }
  h2 label,
  h2 span {
    font-size: 12px;
    font-weight: 400;
    font-family: inherit;
  }
  .carry {
    overflow: auto;
    min-height: 0;
    font-size: 12px;
  }
  .line {
    display: grid;
    min-width: 100%;
  }
  .line > span {
    padding: 4px 8px;
    height: 27px;
    border-right: 1px solid var(--color-base-300);
    border-bottom: 1px solid var(--color-base-300);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .head {
    position: sticky;
    top: 0;
    font-weight: 700;
    background: var(--color-base-200);
    z-index: 2;
  }
  .rows {
    position: relative;
  }
  .rows .line {
    position: absolute;
    top: 0;
    left: 0;
  }
  .later {
    background: var(--pick-wash);
    border-left: 4px double var(--color-accent);
  }
  .line :global(.value) {
    cursor: pointer;
    font-variant-numeric: tabular-nums;
  }
  .line :global(.value):hover {
    text-decoration: underline;
  }
  td {
    padding: 2px 10px 2px 0;
  }
</style>
