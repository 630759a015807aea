<script lang="ts">
  /** A fix that has been tried, as a button, and how many findings it removes. */
  let { label, removes, onuse }: { label: string; removes: number; onuse: () => void } = $props();
</script>

<p>
  <button type="button" class="btn btn-xs" data-fix onclick={onuse}>{label}</button>
  <span>fixes {removes === 1 ? 'this' : `this and ${removes - 1} more`}</span>
</p>

<style>
  p {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 2px 8px;
    padding: 2px 0;
    font-size: 12px;
  }
  button {
    height: auto;
    min-height: 24px;
    white-space: normal;
    text-align: left;
    border: 1px solid var(--color-base-content);
    background: var(--color-base-100);
  }
</style>
