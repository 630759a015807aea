<script lang="ts">
  import '@fontsource-variable/atkinson-hyperlegible-next';
  import '@fontsource-variable/bricolage-grotesque';
  import '../app.css';
  import { onMount } from 'svelte';

  let { children } = $props();

  // what was done before is done now: static/early.js
  onMount(() => void dispatchEvent(new Event('listening')));
</script>

{@render children()}
