<script lang="ts">
  /** A link, or a token, that is shown this once: it is kept nowhere but with whoever copies it. */
  let { text, what = 'link' }: { text: string; what?: 'link' | 'token' } = $props();
  let copied = $state(false);

  async function copy() {
    await navigator.clipboard.writeText(text).then(
      () => (copied = true),
      () => {}
    );
  }
</script>

<div class="once" role="status">
  <p>Copy this {what} now: it is shown only once.</p>
  <span>
    <input
      class="input input-sm"
      readonly
      value={text}
      aria-label="The {what}"
      onfocus={(event) => event.currentTarget.select()}
    />
    <button type="button" class="btn btn-sm" onclick={copy}>{copied ? 'Copied' : 'Copy'}</button>
  </span>
</div>

<style>
  .once {
    padding: 8px 12px;
    margin: 8px 0;
    background: var(--pick-wash);
    border-left: 4px solid var(--color-accent);
  }
  span {
    display: flex;
    gap: 6px;
    margin-top: 4px;
  }
  input {
    flex: 1;
    font-family: monospace;
  }
</style>
