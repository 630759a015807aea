<script lang="ts">
  import Shelf from '$lib/shelf/Shelf.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Crow Lane</title></svelte:head>
<Shelf flows={data.flows} deleted={data.deleted} me={data.me} />
