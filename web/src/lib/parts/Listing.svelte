<script lang="ts">
  import type { Snippet } from 'svelte';

  /** What a page of lists and tables looks like. */
  let { children }: { children: Snippet } = $props();
</script>

<main>{@render children()}</main>

<style>
  main {
    max-width: 1160px;
    margin: 0 auto;
    padding: 26px 24px;
  }
  main :global(.top) {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 14px;
  }
  main :global(h1) {
    font-size: 22px;
    margin-right: auto;
  }
  main :global(h2) {
    font-size: 16px;
    margin: 22px auto 8px 0;
  }
  main :global(* + .top) {
    margin-top: 22px;
  }
  main :global(.top h2) {
    margin-top: 0;
    margin-bottom: 0;
  }
  main :global(.top select) {
    width: 160px;
  }
  main :global(table) {
    width: 100%;
    border-collapse: collapse;
    background: var(--color-base-100);
    border-top: 3px solid var(--color-base-content);
    margin-bottom: 10px;
  }
  main :global(th) {
    text-align: left;
    font-size: 11px;
    color: var(--dim);
    font-weight: 600;
    white-space: nowrap;
  }
  main :global(:is(th, td)) {
    padding: 8px 12px;
    border-bottom: 1px solid var(--color-base-300);
    vertical-align: baseline;
  }
  main :global(:is(.n, th.n)) {
    text-align: right;
  }
  main :global(:is(td.acts, time)) {
    white-space: nowrap;
  }
  main :global(td.acts > *) {
    margin-left: 8px;
  }
  main :global(.box) {
    padding: 8px 12px;
    margin-bottom: 12px;
    background: var(--color-base-100);
    border-left: 4px solid var(--plain);
  }
  main :global(.box.bad) {
    background: var(--lost-wash);
    border-left-color: var(--lost);
  }
  main :global(.bordered) {
    background: var(--color-base-100);
    border-color: var(--color-base-content);
  }
</style>
