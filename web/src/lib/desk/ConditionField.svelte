<script lang="ts">
  import { piecesAtHand, textError } from '@crow-lane/core/play/fit';
  import { usedUp, type Id, type Owner } from '@crow-lane/core/document/types';
  import { conditionWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';

  /** A condition or an expression being typed: its error under the place it is at, else what it says in words. */
  let {
    owner,
    value,
    use,
    choosing = false,
    label,
    onkeep
  }: {
    owner: Owner;
    value: string;
    use: 'holds' | 'if' | { assign: Id };
    choosing?: boolean;
    label: string;
    /** Called with a text that has no error; with an empty text when it was cleared. */
    onkeep: (text: string) => void;
  } = $props();

  const { flow } = flowContext();
  const id = $props.id();
  // the field is typed in freely and only what it holds in the end goes to the document
  // svelte-ignore state_referenced_locally
  let text = $state(value);
  let field: HTMLTextAreaElement;
  const error = $derived(text.trim() === '' ? undefined : textError(flow.document, owner, text, use, choosing));
  const names = $derived([
    ...Object.entries(flow.document.variables).map(([variable, { name }]) => ({ insert: variable, name })),
    ...piecesAtHand(flow.document, owner)
      .filter(([, piece]) => usedUp(piece))
      .flatMap(([piece, { name }]) => [
        { insert: `left(${piece})`, name: `${name} left` },
        { insert: `taken(${piece})`, name: `${name} taken` }
      ]),
    ...(choosing
      ? [
          { insert: 'won(previous)', name: 'the one before is won' },
          { insert: 'won(it)', name: 'it is won' }
        ]
      : [])
  ]);

  function insert(what: string) {
    const { selectionStart: from, selectionEnd: to } = field;
    const space = from > 0 && !/[\s(]$/.test(text.slice(0, from)) ? ' ' : '';
    text = `${text.slice(0, from)}${space}${what}${text.slice(to)}`;
    field.focus();
  }

  function keep() {
    if (!error) onkeep(text.trim());
  }

  function key(event: KeyboardEvent) {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    keep();
  }
</script>

<div class="field">
  <textarea
    data-first
    bind:this={field}
    bind:value={text}
    class="textarea textarea-sm"
    rows="2"
    maxlength="4000"
    spellcheck="false"
    aria-label={label}
    aria-invalid={error !== undefined}
    aria-describedby="{id}-says"
    onkeydown={key}></textarea>
  <p id="{id}-says" class:lost={error} class:dim={!error}>
    {#if error}
      {#if text.length <= 40}<span class="caret" aria-hidden="true">{' '.repeat(error.column - 1)}^</span>{/if}
      Column {error.column}: {error.message}
    {:else if text.trim()}
      {conditionWords(flow.document, owner, text)}
    {:else}
      Name values and pieces, compare with =, &lt;, &gt;, join with and, or, not.
    {/if}
  </p>
  <div class="names">
    {#each names as { insert: what, name } (what)}
      <button type="button" class="btn btn-xs" title={name} onclick={() => insert(what)}>{what}</button>
    {/each}
  </div>
  <button type="button" class="btn btn-sm btn-primary" disabled={error !== undefined} onclick={keep}>Keep</button>
</div>

<style>
  .field {
    width: 320px;
    display: flex;
    flex-direction: column;
    gap: 6px;
  }
  textarea {
    width: 100%;
    font-family: 'DejaVu Sans Mono', ui-monospace, monospace;
    font-size: 12px;
    padding: 4px 6px;
  }
  .caret {
    display: block;
    white-space: pre;
    font-family: 'DejaVu Sans Mono', ui-monospace, monospace;
    font-size: 12px;
    line-height: 1;
    padding-left: 7px;
  }
  .names {
    display: flex;
    flex-wrap: wrap;
    gap: 3px;
    max-height: 92px;
    overflow: auto;
  }
</style>
