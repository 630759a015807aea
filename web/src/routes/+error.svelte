<script lang="ts">
  import { resolve } from '$app/paths';
  import { page } from '$app/state';
  import Crow from '$lib/parts/Crow.svelte';
</script>

<svelte:head><title>{page.status} · Crow Lane</title></svelte:head>
<main>
  <Crow />
  <h1>{page.status}</h1>
  <p>{page.error?.message}</p>
  <p><a class="link" href={resolve('/')}>All flows</a></p>
</main>

<style>
  main {
    padding: 18vh 24px 0;
    text-align: center;
  }
  main :global(svg) {
    margin: 0 auto 12px;
  }
  h1 {
    font-size: 28px;
  }
</style>
