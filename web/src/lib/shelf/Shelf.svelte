<script lang="ts">
  import { goto, invalidateAll } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { navigating } from '$app/state';
  import type { ReadError } from '@crow-lane/core/document/read';
  import { copyFlow, deleteFlow, fetchFlow, Refused, restoreFlow, sendEdit, sendFile } from '$lib/flow/api.ts';
  import { author } from '$lib/flow/author.svelte.ts';
  import { freshId } from '$lib/id.ts';
  import { Attempts } from '$lib/parts/attempts.svelte.ts';
  import Bar from '$lib/parts/Bar.svelte';
  import Dialog from '$lib/parts/Dialog.svelte';
  import Listing from '$lib/parts/Listing.svelte';
  import Sharing from '$lib/parts/Sharing.svelte';
  import { includes, keptDays, type Me } from '$lib/rights.ts';
  import { change } from '@crow-lane/core/document/patch';
  import { sourceOf } from '@crow-lane/core/formats/flow-list';
  import type { LeftOut } from '@crow-lane/core/formats/left-out';
  import { checkMissing } from './check-missing.ts';
  import NewFlow from './NewFlow.svelte';
  import { ago, verdictWords, type ShelfItem } from '$lib/parts/shelf-words.ts';

  let { flows, me, deleted: gone }: { flows: ShelfItem[]; me: Me; deleted: ShelfItem[] } = $props();
  /** With accounts: whose flows are shown. */
  let whose: 'all' | 'mine' | 'others' = $state('all');
  const shown = $derived(
    whose === 'all' ? flows : flows.filter(({ owner }) => (owner === me.person?.name) === (whose === 'mine'))
  );
  let sharing: ShelfItem | undefined = $state.raw();
  let purging: ShelfItem | undefined = $state.raw();
  const mayMake = $derived(me.person?.role !== 'guest');

  let deleted: ShelfItem | undefined = $state();
  let renaming: ShelfItem | undefined = $state();
  let making = $state(false);
  let leftOut: { name: string; left: LeftOut[] } | undefined = $state.raw();
  let refusedFile: { name: string; message: string; errors: ReadError[] } | undefined = $state();
  const acts = new Attempts();
  let dropping = $state(false);

  // flows that were never opened since their last change are checked here, one after another
  $effect(() =>
    checkMissing(
      flows.filter(({ may }) => includes(may, 'read')),
      () => {
        // reading the shelf anew would call off the way to a flow that has just been opened
        if (!navigating.to) void invalidateAll();
      }
    )
  );

  async function importFiles(files: FileList | null | undefined) {
    refusedFile = undefined;
    leftOut = undefined;
    for (const file of files ?? []) {
      await acts.run(async () => {
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
    void acts.run(async () => {
      await deleteFlow(item.id);
      deleted = item;
      await invalidateAll();
    });
  }

  function undoRemove(item: ShelfItem) {
    void acts.run(async () => {
      await restoreFlow(item.id);
      deleted = undefined;
      await invalidateAll();
    });
  }

  function purge(item: ShelfItem) {
    purging = undefined;
    void acts.run(async () => {
      await deleteFlow(item.id, true);
      if (deleted?.id === item.id) deleted = undefined;
      await invalidateAll();
    });
  }

  function copy(item: ShelfItem) {
    void acts.run(async () => {
      await copyFlow(item.id);
      await invalidateAll();
    });
  }

  function make(document: object) {
    void acts.run(async () => {
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
    void acts.run(async () => {
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
  <Bar {me} shows="flows" />
  <Listing>
    <div class="top">
      <h1>Flows</h1>
      {#if me.person}
        <select class="select select-sm" aria-label="Whose flows" bind:value={whose}>
          <option value="all">all that I see</option>
          <option value="mine">mine</option>
          <option value="others">shared with me</option>
        </select>
      {/if}
      {#if mayMake}
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
      {/if}
    </div>
    <div aria-live="polite">
      {#if acts.failed}<p class="box bad">{acts.failed}</p>{/if}
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
    {#if shown.length === 0 && me.person && (flows.length > 0 || !mayMake)}
      <p class="empty">
        {whose === 'mine' ? 'You have no flows yet.' : 'No flow is shared with you yet.'} On the
        <a class="link" href={resolve('/shared')}>shared shelf</a> are those that others put on show.
      </p>
    {:else if shown.length === 0}
      <p class="empty">
        No flows yet. Make a new one, or import a <code>.crow.json</code> file, a table of levels as <code>.csv</code>, or a graph
        as
        <code>.dot</code>: drop it anywhere here.
      </p>
    {:else}
      <table>
        <thead>
          <tr
            ><th>Name</th>{#if me.person}<th>Of</th>{/if}<th class="n">Places</th><th class="n">Levels</th><th>Verdict</th><th
              >Last change</th
            ><th><span class="hidden-text">Acts</span></th></tr
          >
        </thead>
        <tbody>
          {#each shown as item (item.id)}
            {@const verdict = verdictWords(item)}
            <tr>
              <td class="title"
                >{#if item.may === 'play'}<a class="display" href={resolve('/play/[id]', { id: item.id })} data-sveltekit-reload
                    >{item.name}</a
                  >{:else}<a class="display" href={resolve('/flows/[id]', { id: item.id })}>{item.name}</a>{/if}
                {#if item.source}<span class="dim from"
                    >taken from <a class="link" href={resolve('/shared/[show]', { show: item.source.show })}
                      >{item.source.name}, revision {item.source.revision}</a
                    >{item.source.by ? `, by ${item.source.by}` : ''}</span
                  >{/if}</td
              >
              {#if me.person}<td>{item.owner === me.person.name ? 'me' : (item.owner ?? '')}</td>{/if}
              <td class="n">{item.places}</td>
              <td class="n">{item.levels}</td>
              <td class={verdict.look}>{verdict.text}</td>
              <td class="dim"><time datetime={new Date(item.changedAt).toISOString()}>{ago(item.changedAt)}</time></td>
              <td class="acts">
                {#if me.person && item.may === 'own'}<button
                    type="button"
                    class="link"
                    aria-label="Share {item.name}"
                    onclick={() => (sharing = item)}>share</button
                  >{/if}
                {#if includes(item.may, 'edit')}<button
                    type="button"
                    class="link"
                    aria-label="Rename {item.name}"
                    onclick={() => (renaming = item)}>rename</button
                  >{/if}
                {#if includes(item.may, 'read')}
                  {#if mayMake}<button type="button" class="link" aria-label="Duplicate {item.name}" onclick={() => copy(item)}
                      >duplicate</button
                    >{/if}
                  <a class="link" aria-label="Export {item.name}" href={resolve('/api/flows/[id]/file', { id: item.id })} download
                    >export</a
                  >
                {/if}
                <a
                  class="link"
                  aria-label="A page to play {item.name}"
                  title="One file that anybody can play"
                  href="{resolve('/api/flows/[id]/file', { id: item.id })}?as=html"
                  download>page to play</a
                >
                {#if item.may === 'own'}<button
                    type="button"
                    class="link"
                    aria-label="Delete {item.name}"
                    onclick={() => remove(item)}>delete</button
                  >{/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    {#if gone.length > 0}
      <details>
        <summary>Deleted, and gone for good after {keptDays} days: {gone.length}</summary>
        <table>
          <tbody>
            {#each gone as item (item.id)}
              <tr>
                <td class="title display">{item.name}</td>
                <td class="dim">deleted {ago(item.deletedAt!)}</td>
                <td class="acts">
                  <button type="button" class="link" aria-label="Bring back {item.name}" onclick={() => undoRemove(item)}
                    >bring back</button
                  >
                  <button type="button" class="link" aria-label="Delete {item.name} for good" onclick={() => (purging = item)}
                    >delete for good…</button
                  >
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </details>
    {/if}
  </Listing>
</div>

{#if sharing}
  <Sharing id={sharing.id} name={sharing.name} {me} onclose={() => (sharing = undefined)} />
{/if}
{#if purging}
  {@const item = purging}
  <Dialog title="Delete {item.name} for good" onclose={() => (purging = undefined)}>
    <p>The flow goes with its whole history. It cannot be brought back.</p>
    <div class="acts">
      <button type="button" class="btn btn-sm btn-primary" data-first onclick={() => purge(item)}>Delete for good</button>
    </div>
  </Dialog>
{/if}

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
  details {
    margin-top: 18px;
  }
  summary {
    cursor: pointer;
    margin-bottom: 6px;
  }
  .from {
    display: block;
    font-size: 12px;
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
