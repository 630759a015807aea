<script lang="ts">
  import type { Snippet } from 'svelte';
  import Crow from '$lib/parts/Crow.svelte';

  /** A page with one question: to sign in, to make an account. */
  let { title, children }: { title: string; children: Snippet } = $props();
</script>

<svelte:head><title>{title} · Crow Lane</title></svelte:head>
<main>
  <p class="display"><Crow /> Crow Lane</p>
  <div class="card">
    <h1>{title}</h1>
    {@render children()}
  </div>
</main>

<style>
  main {
    padding: 12vh 16px 32px;
    max-width: 432px;
    margin: 0 auto;
  }
  p.display {
    display: flex;
    gap: 8px;
    align-items: center;
    font-size: 16px;
    margin-bottom: 10px;
  }
  .card {
    padding: 18px 20px;
    background: var(--color-base-100);
    border-top: 3px solid var(--color-base-content);
  }
  h1 {
    font-size: 20px;
    margin-bottom: 12px;
  }
  .card :global(form) {
    display: grid;
    gap: 6px;
  }
  .card :global(form > .btn) {
    margin-top: 10px;
    justify-self: start;
  }
  .card :global(form > input) {
    width: 100%;
  }
  .card :global(.bad) {
    padding: 8px 12px;
    margin-bottom: 10px;
    background: var(--lost-wash);
    border-left: 4px solid var(--lost);
  }
</style>
