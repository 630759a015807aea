<script lang="ts">
  import { readCsv, writeCsv, type BadRow } from '@crow-lane/core/formats/levels-csv';
  import { flowContext } from '$lib/flow/context.ts';
  import { fileName, save } from '$lib/parts/save.ts';
  import Dialog from '$lib/parts/Dialog.svelte';
  import type { Sheet } from './sheet.svelte.ts';

  /** The sheet as a CSV file, out and in. */
  let { sheet }: { sheet: Sheet } = $props();
  const { flow } = flowContext();
  let refused: { file: string; error?: string; rows: BadRow[]; taken: string } | undefined = $state.raw();

  function out() {
    const text = writeCsv(
      flow.document,
      sheet.rows.map(({ level }) => level)
    );
    save(new Blob(['\uFEFF', text], { type: 'text/csv' }), `${fileName(flow.document.name)}-levels.csv`);
  }

  async function take(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    const order = sheet.order || Object.keys(flow.document.orders)[0];
    const read = readCsv(flow.document, await file.text(), order);
    if ('error' in read) {
      refused = { file: file.name, error: read.error, rows: [], taken: '' };
      return;
    }
    flow.edit(read.change);
    const taken = `${read.added} added, ${read.changed} changed.`;
    if (read.refused.length > 0) refused = { file: file.name, rows: read.refused, taken };
    else flow.notice = { bad: false, text: `${file.name}: ${taken}` };
  }
</script>

<button type="button" class="btn btn-xs" onclick={out}>Save as CSV</button>
<label class="btn btn-xs">
  Read CSV…
  <input type="file" class="hidden-text" accept=".csv,text/csv" onchange={(event) => take(event.currentTarget)} />
</label>
{#if refused}
  <Dialog title="Not everything in {refused.file} could be taken" onclose={() => (refused = undefined)}>
    {#if refused.error}<p>{refused.error} Nothing was changed.</p>
    {:else}
      <p>{refused.taken} Left out:</p>
      <ul>
        {#each refused.rows as { row, reason } (row)}<li>Row {row}: {reason}</li>{/each}
      </ul>
    {/if}
    <button type="button" class="btn btn-sm" data-first onclick={() => (refused = undefined)}>Close</button>
  </Dialog>
{/if}

<style>
  label:focus-within {
    outline: 2px solid var(--color-base-content);
  }
  ul {
    list-style: square;
    padding-left: 18px;
    margin: 6px 0 12px;
    max-height: 40vh;
    overflow: auto;
  }
</style>
