<script lang="ts">
  import { page } from '$app/state';
  import FlowPage from '$lib/frame/FlowPage.svelte';

  let { data } = $props();
</script>

{#key data.id}<FlowPage
    id={data.id}
    start={data.start}
    words={data.words}
    report={data.report}
    shows={page.params.view ?? 'lane'}
  />{/key}
