<script lang="ts">
  import { onMount } from 'svelte';

  let night = $state(false);
  onMount(() => (night = document.documentElement.dataset.theme === 'night'));

  function toggle() {
    night = !night;
    const theme = night ? 'night' : 'daylight';
    document.documentElement.dataset.theme = theme;
    try {
      localStorage.setItem('theme', theme);
    } catch {
      // then it holds until the page is left
    }
  }
</script>

<button type="button" class="btn btn-xs btn-ghost" aria-pressed={night} onclick={toggle}>{night ? 'Day' : 'Night'}</button>
