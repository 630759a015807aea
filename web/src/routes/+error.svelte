<script lang="ts">
  import { onMount } from 'svelte';
  import { resolve } from '$app/paths';
  import { page } from '$app/state';
  import { serverIsWell } from '$lib/flow/api.ts';
  import Crow from '$lib/parts/Crow.svelte';

  // what is only not there at the moment is waited for
  onMount(() => {
    const looking = setInterval(async () => {
      if (page.status === 503 && (await serverIsWell())) location.reload();
    }, 2000);
    return () => clearInterval(looking);
  });
</script>

<svelte:head><title>{page.status} · Crow Lane</title></svelte:head>
<main>
  <Crow />
  <h1>{page.status === 503 ? 'One moment' : page.status}</h1>
  <p role="status">{page.error?.message}</p>
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
