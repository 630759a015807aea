<script lang="ts">
  import { addRow, completeRow, completeRows, removeRow, setRow, shuffledRows } from '@crow-lane/core/document/edits/orders';
  import type { Id } from '@crow-lane/core/document/types';
  import { afterLast, alikeAmong, alikeTwice, drawnRun, rowFaults } from '@crow-lane/core/sheet/draws';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import DrawSelect from '$lib/parts/DrawSelect.svelte';
  import { randomFrom } from '@crow-lane/core/document/random';

  /** How each order is played: as listed, by the rows of a table, or drawn one by one. */
  const { flow, view } = flowContext();
  const orders = $derived(Object.entries(flow.document.orders));
  let count = $state(12);
  let seed = $state(1);
  let alike = $state(3);
  let runs = $state(10);
  let shown = $state(1);

  /** One in how many, in words; what is rarer than one in a million is said so. */
  const chance = (value: number) =>
    value >= 0.9995
      ? 'always'
      : value <= 0
        ? 'never'
        : value < 1e-6
          ? 'less than 1 in a million'
          : `1 in ${Number((1 / value).toPrecision(3)).toLocaleString('en')}`;

  /** The runs to look at: the same seed draws the same. */
  const preview = (order: Id) => {
    const random = randomFrom(shown);
    return Array.from({ length: 10 }, () => drawnRun(flow.document, order, random));
  };
</script>

<div class="sheetpart">
  {#each orders as [id, order] (id)}
    <section aria-label={order.name}>
      <h2>
        {order.name}
        <DrawSelect order={id} />
        <span class="dim">{order.levels.length} levels. After the last: {afterLast(flow.document, order)}.</span>
      </h2>
      {#if order.draw === 'table'}
        <div class="wide">
          <table>
            <tbody>
              {#each order.rows as row, at (at)}
                {@const faults = rowFaults(order, row)}
                <tr>
                  <th scope="row">Row {at + 1}</th>
                  {#each row as level, place (place)}
                    <td class:bad={faults.cells[place]}>
                      <select
                        aria-label="Row {at + 1}, place {place + 1}"
                        value={level}
                        onchange={(event) => flow.edit(setRow(flow.document, id, at, row.with(place, event.currentTarget.value)))}
                      >
                        {#each order.levels as each (each)}<option value={each}>{placeName(flow.document, each)}</option>{/each}
                        {#if !order.levels.includes(level)}<option value={level}>{placeName(flow.document, level)}</option>{/if}
                      </select>
                      {#if faults.cells[place]}<span class="lost"
                          >{faults.cells[place] === 'repeat' ? 'again' : 'not in this order'}</span
                        >{/if}
                    </td>
                  {/each}
                  <td class="acts">
                    {#if faults.missing.length > 0 || faults.cells.some(Boolean)}
                      <span class="lost"
                        >{faults.missing.length > 0
                          ? `without ${faults.missing.map((each) => placeName(flow.document, each)).join(', ')}`
                          : ''}</span
                      >
                      <button type="button" class="btn btn-xs" onclick={() => flow.edit(completeRow(flow.document, id, at))}
                        >Complete</button
                      >
                    {/if}
                    {#if order.rows.length > 1}
                      <button
                        type="button"
                        class="btn btn-xs btn-square"
                        aria-label="Delete row {at + 1}"
                        title="Delete row {at + 1}"
                        onclick={() => flow.edit(removeRow(flow.document, id, at))}>×</button
                      >
                    {/if}
                  </td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
        <p class="line">
          <button type="button" class="btn btn-xs" onclick={() => flow.edit(addRow(flow.document, id))}>+ row</button>
          {#if order.rows.some((row) => rowFaults(order, row).missing.length > 0 || rowFaults(order, row).cells.some(Boolean))}
            <button type="button" class="btn btn-xs" onclick={() => flow.edit(completeRows(flow.document, id))}
              >Complete all rows</button
            >
          {/if}
          <label
            ><input class="input input-xs" type="number" min="1" max="200" aria-label="How many rows" bind:value={count} /> shuffled
            rows</label
          >
          <label>from seed <input class="input input-xs" type="number" bind:value={seed} /></label>
          <button
            type="button"
            class="btn btn-xs"
            disabled={!(count >= 1 && count <= 200)}
            onclick={() => flow.edit(shuffledRows(flow.document, id, count, seed))}>Replace rows</button
          >
        </p>
      {/if}
      {#if order.draw !== 'fixed'}
        <p class="line">
          <span>Same order in two runs: <b>{chance(alikeTwice(order))}</b>.</span>
          <label
            >At least <input
              class="input input-xs"
              type="number"
              min="2"
              max="20"
              aria-label="How many alike"
              bind:value={alike}
            />
            of <input class="input input-xs" type="number" min="2" max="20" aria-label="Of how many runs" bind:value={runs} /> runs
            alike:</label
          >
          <b>{alike >= 2 && runs <= 20 && runs >= 1 ? chance(alikeAmong(order, alike, runs)) : '–'}</b>
        </p>
        <details>
          <summary>Ten example runs</summary>
          <p class="line">
            <label>seed <input class="input input-xs" type="number" aria-label="Seed of the runs" bind:value={shown} /></label>
            <button type="button" class="btn btn-xs" onclick={() => shown++}>Others</button>
          </p>
          <ol>
            {#each preview(id) as run, n (n)}<li>{run.map((level) => placeName(flow.document, level)).join(' → ')}</li>{/each}
          </ol>
        </details>
      {:else}
        <ol class="listed">
          {#each order.levels as level (level)}
            <li>
              <button type="button" class="link" onclick={() => view.select(level, false)}
                >{placeName(flow.document, level)}</button
              >
            </li>
          {/each}
        </ol>
      {/if}
    </section>
  {/each}
  {#if orders.length === 0}<p>There is no order yet: the first level makes one.</p>{/if}
</div>

<style>
  h2 {
    display: flex;
    align-items: baseline;
    gap: 10px;
    font-size: 15px;
    margin-bottom: 6px;
  }
  h2 span {
    font-size: 12px;
    font-weight: 400;
    font-family: inherit;
  }
  section {
    margin-bottom: 22px;
  }
  .wide {
    overflow-x: auto;
  }
  table {
    font-size: 12px;
  }
  th,
  td {
    border: 1px solid var(--color-base-300);
    padding: 1px 4px;
    white-space: nowrap;
  }
  td select {
    background: transparent;
    max-width: 130px;
  }
  td option {
    color: var(--color-base-content);
    background: var(--color-base-100);
  }
  .bad {
    background: var(--lost-wash);
    border-left: 3px dashed var(--lost);
  }
  .line {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    margin-top: 6px;
  }
  .line input {
    width: 64px;
  }
  details {
    margin-top: 6px;
  }
  summary {
    cursor: pointer;
  }
  ol {
    list-style: decimal;
    padding-left: 26px;
    font-size: 12px;
    margin-top: 4px;
  }
  .listed {
    columns: 5 150px;
    line-height: 25px;
  }
</style>
