<script lang="ts">
  import { resolve } from '$app/paths';
  import { pages } from '$lib/help.ts';
  import Crow from '$lib/parts/Crow.svelte';
  import ThemeSwitch from '$lib/parts/ThemeSwitch.svelte';

  let { data } = $props();
  const title = $derived(pages.find(({ name }) => name === data.name)!.title);
</script>

<svelte:head><title>{title} · Crow Lane manual</title></svelte:head>
<div class="help">
  <header>
    <a href={resolve('/')} aria-label="All flows" title="All flows"><Crow /></a>
    <b class="display">Manual</b>
    <ThemeSwitch />
  </header>
  <nav aria-label="Manual">
    {#each pages as { name, title: words } (name)}
      <a href={resolve('/help/[[page]]', { page: name })} aria-current={name === data.name ? 'page' : undefined}>{words}</a>
    {/each}
  </nav>
  <!-- eslint-disable-next-line svelte/no-at-html-tags -- the project's own pages, built in -->
  <main>{@html data.html}</main>
</div>

<style>
  .help {
    display: grid;
    grid-template: 46px minmax(0, 1fr) / 220px minmax(0, 1fr);
    height: 100vh;
  }
  header {
    grid-column: 1 / -1;
    display: flex;
    align-items: center;
    gap: 14px;
    padding: 0 14px;
    border-bottom: 1px solid var(--color-base-300);
    background: var(--color-base-100);
  }
  header b {
    flex: 1;
    font-size: 16px;
  }
  nav {
    display: grid;
    align-content: start;
    padding: 12px 0;
    overflow: auto;
    border-right: 1px solid var(--color-base-300);
  }
  nav a {
    padding: 5px 16px;
    border-left: 4px solid transparent;
  }
  nav a:hover {
    background: var(--pick-wash);
  }
  [aria-current] {
    font-weight: 700;
    border-left-color: var(--color-accent);
  }
  main {
    overflow: auto;
    padding: 16px 34px 60px;
    line-height: 1.5;
  }
  main :global(:is(p, ul, ol, pre, h1, h2, h3)) {
    max-width: 860px;
  }
  main :global(h1) {
    font-size: 24px;
    font-weight: 700;
    margin-bottom: 8px;
  }
  main :global(h2) {
    font-size: 18px;
    font-weight: 700;
    margin: 20px 0 6px;
  }
  main :global(p),
  main :global(ul),
  main :global(ol) {
    margin: 6px 0;
  }
  main :global(ul) {
    list-style: square;
    padding-left: 20px;
  }
  main :global(ol) {
    list-style: decimal;
    padding-left: 22px;
  }
  main :global(a) {
    text-decoration: underline;
  }
  main :global(img) {
    width: min(860px, 100%);
    margin: 10px 0;
    border: 1px solid var(--color-base-300);
  }
  main :global(table) {
    margin: 8px 0;
    border-collapse: collapse;
    font-size: 13px;
  }
  main :global(:is(th, td)) {
    text-align: left;
    vertical-align: top;
    padding: 3px 14px 3px 0;
    border-bottom: 1px solid var(--color-base-300);
  }
  main :global(pre) {
    padding: 8px 12px;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
    background: var(--tile);
    border: 1px solid var(--color-base-300);
    font-size: 12px;
  }
  main :global(code) {
    font-size: 0.92em;
  }
</style>
