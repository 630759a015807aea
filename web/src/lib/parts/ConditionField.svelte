<script lang="ts">
  import { tick, untrack } from 'svelte';
  import { groundAtHand, piecesAtHand, textError } from '@crow-lane/core/play/scope';
  import { levelsOf, ruleLists, type Id, type Owner } from '@crow-lane/core/document/types';
  import type { Had } from '@crow-lane/core/language/ast';
  import { slotsOf } from '@crow-lane/core/play/slots';
  import { valueNamed } from '@crow-lane/core/document/values';
  import { ConditionNames } from '@crow-lane/core/words/named';
  import { conditionWords, haveWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import { usedUp } from '@crow-lane/core/vocabulary/pieces';

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
  /** Whether a rule saves, and whether there are slots to be picked. */
  const saves = $derived(
    [...ruleLists(flow.document)].some(({ rules }) => rules.some((rule) => rule.do?.some((each) => 'save' in each)))
  );
  /** What there can be in this flow. */
  const had = $derived<Had[]>([
    ...(Object.keys(flow.document.orders).length > 0 ? (['next', 'previous'] as const) : []),
    ...(saves ? (['save'] as const) : []),
    ...(slotsOf(flow.document) > 1 ? (['slot'] as const) : [])
  ]);
  const id = $props.id();
  const called = $derived(new ConditionNames(flow.document, owner));
  // the field is typed in freely and only what it holds in the end goes to the document
  let text = $state(untrack(() => new ConditionNames(flow.document, owner).shown(value).text));
  let field: HTMLTextAreaElement;
  /** What is kept of it: ids in place of names. */
  const read = $derived(called.kept(text));
  const kept = $derived(read.text);
  const error = $derived.by(() => {
    if (text.trim() === '') return undefined;
    const found = textError(flow.document, owner, kept, use, choosing);
    return found && { message: found.message, column: read.before(found.column - 1) + 1 };
  });
  const names = $derived([
    ...Object.entries(flow.document.variables).map(([variable, { name }]) => ({
      insert: called.nameOf('value', variable),
      name,
      words: variable
    })),
    ...Object.entries(flow.document.numbers)
      .filter(([, { value: worth }]) => Number.isInteger(worth))
      .map(([number, { name, value: worth }]) => ({
        insert: called.nameOf('value', number),
        name: `${name} (${worth})`,
        words: number
      })),
    ...piecesAtHand(flow.document, owner)
      .filter(([, piece]) => usedUp(piece))
      .flatMap(([piece, { name }]) => [
        { insert: `all(${called.nameOf('piece', piece)})`, name: `all of ${name}`, words: piece },
        { insert: `left(${called.nameOf('piece', piece)})`, name: `${name} left`, words: piece },
        { insert: `taken(${called.nameOf('piece', piece)})`, name: `${name} taken`, words: piece }
      ]),
    ...[...Object.entries(flow.document.groups), ...Object.entries(flow.document.orders)].map(([list, { name }]) => ({
      insert: `all(${called.nameOf('list', list)})`,
      name: `all of ${name} is won`,
      words: list
    })),
    ...(['won', 'lost'] as const).map((each) => ({ insert: `last(${each})`, name: `the last attempt was ${each}`, words: '' })),
    ...had.map((each) => ({ insert: `has(${each})`, name: haveWords[each], words: '' })),
    ...groundAtHand(flow.document, owner).spots.map(([spot, { name }]) => ({
      insert: `at(${called.nameOf('spot', spot)})`,
      name: `the player is at ${name}`,
      words: spot
    })),
    ...(saves ? [{ insert: 'saved(progress)', name: 'the saved progress', words: '' }] : []),
    ...(choosing
      ? [
          { insert: 'won(previous)', name: 'the one before is won', words: '' },
          { insert: 'won(it)', name: 'it is won', words: '' }
        ]
      : [])
  ]);

  /** The word being typed, and what it may be going to be: found by the id or by the name. */
  let caret = $state(0);
  let at = $state(-1);
  const word = $derived(/[a-z][a-z0-9_]*$/i.exec(text.slice(0, caret))?.[0] ?? '');
  const likely = $derived.by(() => {
    const typed = word.toLowerCase();
    const before = text.slice(0, caret - word.length);
    const choices = choicesBefore(before) ?? namesWithin(before);
    if (choices)
      return choices.filter(({ insert, name }) => [insert, name].some((each) => each.toLowerCase().includes(typed))).slice(0, 6);
    const words = ['and', 'or', 'not', 'true', 'false'];
    if (typed === '' || words.includes(typed) || names.some(({ insert }) => insert.toLowerCase() === typed)) return [];
    const has = (each: string) => each.toLowerCase().includes(typed);
    return names.filter(({ insert, name, words: id }) => has(insert) || has(name) || has(id)).slice(0, 6);
  });

  /** Inside the brackets of a word of the language, the names that belong there. */
  function namesWithin(before: string) {
    const [, what, step] = /\b(left|taken|won|wins|all|count|last|has|at)\(\s*([a-z]+\s*,\s*)?$/.exec(before) ?? [];
    const { groups, orders } = flow.document;
    const named = (kind: 'piece' | 'spot' | 'level' | 'list' | 'order', things: [Id, { name: string }][]) =>
      things.map(([thing, { name }]) => ({ insert: called.nameOf(kind, thing), name, words: thing }));
    if (what === undefined) return undefined;
    if (what === 'has')
      return step === undefined
        ? had.map((each) => ({ insert: each, name: haveWords[each], words: each }))
        : named('order', Object.entries(orders));
    if (what === 'last')
      return ['won', 'lost'].map((each) => ({ insert: each, name: `the last attempt was ${each}`, words: each }));
    if (what === 'at') return named('spot', groundAtHand(flow.document, owner).spots);
    if (what === 'won') return named('level', levelsOf(flow.document));
    const used = piecesAtHand(flow.document, owner).filter(([, piece]) => usedUp(piece));
    const lists = named('list', [...Object.entries(groups), ...Object.entries(orders)]);
    if (what === 'wins') return lists;
    return what === 'all' || what === 'count' ? [...named('piece', used), ...lists] : named('piece', used);
  }

  /** Of a choice that is compared just before the caret, its values. */
  function choicesBefore(before: string) {
    const [, compared] = /([^=<>!()]+?)\s*!?=\s*'?$/.exec(called.kept(before).text) ?? [];
    const [variable] = compared === undefined ? [] : (/[a-z][a-z0-9_]*$/.exec(compared) ?? []);
    const found = variable === undefined ? undefined : flow.document.variables[variable];
    if (found?.type !== 'choice') return undefined;
    const quote = before.endsWith("'") ? '' : "'";
    return found.choices.map((choice) => ({ insert: `${quote}${choice}'`, name: valueNamed(found, choice), words: choice }));
  }

  /** Puts one in for the word that was begun. */
  async function complete(what: string) {
    const begin = caret - word.length;
    text = `${text.slice(0, begin)}${what}${text.slice(caret)}`;
    at = -1;
    await tick();
    field.focus();
    field.setSelectionRange(begin + what.length, begin + what.length);
    caret = begin + what.length;
  }

  function insert(what: string) {
    const { selectionStart: from, selectionEnd: to } = field;
    const space = from > 0 && !/[\s(]$/.test(text.slice(0, from)) ? ' ' : '';
    text = `${text.slice(0, from)}${space}${what}${text.slice(to)}`;
    field.focus();
  }

  function keep() {
    if (!error) onkeep(kept.trim());
  }

  function key(event: KeyboardEvent) {
    if (likely.length > 0 && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
      event.preventDefault();
      // one step beyond either end is the text itself
      const steps = likely.length + 1;
      at = ((at + 1 + (event.key === 'ArrowDown' ? 1 : steps - 1)) % steps) - 1;
    } else if (event.key === 'Enter') {
      event.preventDefault();
      const chosen = likely[at];
      if (chosen) void complete(chosen.insert);
      else keep();
    }
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
    role="combobox"
    aria-autocomplete="list"
    aria-expanded={likely.length > 0}
    aria-controls="{id}-likely"
    aria-activedescendant={at >= 0 ? `${id}-likely-${at}` : undefined}
    oninput={() => {
      caret = field.selectionStart;
      at = -1;
    }}
    onclick={() => (caret = field.selectionStart)}
    onkeyup={() => (caret = field.selectionStart)}
    onkeydown={key}></textarea>
  <ul id="{id}-likely" role="listbox" aria-label="What it may be" class:hidden={likely.length === 0}>
    {#each likely as { insert: what, name }, index (what)}
      <li
        id="{id}-likely-{index}"
        role="option"
        aria-selected={index === at}
        class:at={index === at}
        onclick={() => complete(what)}
        onkeydown={key}
      >
        <code>{what}</code>{#if what !== name}{' '}<span class="dim">{name}</span>{/if}
      </li>
    {/each}
  </ul>
  <p id="{id}-says" class:lost={error} class:dim={!error}>
    {#if error}
      {#if text.length <= 40}<span class="caret" aria-hidden="true">{' '.repeat(error.column - 1)}^</span>{/if}
      Column {error.column}: {error.message}
    {:else if text.trim()}
      {conditionWords(flow.document, owner, kept)}
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
  li {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    padding: 1px 6px;
    cursor: pointer;
  }
  li.at,
  li:hover {
    background: var(--pick-wash);
  }
  .names {
    display: flex;
    flex-wrap: wrap;
    gap: 3px;
    max-height: 92px;
    overflow: auto;
  }
</style>
