<script lang="ts">
  import { goto, invalidateAll } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { navigating } from '$app/state';
  import type { ReadError } from '@crow-lane/core/document/read';
  import { copyFlow, deleteFlow, fetchFlow, Refused, restoreFlow, sendEdit, sendFile } from '$lib/flow/api.ts';
  import { author } from '$lib/flow/author.svelte.ts';
  import { freshId } from '$lib/id.ts';
  import Crow from '$lib/parts/Crow.svelte';
  import Dialog from '$lib/parts/Dialog.svelte';
  import ThemeSwitch from '$lib/parts/ThemeSwitch.svelte';
  import { change } from '@crow-lane/core/document/patch';
  import { sourceOf } from '@crow-lane/core/formats/flow-list';
  import type { LeftOut } from '@crow-lane/core/formats/left-out';
  import { checkMissing } from './check-missing.ts';
  import NewFlow from './NewFlow.svelte';
  import { ago, verdictWords, type ShelfItem } from '$lib/parts/shelf-words.ts';

  let { flows }: { flows: ShelfItem[] } = $props();

  let deleted: ShelfItem | undefined = $state();
  let renaming: ShelfItem | undefined = $state();
  let making = $state(false);
  let leftOut: { name: string; left: LeftOut[] } | undefined = $state.raw();
  let refusedFile: { name: string; message: string; errors: ReadError[] } | undefined = $state();
  let failed = $state('');
  let dropping = $state(false);

  // flows that were never opened since their last change are checked here, one after another
  $effect(() =>
    checkMissing(flows, () => {
      // reading the shelf anew would call off the way to a flow that has just been opened
      if (!navigating.to) void invalidateAll();
    })
  );

  /** Runs an act; what goes wrong is said at the top and nothing is lost. */
  async function attempt(act: () => Promise<void>) {
    failed = '';
    try {
      await act();
    } catch (error) {
      failed = error instanceof Error ? error.message : String(error);
    }
  }

  async function importFiles(files: FileList | null | undefined) {
    refusedFile = undefined;
    leftOut = undefined;
    for (const file of files ?? []) {
      await attempt(async () => {
        try {
          const text = await file.text();
          if (sourceOf(file.name) === 'json') await sendFile(text);
          else await importOther(file.name, text);
          await invalidateAll();
        } catch (error) {
          if (!(error instanceof Refused)) throw error;
          refusedFile = { name: file.name, message: error.message, errors: error.errors };
        }
      });
    }
  }

  /** A table of levels, or a graph, becomes a flow of its own. */
  async function importOther(name: string, text: string) {
    const [{ readFlow }, { write }] = await Promise.all([
      import('@crow-lane/core/formats/read-flow'),
      import('@crow-lane/core/document/write')
    ]);
    const taken = readFlow[sourceOf(name)](text, name.replace(/\.[^.]*$/, ''));
    if (taken.errors) throw new Refused(`${name} cannot be read.`, 422, taken.errors);
    await sendFile(write(taken.document));
    if (taken.left.length > 0) leftOut = { name, left: taken.left };
  }

  function remove(item: ShelfItem) {
    void attempt(async () => {
      await deleteFlow(item.id);
      deleted = item;
      await invalidateAll();
    });
  }

  function undoRemove(item: ShelfItem) {
    void attempt(async () => {
      await restoreFlow(item.id);
      deleted = undefined;
      await invalidateAll();
    });
  }

  function copy(item: ShelfItem) {
    void attempt(async () => {
      await copyFlow(item.id);
      await invalidateAll();
    });
  }

  function make(document: object) {
    void attempt(async () => {
      const id = await sendFile(JSON.stringify(document));
      await goto(resolve('/flows/[id]', { id }));
    });
  }

  function rename(event: SubmitEvent) {
    event.preventDefault();
    const item = renaming;
    const name = String(new FormData(event.currentTarget as HTMLFormElement).get('name')).trim();
    renaming = undefined;
    if (!item || !name || name === item.name) return;
    void attempt(async () => {
      const { document, revision } = await fetchFlow(item.id);
      const { label, patch } = change(document, `Rename the flow to ${name}`, [{ op: 'replace', path: '/name', value: name }]);
      await sendEdit(item.id, revision, { editId: freshId(), kind: 'edit', label, patch, author: author.name });
      await invalidateAll();
    });
  }
</script>

<div
  class="shelf"
  role="presentation"
  class:dropping
  ondragover={(event) => {
    event.preventDefault();
    dropping = true;
  }}
  ondragleave={() => (dropping = false)}
  ondrop={(event) => {
    event.preventDefault();
    dropping = false;
    void importFiles(event.dataTransfer?.files);
  }}
