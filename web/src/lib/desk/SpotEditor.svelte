<script lang="ts">
  import { changeSpot, movePiece, removeSpot, setStanding, standsAt } from '@crow-lane/core/document/edits/ground';
  import type { Id, Level } from '@crow-lane/core/document/types';
  import { typed } from '$lib/parts/typed.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';

  /** A spot of a level: its name, what stands there, and passages from it. */
  let { id, level, here, onconnect }: { id: Id; level: Level; here: Id; onconnect: (from: Id, to: Id) => void } = $props();
  const { flow } = flowContext();
  const spot = $derived(level.spots[here]!);
  const others = $derived(Object.entries(level.spots).filter(([each]) => each !== here));
  const pieces = $derived(Object.entries(level.pieces).filter(([, { kind }]) => kind !== 'player'));

  function put(piece: Id, from: Id | undefined, to: Id) {
    flow.edit(movePiece(flow.document, id, piece, to, from));
  }
  const count = (text: string) => Math.round(Number(text));
</script>

<section class="editor" aria-label="The spot {spot.name}">
  <p class="line">
    <input
      class="grow"
      aria-label="Name of the spot"
      maxlength="80"
      {@attach typed(
        flow,
        () => spot.name,
        (text) => text.trim() && flow.edit(changeSpot(flow.document, id, here, { name: text.trim() }))
      )}
    />
    <button type="button" class="btn btn-xs" onclick={() => flow.edit(removeSpot(flow.document, id, here))}>Delete spot</button>
  </p>
  {#each pieces.filter(([, piece]) => standsAt(piece, here) > 0) as [piece, value] (piece)}
    <p class="line" data-standing={piece}>
      <span class="grow">{value.name}</span>
      <input
        class="number"
        type="number"
        min="0"
        max="10000"
        aria-label="How many {value.name} at {spot.name}"
        value={standsAt(value, here)}
        onchange={(event) => {
          const n = count(event.currentTarget.value);
          if (n >= 0 && n <= 10_000) flow.edit(setStanding(flow.document, id, piece, here, n));
          else event.currentTarget.value = String(standsAt(value, here));
        }}
      />
      <select
        class="select select-xs"
        aria-label="Move {value.name} to"
        value=""
        onchange={(event) => put(piece, here, event.currentTarget.value)}
      >
        <option value="">move to…</option>
        {#each others as [other, { name }] (other)}<option value={other}>{name}</option>{/each}
      </select>
    </p>
  {/each}
  <p class="line">
    <select
      class="select select-xs"
      aria-label="Put a piece at {spot.name}"
      value=""
      onchange={(event) => {
        const piece = event.currentTarget.value;
        if (level.pieces[piece]!.at === undefined) put(piece, undefined, here);
        else flow.edit(setStanding(flow.document, id, piece, here, 1));
      }}
    >
      <option value="">+ piece here</option>
      {#each pieces.filter(([, piece]) => standsAt(piece, here) === 0) as [piece, { name }] (piece)}<option value={piece}
          >{name}</option
        >{/each}
    </select>
    <select
      class="select select-xs"
      aria-label="Add a passage from {spot.name} to"
      value=""
      onchange={(event) => onconnect(here, event.currentTarget.value)}
    >
      <option value="">+ passage to…</option>
      {#each others as [other, { name }] (other)}<option value={other}>{name}</option>{/each}
    </select>
  </p>
</section>

<style>
  .number {
    width: 56px;
    text-align: right;
    font-weight: 700;
    background: transparent;
  }
</style>
