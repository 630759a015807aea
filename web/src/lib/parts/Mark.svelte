<script lang="ts">
  import type { Mark } from '@crow-lane/core/report/answers';

  /** The verdict on a place: each outcome has a shape of its own besides its colour. */
  let { mark, size = 13 }: { mark: Mark | undefined; size?: number } = $props();
  const words = {
    holds: 'all in order',
    fails: 'something fails',
    open: 'not settled',
    unreached: 'never reached',
    accepted: 'accepted',
    remark: 'worth knowing'
  };
</script>

{#if mark}
  <svg width={size} height={size} viewBox="0 0 14 14" role="img" aria-label={words[mark]}>
    {#if mark === 'holds'}
      <path d="M2 7.5 5.6 11 12 3" fill="none" stroke="var(--won)" stroke-width="2.6" />
    {:else if mark === 'fails'}
      <path d="M1 1h12v8l-4 4H1Z" fill="var(--lost)" />
      <path d="M7 3v4.5M7 9v2" stroke="var(--tile)" stroke-width="2" />
    {:else if mark === 'open'}
      <path d="M4.5 5a2.5 2.5 0 1 1 3.5 2.3c-.7.3-1 .8-1 1.7M7 11v1.6" fill="none" stroke="var(--plain)" stroke-width="2" />
    {:else if mark === 'accepted'}
      <path d="M1.5 1.5h11v8l-3.5 3.5h-7.500Z" fill="none" stroke="var(--plain)" stroke-width="1.6" />
      <path d="M4 6.500 6.300 9 10.500 4" fill="none" stroke="var(--plain)" stroke-width="1.8" />
    {:else if mark === 'remark'}
      <path d="M7 2 13 12H1Z" fill="none" stroke="var(--plain)" stroke-width="1.800" />
    {:else}
      <path d="M1 7h3M6 7h2M10 7h3" stroke="var(--dim)" stroke-width="2.4" />
    {/if}
  </svg>
{/if}
