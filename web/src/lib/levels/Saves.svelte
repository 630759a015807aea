<script lang="ts">
  import { progressFromOrder } from '@crow-lane/core/document/edits/levels';
  import { heldBySaves, savePoints } from '@crow-lane/core/sheet/saves';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Mark from '$lib/parts/Mark.svelte';
  import Slots from './Slots.svelte';

  /** The chain of save points along each order, what a save holds, and what resuming and loading bring back. */
  const { flow, checks, view } = flowContext();
  const held = $derived(heldBySaves(flow.document));
  const chains = $derived(
    Object.entries(flow.document.orders).map(([id, { name }]) => ({ id, name, points: savePoints(flow.document, id) }))
  );
  const any = $derived(chains.some(({ points }) => points.length > 0));
  const list = (names: string[]) => (names.length > 0 ? names.join(', ') : 'nothing');
  const outcome = (level: string) =>
    checks.report?.checks.find(({ check, subject }) => check === 'arrival-completable' && subject === level);
</script>

<div class="sheetpart">
  <Slots />
  {#each chains as { id, name, points } (id)}
    {#if points.length > 0}
      <h2>
        {name}
        <button
          type="button"
          class="btn btn-xs"
          title="Each level from its place in the order"
          onclick={() => flow.edit(progressFromOrder(flow.document, id))}>Progress from the order</button
        >
      </h2>
      <table>
        <thead>
          <tr
            ><th scope="col">Level</th><th scope="col">Saves</th><th scope="col">Progress</th><th scope="col">When</th><th
              scope="col">Can be won after resuming</th
            ></tr
          >
        </thead>
        <tbody>
          {#each points as { level, piece, progress, how, falls }, index (index)}
            {@const found = outcome(level)}
            {@const place = flow.document.places[level]!}
            <tr>
              <td
                ><button type="button" class="link" onclick={() => view.select(level, false)}
                  >{placeName(flow.document, level)}</button
                ></td
              >
              <td>{piece !== undefined && place.kind === 'level' ? place.pieces[piece]!.name : 'by a rule'}</td>
              <td class:lost={falls}>{progress}{falls ? ' is less than an earlier one' : ''}</td>
              <td>{how === 'forward' ? 'only if further on' : 'always'}</td>
              <td title={found?.message}><Mark mark={found?.outcome} /> {found?.outcome === 'fails' ? found.message : ''}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  {/each}
  {#if !any}<p>Nothing saves yet. Add a save effect, for example where a checkpoint is touched.</p>{/if}
  <h2>What a save holds</h2>
  <dl>
    <dt>The place</dt>
    <dd>the level, the entry last used, its progress, and where each order stood</dd>
    <dt>Back to the checkpoint</dt>
    <dd>
      brings back values of the attempt ({list(held.attempt)}) and what was left of {list(held.pieces)}; the run goes on unchanged
    </dd>
    <dt>Loading it</dt>
    <dd>brings back values of the run too ({list(held.run)})</dd>
    <dt>Never in it</dt>
    <dd>values that are kept from game to game: they stay unchanged</dd>
  </dl>
</div>

<style>
  h2 {
    display: flex;
    align-items: baseline;
    gap: 10px;
    font-size: 14px;
    margin: 12px 0 4px;
  }
  table {
    font-size: 12px;
  }
  th,
  td {
    border: 1px solid var(--color-base-300);
    padding: 2px 8px;
    text-align: left;
  }
  td :global(svg) {
    display: inline;
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 3px 16px;
    max-width: 900px;
  }
  dt {
    font-weight: 700;
  }
</style>
