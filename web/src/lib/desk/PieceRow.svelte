<script lang="ts">
  import { renameExit } from '@crow-lane/core/document/edits/doors';
  import { changePiece, removePiece } from '@crow-lane/core/document/edits/parts';
  import { movePiece, placeEverywhere } from '@crow-lane/core/document/edits/ground';
  import { standingWords } from '@crow-lane/core/words/words';
  import type { Id, Level, Piece, PieceKind, Renewal } from '@crow-lane/core/document/types';
  import Popup from '$lib/parts/Popup.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import { canPatrol, countOf, pieceKindsInOrder, standingsOf, usedUp } from '@crow-lane/core/vocabulary/pieces';
  import Rounds from './Rounds.svelte';

  let { level, id, piece }: { level: Id; id: Id; piece: Piece } = $props();
  const { flow } = flowContext();
  const renewals: Record<Renewal, string> = {
    attempt: 'with each attempt',
    arrival: 'on every arrival, even from a save',
    run: 'with each run',
    never: 'never, until all is erased'
  };

  const place = $derived(flow.document.places[level] as Level);
  const spots = $derived(Object.entries(place.spots));
  /** On a plan it stands where it was drawn. */
  const drawn = $derived(place.plan !== undefined && piece.at !== undefined);
  /** Where it stands: the one spot, or in several, which the map says in full. */
  const several = '+';
  const standings = $derived(standingsOf(piece) ?? []);
  const at = $derived(
    standings.length === 0 ? '' : standings.length === 1 && standings[0]!.spots.length === 1 ? standings[0]!.spots[0]! : several
  );
  const where = $derived(standingWords(flow.document, level, piece));

  /** All of it stands at one spot, or everywhere. */
  function stand(spot: string) {
    if (spot === several) return;
    flow.edit(spot === '' ? placeEverywhere(flow.document, level, id) : movePiece(flow.document, level, id, spot));
  }

  function set(fields: Partial<Piece>) {
    flow.edit(changePiece(flow.document, level, id, fields));
  }

  /** A door keeps one name: the entry that stands where an exit does goes along. */
  function rename(name: string) {
    if (piece.kind === 'exit') flow.edit(renameExit(flow.document, level, id, name));
    else set({ name });
  }
</script>

<div class="row" data-piece={id}>
  <input
    class="name"
    aria-label="Name of {piece.name}"
    maxlength="80"
    {@attach typed(
      flow,
      () => piece.name,
      (text) => text.trim() && text.trim() !== piece.name && rename(text.trim())
    )}
  />
  {#if drawn}
    <span class="dim" title={where}>{countOf(piece)} drawn</span>
  {:else if usedUp(piece) || countOf(piece) > 1}
    <input
      class="count"
      type="number"
      min="1"
      max="10000"
      aria-label="How many: {piece.name}"
      value={countOf(piece)}
      onchange={(event) => {
        const count = Math.round(Number(event.currentTarget.value));
        if (count >= 1 && count <= 10000) set({ count });
        else event.currentTarget.value = String(countOf(piece));
      }}
    />
  {/if}
  <select
    class="kind"
    aria-label="Kind of {piece.name}"
    value={piece.kind}
    onchange={(event) => set({ kind: event.currentTarget.value as PieceKind, progress: undefined })}
  >
    {#each pieceKindsInOrder as kind (kind)}<option>{kind}</option>{/each}
  </select>
  {#if spots.length > 0 && !place.plan && piece.kind !== 'player'}
    <select
      class="at"
      aria-label="Where {piece.name} stands"
      title={where}
      value={at}
      onchange={(event) => stand(event.currentTarget.value)}
    >
      <option value="">everywhere</option>
      {#each spots as [spot, { name }] (spot)}<option value={spot}>at {name}</option>{/each}
      {#if at === several}<option value={several}>{where}</option>{/if}
    </select>
  {/if}
  <Popup label={piece.renew && usedUp(piece) ? renewals[piece.renew] : '⋯'} look="more" title="More about {piece.name}">
    {#snippet content()}
      {#if usedUp(piece)}
        <label class="row"
          >Comes back
          <select
            class="select select-xs"
            data-first
            value={piece.renew ?? 'attempt'}
            onchange={(event) =>
              set({ renew: event.currentTarget.value === 'attempt' ? undefined : (event.currentTarget.value as Renewal) })}
          >
            {#each Object.entries(renewals) as [renew, words] (renew)}<option value={renew}>{words}</option>{/each}
          </select></label
        >
      {/if}
      {#if piece.kind === 'checkpoint'}
        <label class="row"
          >Progress when saved here
          <input
            class="input input-xs"
            type="number"
            min="0"
            max="100"
            value={piece.progress ?? ''}
            onchange={(event) => {
              const text = event.currentTarget.value;
              const to = Math.round(Number(text));
              if (text === '' || (to >= 0 && to <= 100)) set({ progress: text === '' ? undefined : to });
            }}
          /></label
        >
      {/if}
      {#if spots.length > 1 && !place.plan && canPatrol(piece.kind) && standings.length < 2}<Rounds {level} {id} {piece} />{/if}
      <label class="row"
        >Notes
        <input
          class="input input-xs"
          maxlength="4000"
          {@attach typed(
            flow,
            () => piece.brief ?? '',
            (text) => set({ brief: text || undefined })
          )}
        /></label
      >
    {/snippet}
  </Popup>
  <button
    type="button"
    class="delete"
    aria-label="Delete {piece.name}"
    title="Delete {piece.name}"
    onclick={() => flow.edit(removePiece(flow.document, level, id))}>×</button
  >
</div>

<style>
  .row :global(.more) {
    color: var(--dim);
    padding: 0 3px;
    cursor: pointer;
    max-width: 90px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-size: 12px;
  }
  .row {
    display: flex;
    align-items: center;
    gap: 4px;
    border-bottom: 1px solid var(--color-base-300);
  }
  input,
  select {
    background: transparent;
    padding: 2px;
    min-width: 0;
  }
  .name {
    flex: 1;
  }
  .count {
    width: 52px;
    text-align: right;
    font-weight: 700;
  }
  .kind {
    width: 92px;
    color: var(--dim);
  }
  .at {
    width: 84px;
    color: var(--dim);
  }
  .at option,
  .kind option {
    color: var(--color-base-content);
    background: var(--color-base-100);
  }
  .delete {
    width: 20px;
    cursor: pointer;
    color: var(--dim);
  }
  .delete:hover {
    color: var(--lost);
  }
</style>
