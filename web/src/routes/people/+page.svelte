<script lang="ts">
  import People from '$lib/house/People.svelte';

  let { data } = $props();
</script>

<svelte:head><title>People · Crow Lane</title></svelte:head>
<People me={data.me} people={data.people} invited={data.invited} lines={data.lines} />
