<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { queryText } from '$lib/house-api.ts';
  import Bar from '$lib/parts/Bar.svelte';
  import Listing from '$lib/parts/Listing.svelte';
  import { ago, playedWords, summaryWords } from '$lib/parts/shelf-words.ts';
  import type { Me } from '$lib/rights.ts';
  import { perPage, showSorts, type Show, type ShowQuery } from '$lib/show.ts';

  /** What others have put on show: searched, of a tag, in an order; the address holds all of it. */
  let { me, shows, all, tags, query }: { me: Me; shows: Show[]; all: number; tags: string[]; query: ShowQuery } = $props();
  const pages = $derived(Math.max(1, Math.ceil(all / perPage)));
  const at = $derived(query.page ?? 0);
  const asked = (to: ShowQuery) => {
    const text = queryText(to);
    return text ? `?${text}` : '';
  };
  let soon: ReturnType<typeof setTimeout> | undefined;

  function search(text: string) {
    clearTimeout(soon);
    const { page: _page, search: _search, ...rest } = query;
    soon = setTimeout(
      () =>
        // the rule does not see that a query follows
        // eslint-disable-next-line svelte/no-navigation-without-resolve
        void goto(`${resolve('/shared')}${asked({ ...rest, ...(text.trim() ? { search: text.trim() } : {}) })}`, {
          keepFocus: true,
          replaceState: true,
          noScroll: true
        }),
      250
    );
  }
</script>

<Bar {me} shows="shared" />
<Listing>
  <div class="top">
    <h1>Shared shelf</h1>
    <input
      class="input input-sm"
      type="search"
      aria-label="Search"
      placeholder="Search names, summaries, authors, tags"
      value={query.search ?? ''}
      oninput={(event) => search(event.currentTarget.value)}
    />
    <select
      class="select select-sm"
      aria-label="Order"
      value={query.sort ?? 'date'}
      onchange={(event) => {
        const sort = event.currentTarget.value as keyof typeof showSorts;
        void goto(
          // eslint-disable-next-line svelte/no-navigation-without-resolve
          `${resolve('/shared')}${asked({ ...query, page: 0, ...(sort === 'date' ? { sort: undefined } : { sort }) } as ShowQuery)}`
        );
      }}
    >
      {#each Object.entries(showSorts) as [sort, words] (sort)}<option value={sort}>{words}</option>{/each}
    </select>
  </div>
  {#if tags.length > 0}
    <nav class="tags" aria-label="Tags">
      {#each tags as tag (tag)}
        {@const chosen = tag === query.tag}
        <a
          class="tag"
          aria-current={chosen ? 'true' : undefined}
          href="{resolve('/shared')}{asked({ ...query, page: 0, ...(chosen ? { tag: undefined } : { tag }) } as ShowQuery)}"
          >{tag}</a
        >
      {/each}
    </nav>
  {/if}
  {#if shows.length === 0}
    <p class="empty">
      {query.search || query.tag
        ? 'Nothing on show matches.'
        : 'Nothing is on show yet. The owner of a flow puts it here, with “share” in the list of flows.'}
    </p>
  {:else}
    <ul class="cards">
      {#each shows as show (show.id)}
        {@const verdict = summaryWords(show.verdict)}
        <li>
          <a href={resolve('/shared/[show]', { show: show.id })}>
            <img src={resolve('/api/shows/[show]/picture', { show: show.id })} alt="" loading="lazy" />
            <h2>{show.name}</h2>
          </a>
          <p class="summary">{show.summary}</p>
          <p class={verdict.look}>{verdict.text}</p>
          <p class="dim">
            {show.authors}<br />{show.places} places, {show.levels} levels · {show.played === 0
              ? 'not played yet'
              : `played ${playedWords(show.played)}`} · {ago(show.shownAt)}
          </p>
          {#if show.tags.length > 0}<p class="dim">{show.tags.join(' · ')}</p>{/if}
        </li>
      {/each}
    </ul>
    {#if pages > 1}
      <nav class="pages" aria-label="Pages">
        {#if at > 0}<a class="btn btn-sm" href="{resolve('/shared')}{asked({ ...query, page: at - 1 })}">Earlier page</a>{/if}
        <span>Page {at + 1} of {pages.toLocaleString('en')}, {all.toLocaleString('en')} flows</span>
        {#if at + 1 < pages}<a class="btn btn-sm" href="{resolve('/shared')}{asked({ ...query, page: at + 1 })}">Next page</a
          >{/if}
      </nav>
    {/if}
  {/if}
</Listing>

<style>
  .top .input {
    width: 300px;
  }
  .tags {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    margin-bottom: 14px;
  }
  .tag {
    color: var(--plain);
    text-decoration: underline;
    text-underline-offset: 2px;
    padding: 3px 0;
  }
  .tag[aria-current] {
    color: inherit;
    font-weight: 700;
    text-decoration: none;
    border-bottom: 3px solid var(--color-accent);
  }
  .cards {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(min(340px, 100%), 1fr));
    gap: 18px;
  }
  li {
    display: grid;
    align-content: start;
    gap: 4px;
    padding: 0 14px 12px;
    background: var(--color-base-100);
    border-top: 3px solid var(--color-base-content);
    min-width: 0;
    overflow-wrap: anywhere;
  }
  img {
    width: calc(100% + 28px);
    max-width: none;
    margin: 0 -14px 6px;
    height: 150px;
    object-fit: cover;
    object-position: left top;
    background: #fff;
    border-bottom: 1px solid var(--color-base-300);
  }
  a:hover h2 {
    text-decoration: underline;
  }
  li h2 {
    margin: 4px 0 0;
  }
  .summary {
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 3;
    line-clamp: 3;
    overflow: hidden;
  }
  .pages {
    display: flex;
    align-items: center;
    justify-content: center;
    gap: 14px;
    margin: 20px 0;
  }
  .empty {
    padding: 40px 0;
  }
</style>
