<script lang="ts">
  /** A field that names something new; Enter or its button makes it. */
  let { placeholder, label, onadd }: { placeholder: string; label: string; onadd: (name: string) => void } = $props();
  let name = $state('');

  function add(event: SubmitEvent) {
    event.preventDefault();
    if (!name.trim()) return;
    onadd(name.trim());
    name = '';
  }
</script>

<form onsubmit={add}>
  <input class="input input-xs" {placeholder} aria-label={label} maxlength="80" bind:value={name} />
  {#if name.trim()}<button class="btn btn-xs">Add</button>{/if}
</form>

<style>
  form {
    display: flex;
    gap: 4px;
    margin: 3px 0 6px;
  }
</style>
