<script lang="ts">
  import { crowPath } from './crow.ts';
</script>

<svg width="30" height="22" viewBox="0 0 30 22" aria-hidden="true">
  <path d={crowPath} fill="currentColor" />
  <circle cx="22" cy="4.6" r="1" fill="var(--color-accent)" />
</svg>
