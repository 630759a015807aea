<script lang="ts">
  import { likelyRule } from '@crow-lane/core/document/edits/rules';
  import { levelsOf, type Id, type Target } from '@crow-lane/core/document/types';
  import { stroke, strokeWords, type Stroke } from '@crow-lane/core/sheet/strokes';
  import { targetWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Dialog from '$lib/parts/Dialog.svelte';

  /** How many levels are won, or lost, and where that leads: one sentence, made as a rule of each. */
  let { result, levels, title, onclose }: { result: 'won' | 'lost'; levels: Id[]; title: string; onclose: () => void } = $props();
  const { flow } = flowContext();
  // svelte-ignore state_referenced_locally
  let by: Stroke['by'] = $state(strokeWords[result][0]!.by);
  let piece = $state('');
  let amount = $state(3);
  let label = $state('');
  let instead = $state(true);
  const words = $derived(strokeWords[result].find((each) => each.by === by)!);
  /** Pieces of this kind that some level has: a name is picked or made. */
  const names = $derived([
    ...new Set(
      levelsOf(flow.document).flatMap(([, { pieces }]) =>
        Object.values(pieces).flatMap(({ kind, name }) => (kind === words.kind ? [name] : []))
      )
    )
  ]);
  /** The usual way on first, then everything else that can follow. */
  const targets = $derived.by(() => {
    // two places may have one name
    const found = new Map<string, [words: string, target: Target]>();
    const add = (target: Target) => found.set(JSON.stringify(target), [targetWords(flow.document, target), target]);
    const first = levels[0];
    if (first !== undefined) add(likelyRule(flow.document, first, result).go!);
    if (result === 'won') add({ move: 'next' });
    else add({ move: 'again' });
    for (const [id, { kind }] of Object.entries(flow.document.places)) if (kind !== 'level') add({ place: id });
    return [...found.values()];
  });
  let to = $state(0);

  const how = $derived.by((): Stroke | undefined => {
    if (words.kind !== undefined) {
      const name = piece.trim();
      if (!name) return undefined;
      return by === 'some' ? { by, piece: name, count: amount } : ({ by, piece: name } as Stroke);
    }
    if (by === 'within') return amount > 0 ? { by, seconds: amount } : undefined;
    return label.trim() ? { by: 'press', label: label.trim() } : undefined;
  });

  function make(event: SubmitEvent) {
    event.preventDefault();
    if (!how) return;
    flow.edit(stroke(flow.document, levels, result, how, targets[to]![1], instead));
    onclose();
  }
</script>

<Dialog {title} {onclose}>
  <form class="asked" onsubmit={make}>
    <p class="says">
      <select class="select select-sm" aria-label="How" data-first bind:value={by}>
        {#each strokeWords[result] as each (each.by)}<option value={each.by}>{each.words}</option>{/each}
      </select>
      {#if by === 'some' || by === 'within'}
        <input
          class="input input-sm amount"
          type="number"
          min={by === 'some' ? 1 : 0.1}
          max={by === 'some' ? 10_000 : 86_400}
          step={by === 'some' ? 1 : 0.1}
          required
          aria-label={by === 'some' ? 'How many' : 'Seconds'}
          bind:value={amount}
        />
        {by === 'within' ? 's' : ''}
      {/if}
      {#if words.kind !== undefined}
        <input
          class="input input-sm"
          list="stroke-pieces"
          aria-label="Piece"
          placeholder={words.kind}
          maxlength="80"
          required
          bind:value={piece}
        />
        <datalist id="stroke-pieces"
          >{#each names as name (name)}<option value={name}></option>{/each}</datalist
        >
      {:else if by === 'press'}
        <input class="input input-sm" aria-label="Button" maxlength="80" required bind:value={label} />
      {/if}
    </p>
    <p class="says">
      and then to
      <select class="select select-sm" aria-label="Then to" bind:value={to}>
        {#each targets as [name], index (index)}<option value={index}>{name}</option>{/each}
      </select>
    </p>
    <label class="check">
      <input type="checkbox" class="checkbox checkbox-xs" bind:checked={instead} /> instead of how {levels.length === 1
        ? 'it is'
        : 'they are'}
      {result} now by {levels.length === 1 ? 'its' : 'their'} own rules
    </label>
    <p class="dim">
      A level that has no such piece gets it. What is made are ordinary rules, to be said more exactly on the desk.
    </p>
    <p class="acts">
      <button class="btn btn-sm btn-primary" disabled={!how}>Apply</button>
      <button type="button" class="btn btn-sm" onclick={onclose}>Cancel</button>
    </p>
  </form>
</Dialog>

<style>
  .says {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 8px;
  }
  .amount {
    width: 80px;
  }
</style>