>
  <header>
    <Crow />
    <span class="display name">Crow Lane</span>
    <span class="dim">Wire the flow of a game on one picture, and prove that it can be completed.</span>
    <span class="right"><a class="link" href={resolve('/help/[[page]]', {})}>Manual</a> <ThemeSwitch /></span>
  </header>
  <main>
    <div class="top">
      <h1>Flows</h1>
      <button type="button" class="btn btn-sm btn-primary" onclick={() => (making = true)}>New flow</button>
      <label class="btn btn-sm bordered">
        Import a file
        <input
          class="hidden-text"
          type="file"
          accept=".json,application/json,.csv,.tsv,text/csv,.dot,.gv,text/vnd.graphviz"
          multiple
          onchange={(event) => void importFiles(event.currentTarget.files)}
        />
      </label>
    </div>
    <div aria-live="polite">
      {#if failed}<p class="box bad">{failed}</p>{/if}
      {#if deleted}
        {@const item = deleted}
        <p class="box">
          {item.name} is deleted. <button type="button" class="link" onclick={() => undoRemove(item)}>Undo</button>
        </p>
      {/if}
      {#if leftOut}
        <div class="box bad">
          <p><b>{leftOut.name} was imported, but not whole.</b> This was left out:</p>
          <ol>
            {#each leftOut.left as { line, what }, index (index)}<li>Line {line}: {what}</li>{/each}
          </ol>
        </div>
      {/if}
      {#if refusedFile}
        <div class="box bad">
          <p>
            <b>{refusedFile.name} was not imported.</b>
            {refusedFile.errors.length > 0
              ? `${refusedFile.errors.length} ${refusedFile.errors.length === 1 ? 'thing is' : 'things are'} wrong with it:`
              : refusedFile.message}
          </p>
          <ol>
            {#each refusedFile.errors as { pointer, message, line, column }, index (index)}
              <li>
                {#if line}line {line}, column {column}:{' '}{/if}{#if pointer}<code>{pointer}</code>{' '}{/if}{message}
              </li>
            {/each}
          </ol>
          <button type="button" class="btn btn-xs" onclick={() => (refusedFile = undefined)}>Close</button>
        </div>
      {/if}
    </div>
    {#if flows.length === 0}
      <p class="empty">
        No flows yet. Make a new one, or import a <code>.crow.json</code> file, a table of levels as <code>.csv</code>, or a graph
        as
        <code>.dot</code>: drop it anywhere here.
      </p>
    {:else}
      <table>
        <thead>
          <tr
            ><th>Name</th><th class="n">Places</th><th class="n">Levels</th><th>Verdict</th><th>Last change</th><th
              ><span class="hidden-text">Acts</span></th
            ></tr
          >
        </thead>
        <tbody>
          {#each flows as item (item.id)}
            {@const verdict = verdictWords(item)}
            <tr>
              <td class="title"><a class="display" href={resolve('/flows/[id]', { id: item.id })}>{item.name}</a></td>
              <td class="n">{item.places}</td>
              <td class="n">{item.levels}</td>
              <td class={verdict.look}>{verdict.text}</td>
              <td class="dim"><time datetime={new Date(item.changedAt).toISOString()}>{ago(item.changedAt)}</time></td>
              <td class="acts">
                <button type="button" class="link" aria-label="Rename {item.name}" onclick={() => (renaming = item)}
                  >rename</button
                >
                <button type="button" class="link" aria-label="Duplicate {item.name}" onclick={() => copy(item)}>duplicate</button
                >
                <a class="link" aria-label="Export {item.name}" href={resolve('/api/flows/[id]/file', { id: item.id })} download
                  >export</a
                >
                <a
                  class="link"
                  aria-label="A page to play {item.name}"
                  title="One file that anybody can play"
                  href="{resolve('/api/flows/[id]/file', { id: item.id })}?as=html"
                  download>page to play</a
                >
                <button type="button" class="link" aria-label="Delete {item.name}" onclick={() => remove(item)}>delete</button>
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  </main>
</div>

{#if making}
  <Dialog title="A new flow" onclose={() => (making = false)}>
    <NewFlow onmake={make} />
  </Dialog>
{/if}
{#if renaming}
  <Dialog title="Rename {renaming.name}" onclose={() => (renaming = undefined)}>
    <form onsubmit={rename}>
      <label
        >Name <input
          class="input input-sm"
          name="name"
          data-first
          required
          maxlength="80"
          value={renaming.name}
          autocomplete="off"
        /></label
      >
      <button class="btn btn-sm btn-primary">Rename</button>
    </form>
  </Dialog>
{/if}

<style>
  .shelf {
    min-height: 100%;
  }
  .dropping {
    outline: 4px dashed var(--color-accent);
    outline-offset: -8px;
  }
  header {
    height: 46px;
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 0 16px;
    background: var(--color-base-100);
    border-bottom: 1px solid var(--color-base-300);
  }
  .name {
    font-size: 16px;
  }
  .right {
    margin-left: auto;
  }
  main {
    max-width: 1160px;
    margin: 0 auto;
    padding: 26px 24px;
  }
  .top {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 14px;
  }
  .bordered {
    background: var(--color-base-100);
    border-color: var(--color-base-content);
  }
  h1 {
    font-size: 22px;
    margin-right: auto;
  }
  table {
    width: 100%;
    border-collapse: collapse;
    background: var(--color-base-100);
    border-top: 3px solid var(--color-base-content);
  }
  th {
    text-align: left;
    font-size: 11px;
    color: var(--dim);
    font-weight: 600;
    white-space: nowrap;
  }
  th,
  td {
    padding: 8px 12px;
    border-bottom: 1px solid var(--color-base-300);
    vertical-align: baseline;
  }
  .n {
    text-align: right;
  }
  .title {
    max-width: 340px;
    overflow-wrap: anywhere;
  }
  .title a {
    font-size: 15px;
  }
  .title a:hover {
    text-decoration: underline;
  }
  .acts,
  time {
    white-space: nowrap;
  }
  .acts > * {
    margin-left: 8px;
  }
  .box {
    padding: 8px 12px;
    margin-bottom: 12px;
    background: var(--color-base-100);
    border-left: 4px solid var(--plain);
  }
  .box.bad {
    background: var(--lost-wash);
    border-left-color: var(--lost);
  }
  ol {
    list-style: decimal;
    padding-left: 22px;
    margin: 4px 0;
    max-height: 40vh;
    overflow: auto;
  }
  .empty {
    padding: 40px 0;
  }
  form label {
    display: flex;
    align-items: center;
    gap: 12px;
    margin-bottom: 12px;
  }
  form input {
    flex: 1;
  }
</style>
