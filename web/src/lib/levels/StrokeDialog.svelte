<script lang="ts">
  import { endingOf, likelyRule } from '@crow-lane/core/document/edits/rules';
  import { levelsOf, type Id, type PieceKind, type Target } from '@crow-lane/core/document/types';
  import { idNamed } from '@crow-lane/core/document/ids';
  import { stroke, strokeWords, type Stroke } from '@crow-lane/core/sheet/strokes';
  import { placeName, targetWords } from '@crow-lane/core/words/words';
  import { moves } from '@crow-lane/core/vocabulary/moves';
  import { flowContext } from '$lib/flow/context.ts';
  import Dialog from '$lib/parts/Dialog.svelte';

  /** How levels are won, or lost, and where that leads: one sentence, made as a rule of each. */
  let { result, levels: chosen, onclose }: { result: 'won' | 'lost'; levels: Id[]; onclose: () => void } = $props();
  const { flow } = flowContext();
  const every = $derived(levelsOf(flow.document));
  let all = $state(false);
  const levels = $derived(all ? every.map(([id]) => id) : chosen);
  const count = (n: number) => `${n} ${n === 1 ? 'level' : 'levels'}`;
  const named = $derived.by(() => {
    const names = levels.slice(0, 4).map((id) => placeName(flow.document, id));
    return levels.length > 4 ? `${names.join(', ')} and ${levels.length - 4} more` : names.join(', ');
  });

  // svelte-ignore state_referenced_locally
  let by: Stroke['by'] = $state(strokeWords[result][0]!.by);
  let piece = $state('');
  let amount = $state(3);
  let label = $state('');
  let instead = $state(true);
  const words = $derived(strokeWords[result].find((each) => each.by === by)!);
  const numbers = $derived(Object.entries(flow.document.variables).filter(([, { type }]) => type === 'number'));
  let variable = $state('');
  const read = $derived(variable || numbers[0]?.[0]);

  /** Pieces of this kind that some level has: a name is picked or made. */
  const names = $derived([
    ...new Set(
      every.flatMap(([, { pieces }]) =>
        Object.values(pieces)
          .filter(isOfKind)
          .map(({ name }) => name)
      )
    )
  ]);
  const isOfKind = ({ kind }: { kind: PieceKind }) => kind === words.kind;
  /** What a name that is only begun can mean is meant: half a name makes no piece. */
  const meant = $derived.by(() => {
    const typed = piece.trim();
    const begun = names.filter((name) => name.toLowerCase().startsWith(typed.toLowerCase()));
    const whole = begun.find((name) => name.length === typed.length);
    return whole ?? (typed !== '' && begun.length === 1 ? begun[0]! : typed);
  });
  const having = $derived(every.filter(([id, { pieces }]) => levels.includes(id) && idNamed(pieces, meant) !== undefined).length);

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
  const target = $derived(targets[to]?.[1] ?? targets[0]![1]);
  /** Where a move along an order leads from its last level: asked once for all. */
  const asksElse = $derived('move' in target && moves[target.move].along && !target.else);
  const screens = $derived(Object.entries(flow.document.places).filter(([, { kind }]) => kind !== 'level'));
  let last: Id | undefined = $state();
  const otherwise = $derived(last ?? endingOf(flow.document, 'won') ?? '');
  const go = $derived<Target>(asksElse && otherwise ? ({ ...target, else: { place: otherwise } } as Target) : target);

  const how = $derived.by((): Stroke | undefined => {
    if (words.kind !== undefined) {
      if (!meant) return undefined;
      return by === 'some' ? { by, piece: meant, count: amount } : ({ by, piece: meant } as Stroke);
    }
    if (by === 'value')
      return read !== undefined && Number.isInteger(amount) ? { by, variable: read, number: amount } : undefined;
    if (by === 'within') return amount > 0 ? { by, seconds: amount } : undefined;
    return label.trim() ? { by: 'press', label: label.trim() } : undefined;
  });

  function make(event: SubmitEvent) {
    event.preventDefault();
    if (!how) return;
    flow.edit(stroke(flow.document, levels, result, how, go, instead));
    onclose();
  }
</script>

<Dialog title="{count(levels.length)} {result} by" {onclose}>
  <form class="asked" onsubmit={make}>
    <p class="dim where">{named}</p>
    {#if chosen.length < every.length}
      <label class="check"
        ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={all} /> all {count(every.length)}</label
      >
    {/if}
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
      {:else if by === 'value'}
        <select
          class="select select-sm"
          aria-label="Value"
          value={read}
          onchange={(event) => (variable = event.currentTarget.value)}
        >
          {#each numbers as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
        </select>
        <input class="input input-sm amount" type="number" step="1" required aria-label="Number" bind:value={amount} />
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
    {#if words.kind !== undefined && meant}
      <p class="dim where">
        {#if meant !== piece.trim()}<b>{meant}</b>:{/if}
        {having === levels.length
          ? 'every one of them has it.'
          : having === 0
            ? `none has ${meant}: each gets it.`
            : `${having} of ${levels.length} have it, the others get it.`}
      </p>
    {:else if by === 'value' && numbers.length === 0}
      <p class="dim where">There is no number yet: add a value first.</p>
    {/if}
    <p class="says">
      and then to
      <select class="select select-sm" aria-label="Then to" bind:value={to}>
        {#each targets as [name], index (index)}<option value={index}>{name}</option>{/each}
      </select>
    </p>
    {#if asksElse}
      <p class="says">
        or else, where there is none, to
        <select
          class="select select-sm"
          aria-label="Or else to"
          value={otherwise}
          onchange={(event) => (last = event.currentTarget.value)}
        >
          <option value="">nowhere</option>
          {#each screens as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
        </select>
      </p>
    {/if}
    <label class="check">
      <input type="checkbox" class="checkbox checkbox-xs" bind:checked={instead} /> instead of how {levels.length === 1
        ? 'it is'
        : 'they are'}
      {result} now by {levels.length === 1 ? 'its' : 'their'} own rules
    </label>
    <p class="dim">What is made are rules of each level, which the desk changes one by one.</p>
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
  .where {
    margin-bottom: 8px;
    font-size: 12px;
  }
  .amount {
    width: 80px;
  }
</style>
