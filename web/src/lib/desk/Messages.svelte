<script lang="ts">
  import { setMessage } from '@crow-lane/core/document/edits/places';
  import { casesOf, withPlaceholders } from '@crow-lane/core/document/messages';
  import { levelsOf, type Id, type MessageCase, type Place } from '@crow-lane/core/document/types';
  import { piecesAtHand } from '@crow-lane/core/play/scope';
  import type { ShownCase } from '@crow-lane/core/trial/messages';
  import { usedUp } from '@crow-lane/core/vocabulary/pieces';
  import { conditionWords } from '@crow-lane/core/words/words';
  import { ConditionNames } from '@crow-lane/core/words/named';
  import { tick } from 'svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';

  /** What a place shows: one text, or several of which the first that fits is shown; and what players then read. */
  let { id, place }: { id: Id; place: Place } = $props();
  const { flow, runs } = flowContext();
  const owner = $derived({ place: id });
  const cases = $derived(casesOf(place.message));
  const names = $derived(new ConditionNames(flow.document, owner));
  const shown = (text: string) => withPlaceholders(text, (content) => `{${names.shown(content).text}}`);
  const kept = (text: string) => withPlaceholders(text, (content) => `{${names.kept(content).text}}`);

  const set = (next: MessageCase[]) => flow.edit(setMessage(flow.document, id, next));
  const change = (index: number, parts: Partial<MessageCase>) => set(cases.with(index, { ...cases[index]!, ...parts }));

  /** A text for a case stands before the one that always fits. */
  async function add(condition: string) {
    const last = cases.at(-1);
    const at = last && last.if === undefined ? cases.length - 1 : cases.length;
    set(cases.toSpliced(at, 0, { if: condition, text: '' }));
    await tick();
    list.querySelectorAll('textarea')[at]?.focus();
  }

  let list: HTMLDivElement;
  /** The text with the focus, and what is typed of a placeholder before the caret. */
  let writing: HTMLTextAreaElement | undefined = $state.raw();
  let begun = $state('');
  const fitting = $derived.by(() => {
    const { document } = flow;
    const pieces = piecesAtHand(document, owner).filter(([, piece]) => usedUp(piece));
    const all = [
      ...Object.keys(document.variables).map((each) => names.nameOf('value', each)),
      ...pieces.flatMap(([piece]) => ['left', 'taken', 'count'].map((word) => `${word}(${names.nameOf('piece', piece)})`)),
      ...(levelsOf(document).length > 0 ? ['name(level)', 'number(level)'] : []),
      ...Object.keys(document.orders).flatMap((order) =>
        ['wins', 'count'].map((word) => `${word}(${names.nameOf('list', order)})`)
      )
    ];
    return all.filter((each) => each.toLowerCase().includes(begun.toLowerCase())).slice(0, 8);
  });

  function look(field: HTMLTextAreaElement) {
    writing = field;
    begun = /\{([^{}]*)$/.exec(field.value.slice(0, field.selectionStart))?.[1] ?? '';
  }

  function insert(what: string) {
    if (!writing) return;
    const { selectionStart: caret, value } = writing;
    const before = value.slice(0, caret).replace(/\{[^{}]*$/, '');
    writing.setRangeText(`{${what}}`, before.length, caret, 'end');
    writing.dispatchEvent(new Event('input', { bubbles: true }));
    writing.focus();
  }

  /** What players read, of the document that was asked about. */
  let preview: { of: object; shown: ShownCase[] } | undefined = $state.raw();
  let asking = $state(false);
  async function askPreview() {
    const { document } = flow;
    asking = true;
    const found = await runs.messages(document, id);
    asking = false;
    preview = found && { of: document, shown: found };
  }
</script>

<div class="texts" bind:this={list}>
  <span class="label">Text shown</span>
  {#each cases.length > 0 ? cases : [{ text: '' } as MessageCase] as { if: condition, text }, index (index)}
    {#if cases.length > 1 || condition !== undefined}
      <p class="case">
        <Popup
          label={condition === undefined ? 'otherwise' : `if ${conditionWords(flow.document, owner, condition)}`}
          title="When this text is shown"
        >
          {#snippet content(close)}
            <ConditionField
              {owner}
              use="holds"
              label="Shown if"
              value={condition ?? ''}
              onkeep={(to) => {
                close();
                change(index, { if: to || undefined });
              }}
            />
          {/snippet}
        </Popup>
        <button
          type="button"
          class="delete"
          aria-label="Delete this text"
          title="Delete this text"
          onclick={() => set(cases.toSpliced(index, 1))}>×</button
        >
      </p>
    {/if}
    <textarea
      class="textarea textarea-sm"
      rows="2"
      maxlength="4000"
      aria-label={cases.length > 1 ? `Text shown, ${index + 1}` : 'Text shown'}
      placeholder={'{Lives} shows a value'}
      onfocus={({ currentTarget }) => look(currentTarget)}
      oninput={({ currentTarget }) => look(currentTarget)}
      onclick={({ currentTarget }) => look(currentTarget)}
      {@attach typed(
        flow,
        () => shown(text),
        (to) => (cases.length > 0 ? change(index, { text: kept(to) }) : set([{ text: kept(to) }]))
      )}></textarea>
  {/each}
  {#if writing && fitting.length > 0}
    <p class="fitting">
      {#each fitting as each (each)}
        <button type="button" class="btn btn-xs" onmousedown={(event) => event.preventDefault()} onclick={() => insert(each)}
          >{`{${each}}`}</button
        >
      {/each}
    </p>
  {/if}
  <p class="more">
    <Popup label="+ text for a case" look="link" title="Another text, shown only if …">
      {#snippet content(close)}
        <ConditionField
          {owner}
          use="holds"
          label="Shown if"
          value=""
          onkeep={(condition) => {
            close();
            if (condition) void add(condition);
          }}
        />
      {/snippet}
    </Popup>
    {#if cases.some(({ text }) => text !== '')}
      <button type="button" class="link" onclick={askPreview} disabled={asking}>{asking ? 'playing…' : 'preview'}</button>
    {/if}
  </p>
  {#if preview?.of === flow.document}
    <ul aria-label="What players read on arrival">
      {#each preview.shown as { text, complete }, index (index)}
        <li class:dim={text === undefined}>
          {text === undefined ? (complete ? 'never shown on arrival' : 'not found on arrival so far') : text}
        </li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  textarea {
    display: block;
    width: 100%;
    min-height: 0;
  }
  .case,
  .more,
  .fitting {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 4px 8px;
    font-size: 12px;
  }
  .fitting {
    justify-content: flex-start;
    padding: 3px 0;
  }
  .case {
    flex-wrap: nowrap;
    align-items: flex-start;
  }
  .delete {
    flex: 0 0 20px;
    cursor: pointer;
    color: var(--dim);
  }
  ul {
    margin: 3px 0 6px;
  }
  li {
    padding: 2px 8px;
    margin-bottom: 2px;
    border-left: 3px solid var(--color-base-content);
    white-space: pre-line;
  }
</style>
