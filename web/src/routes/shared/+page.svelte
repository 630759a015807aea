<script lang="ts">
  import Shared from '$lib/house/Shared.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Shared shelf · Crow Lane</title></svelte:head>
<Shared me={data.me} shows={data.shows} all={data.all} tags={data.tags} query={data.query} />
