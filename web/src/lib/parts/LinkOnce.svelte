<script lang="ts">
  /** A link, or a token, that is shown this once: it is kept nowhere but with whoever copies it. */
  let { text, what = 'link' }: { text: string; what?: 'link' | 'token' } = $props();
  let copied = $state(false);

  let field: HTMLInputElement;

  /** A page that is not served by TLS or from loopback may not write to the clipboard: the text is marked, to be copied by hand. */
  async function copy() {
    field.select();
    copied = await (navigator.clipboard?.writeText(text) ?? Promise.reject(new Error('no clipboard'))).then(
      () => true,
      () => false
    );
  }
</script>

<div class="once" role="status">
  <p>Copy this {what} now: it is shown only once.</p>
  <span>
    <input
      bind:this={field}
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
