<script lang="ts">
  import { readTable, takeTable, writeCsv, type LevelTable, type ReadAs } from '@crow-lane/core/formats/levels-csv';
  import { columnsOf } from '@crow-lane/core/sheet/columns';
  import { flowContext } from '$lib/flow/context.ts';
  import { fileName, save } from '$lib/parts/save.ts';
  import Dialog from '$lib/parts/Dialog.svelte';
  import RefusedCells from '$lib/parts/RefusedCells.svelte';
  import type { Sheet } from './sheet.svelte.ts';

  /** The sheet as a CSV file, out and in: what its columns are is guessed, shown, and said otherwise where that is wrong. */
  let { sheet }: { sheet: Sheet } = $props();
  const { flow } = flowContext();
  let file: { name: string; table: LevelTable } | undefined = $state.raw();
  let as: ReadAs[] = $state.raw([]);
  let order = $state('');
  const orders = $derived(Object.entries(flow.document.orders));
  const taken = $derived(file && takeTable(flow.document, file.table, order || undefined, as));
  const columns = $derived(columnsOf(flow.document).filter(({ write }) => write));
  const shown = 5;

  function out() {
    const text = writeCsv(
      flow.document,
      sheet.rows.map(({ level }) => level)
    );
    save(new Blob(['\uFEFF', text], { type: 'text/csv' }), `${fileName(flow.document.name)}-levels.csv`);
  }

  async function open(input: HTMLInputElement) {
    const picked = input.files?.[0];
    input.value = '';
    if (!picked) return;
    const table = readTable(flow.document, await picked.text());
    if (!table) {
      flow.notice = { bad: true, text: `There is nothing in ${picked.name}.` };
      return;
    }
    order = sheet.order || (orders[0]?.[0] ?? '');
    as = table.guess;
    file = { name: picked.name, table };
  }

  const valueOf = (each: ReadAs) => (typeof each === 'object' ? `column ${each.column}` : each);
  const readAs = (value: string): ReadAs =>
    value.startsWith('column ') ? { column: value.slice(7) } : (value as Exclude<ReadAs, object>);

  function take(event: SubmitEvent) {
    event.preventDefault();
    if (!taken || 'error' in taken) return;
    flow.edit(taken.change);
    flow.notice = { bad: false, text: `${file!.name}: ${taken.added} added, ${taken.changed} changed.` };
    file = undefined;
  }
</script>

<button type="button" class="btn btn-xs" onclick={out}>Save as CSV</button>
<label class="btn btn-xs">
  Read CSV…
  <input type="file" class="hidden-text" accept=".csv,.tsv,text/csv" onchange={(event) => open(event.currentTarget)} />
</label>
{#if file}
  {@const { titles, rows } = file.table}
  <Dialog title="Levels from {file.name}" wide onclose={() => (file = undefined)}>
    <form onsubmit={take}>
      <div class="table">
        <table>
          <thead>
            <tr>
              {#each titles as title, at (at)}
                <th>
                  {title || '(no title)'}
                  <select
                    class="select select-xs"
                    aria-label="Read {title || `column ${at + 1}`} as"
                    data-first={at === 0 || undefined}
                    value={valueOf(as[at]!)}
                    onchange={(event) => (as = as.with(at, readAs(event.currentTarget.value)))}
                  >
                    {#each columns as { key, title: name } (key)}<option value="column {key}">{name}</option>{/each}
                    {#if title !== ''}
                      <option value="piece">pieces: {title}</option>
                      <option value="note">notes: {title}</option>
                    {/if}
                    <option value="nothing">left out</option>
                  </select>
                </th>
              {/each}
            </tr>
          </thead>
          <tbody>
            {#each rows.slice(0, shown) as { cells, line } (line)}
              <tr>
                {#each titles as title, at (at)}<td class:out={as[at] === 'nothing'} {title}>{cells[at] ?? ''}</td>{/each}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if rows.length > shown}<p class="dim">and {rows.length - shown} more rows</p>{/if}
      {#if orders.length > 1}
        <label class="order"
          >New levels stand last in
          <select class="select select-sm" bind:value={order}>
            {#each orders as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
          </select></label
        >
      {/if}
      <div role="status">
        {#if taken && 'error' in taken}<p class="lost">{taken.error}</p>
        {:else if taken}
          <p><b>{taken.added}</b> {taken.added === 1 ? 'level is' : 'levels are'} added, <b>{taken.changed}</b> changed.</p>
          <RefusedCells cells={taken.refused} />
        {/if}
      </div>
      <p class="acts">
        <button class="btn btn-sm btn-primary" disabled={!taken || 'error' in taken || taken.change.patch.length === 0}
          >Take the levels</button
        >
        <button type="button" class="btn btn-sm" onclick={() => (file = undefined)}>Cancel</button>
      </p>
    </form>
  </Dialog>
{/if}

<style>
  label:focus-within {
    outline: 2px solid var(--color-base-content);
  }
  .table {
    overflow: auto;
    margin-bottom: 8px;
  }
  table {
    border-collapse: collapse;
    font-size: 12px;
  }
  th {
    text-align: left;
    padding: 0 6px 4px 0;
    white-space: nowrap;
    max-width: 200px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  th select {
    display: flex;
    width: 130px;
  }
  td {
    padding: 2px 6px 2px 0;
    border-top: 1px solid var(--color-base-300);
    max-width: 200px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .out {
    text-decoration: line-through;
    color: var(--dim);
  }
  .order {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 8px;
  }
</style>
