<script lang="ts">
  import { onMount, type Snippet } from 'svelte';
  import { returnFocus } from './focus.ts';

  /** A question that stops the rest: Escape and the close button answer no. */
  let {
    title,
    wide = false,
    onclose,
    children
  }: { title: string; wide?: boolean; onclose: () => void; children: Snippet } = $props();
  let dialog: HTMLDialogElement;
  let answered = false;

  /**
   * Once, and as the key is pressed: `close` comes a moment later, when the next key may already have asked the next question,
   * which it would take away.
   */
  function no() {
    if (answered) return;
    answered = true;
    onclose();
  }
  onMount(() => {
    const before = document.activeElement;
    dialog.showModal();
    const first = dialog.querySelector<HTMLElement>('[data-first]');
    first?.focus();
    // what stands there already is a proposal: typing replaces it
    if (first instanceof HTMLInputElement) first.select();
    // what takes the dialog away may have made or selected something, which then has the focus
    return () => {
      answered = true;
      setTimeout(() => returnFocus(before));
    };
  });
</script>

<dialog
  bind:this={dialog}
  class:wide
  aria-label={title}
  oncancel={(event) => {
    // a list or a file's choice inside the dialog has a no of its own
    if (event.target !== dialog) return;
    event.preventDefault();
    no();
  }}
  onclose={no}
  onclick={(event) => event.target === dialog && no()}
>
  <div class="inner">
    <h2>{title}</h2>
    {@render children()}
  </div>
</dialog>

<style>
  dialog {
    margin: 6vh auto auto;
    width: min(480px, 92vw);
    max-height: 88vh;
    border: 1px solid var(--color-base-content);
    background: var(--color-base-100);
    color: var(--color-base-content);
    box-shadow: 6px 6px 0 #0002;
  }
  .wide {
    width: min(900px, 94vw);
  }
  dialog::backdrop {
    background: #0a0d1255;
  }
  .inner {
    padding: 16px 18px;
  }
  h2 {
    font-size: 16px;
    margin-bottom: 10px;
  }
  /* what is asked stands in lines: its name, and where it is answered; `form.asked` */
  :global(:where(dialog form.asked label)) {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 12px;
    margin-bottom: 8px;
  }
  :global(:where(dialog form.asked label > :is(input:not([type='checkbox'], [type='radio']), select))) {
    width: 280px;
  }
  :global(:where(dialog form.asked label.check)) {
    justify-content: flex-start;
    gap: 8px;
  }
  :global(:where(dialog .acts)) {
    display: flex;
    gap: 6px;
    margin-top: 14px;
  }
</style>
