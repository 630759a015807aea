<script lang="ts">
  import '@fontsource-variable/atkinson-hyperlegible-next';
  import '@fontsource-variable/bricolage-grotesque';
  import '../app.css';

  let { children } = $props();
</script>

{@render children()}
