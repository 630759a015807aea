<script lang="ts">
  /** A new password: typed once, and shown where that is wanted, which is safer than typed twice unseen. */
  let {
    label = 'Password',
    autocomplete = 'new-password'
  }: { label?: string; autocomplete?: 'new-password' | 'current-password' } = $props();
  let seen = $state(false);
  const isNew = $derived(autocomplete === 'new-password');
  const id = $props.id();
</script>

<label for={id}>{label}</label>
<span>
  <input
    {id}
    class="input input-sm"
    name={isNew ? 'password' : 'old'}
    type={seen ? 'text' : 'password'}
    {autocomplete}
    required
    minlength={isNew ? 12 : 1}
    maxlength="200"
  />
  <button type="button" class="btn btn-sm" aria-pressed={seen} onclick={() => (seen = !seen)}>{seen ? 'Hide' : 'Show'}</button>
</span>
{#if isNew}<span class="dim">At least 12 characters. A few words that do not belong together are easy to remember.</span>{/if}

<style>
  span {
    display: flex;
    gap: 6px;
  }
  input {
    flex: 1;
  }
  .btn {
    background: var(--color-base-100);
    border-color: var(--color-base-content);
  }
</style>
