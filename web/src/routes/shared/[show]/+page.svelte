<script lang="ts">
  import OnShow from '$lib/house/OnShow.svelte';

  let { data } = $props();
</script>

<svelte:head><title>{data.show.name} · Crow Lane</title></svelte:head>
{#key data.show.id}<OnShow me={data.me} show={data.show} others={data.others} may={data.may} />{/key}
