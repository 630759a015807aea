<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { fetchChangesOf, takeShow, withdraw, type Change } from '$lib/house-api.ts';
  import { Attempts } from '$lib/parts/attempts.svelte.ts';
  import Bar from '$lib/parts/Bar.svelte';
  import Listing from '$lib/parts/Listing.svelte';
  import { ago, playedWords, summaryWords } from '$lib/parts/shelf-words.ts';
  import { includes, type Me, type Right } from '$lib/rights.ts';
  import type { Show } from '$lib/show.ts';

  /** One flow on show: what it is, how it does, to be played, taken, and compared with what was shown of it before. */
  let { me, show, others, may }: { me: Me; show: Show; others: Show[]; may: Right | undefined } = $props();
  const acts = new Attempts();
  let changes: { since: Show; list: Change[] } | undefined = $state.raw();
  const verdict = $derived(summaryWords(show.verdict));
  const newer = $derived(others.find(({ revision }) => revision > show.revision));

  const take = () => acts.run(async () => goto(resolve('/flows/[id]', { id: (await takeShow(show.id)).id })));
  const compare = (since: Show) => acts.run(async () => (changes = { since, list: await fetchChangesOf(show.id, since.id) }));
</script>

<Bar {me} shows="shared" />
<Listing>
  <p class="back"><a class="link" href={resolve('/shared')}>Shared shelf</a></p>
  <div class="top name">
    <h1>{show.name}</h1>
    <a class="btn btn-sm btn-primary" href={resolve('/shared/[show]/play', { show: show.id })} target="_blank" rel="noopener"
      >Play it</a
    >
    {#if me.person?.role !== 'guest'}
      <button type="button" class="btn btn-sm bordered" disabled={acts.trying} onclick={take}>Take a copy</button>
    {/if}
    <a class="btn btn-sm bordered" href={resolve('/api/shows/[show]/file', { show: show.id })} download>Save as a file</a>
  </div>
  <div aria-live="polite">
    {#if acts.failed}<p class="box bad">{acts.failed}</p>{/if}
    {#if newer}<p class="box">
        A newer revision is on show: <a class="link" href={resolve('/shared/[show]', { show: newer.id })}
          >revision {newer.revision}</a
        >.
      </p>{/if}
  </div>
  {#if show.summary}<p class="summary">{show.summary}</p>{/if}
  <div class="picture">
    <img
      src={resolve('/api/shows/[show]/picture', { show: show.id })}
      alt={show.pictureOf ? `The plan of a level of ${show.name}` : `The lane of ${show.name}`}
    />
  </div>
  <dl>
    <dt>Verdict</dt>
    <dd class={verdict.look}>
      {verdict.text}
      {#if show.verdict}<a
          class="link"
          href="{resolve('/api/shows/[show]/file', { show: show.id })}?as=report"
          target="_blank"
          rel="noopener">all that was found</a
        >{/if}
    </dd>
    <dt>Authors</dt>
    <dd>{show.authors}</dd>
    <dt>On show</dt>
    <dd>revision {show.revision}, {ago(show.shownAt)}{show.by ? `, by ${show.by}` : ''}</dd>
    <dt>Size</dt>
    <dd>{show.places} places, {show.levels} levels</dd>
    <dt>Played</dt>
    <dd>{playedWords(show.played)}</dd>
    {#if show.tags.length > 0}
      <dt>Tags</dt>
      <dd>
        {#each show.tags as tag (tag)}<a class="link" href="{resolve('/shared')}?tag={encodeURIComponent(tag)}">{tag}</a
          >{' '}{/each}
      </dd>
    {/if}
  </dl>
  {#if others.length > 0}
    <h2>Shown before and since</h2>
    <ul>
      {#each others as other (other.id)}
        <li>
          <a class="link" href={resolve('/shared/[show]', { show: other.id })}>Revision {other.revision}</a>, {ago(other.shownAt)}
          <button type="button" class="link" onclick={() => compare(other)}>what changed</button>
        </li>
      {/each}
    </ul>
    {#if changes}
      <div class="box" role="status">
        <b>From revision {changes.since.revision} to revision {show.revision}</b>
        {#if changes.list.length === 0}<p>The same, but for what is not told here: ids and the order of parts.</p>{/if}
        <ul class="changes">
          {#each changes.list as { is, text }, index (index)}<li>{is}: {text}</li>{/each}
        </ul>
      </div>
    {/if}
  {/if}
  {#if includes(may, 'read')}
    <p class="mine">
      <a class="link" href={resolve('/flows/[id]', { id: show.flow })}>Open the flow itself</a>
      {#if may === 'own'}
        <button
          type="button"
          class="link"
          onclick={() => acts.run(async () => (await withdraw(show.id), goto(resolve('/shared'))))}
          >withdraw it from the shelf</button
        >
      {/if}
    </p>
  {/if}
</Listing>

<style>
  .back {
    margin-bottom: 6px;
  }
  .name {
    margin-top: 0;
    flex-wrap: wrap;
  }
  h1 {
    overflow-wrap: anywhere;
  }
  .summary {
    font-size: 15px;
    max-width: 760px;
    margin-bottom: 14px;
    white-space: pre-line;
    overflow-wrap: anywhere;
  }
  .picture {
    width: fit-content;
    max-width: 100%;
    max-height: 340px;
    overflow: auto;
    background: #fff;
    border-top: 3px solid var(--color-base-content);
    margin-bottom: 16px;
  }
  .picture img {
    max-width: none;
    height: 320px;
  }
  dl {
    display: grid;
    grid-template-columns: 110px 1fr;
    gap: 4px 12px;
  }
  dt {
    color: var(--dim);
  }
  .changes {
    list-style: square;
    padding-left: 18px;
  }
  ul li {
    padding: 2px 0;
  }
  .mine {
    display: flex;
    gap: 14px;
    margin-top: 18px;
  }
</style>
