<script lang="ts">
  import { heapsOf } from '@crow-lane/core/document/ground';
  import type { Id, Level } from '@crow-lane/core/document/types';
  import { roomThatWay } from '@crow-lane/core/lane/ground-picture';
  import { leftMap } from '@crow-lane/core/play/turn';
  import GroundMap from '$lib/parts/GroundMap.svelte';
  import { playContext } from '$lib/flow/play-context.ts';
  import Passages, { walksIn } from './Passages.svelte';

  /** The level's inside with the player in it: a passage is taken on the map, by its button or with an arrow key. */
  let { id, level }: { id: Id; level: Level } = $props();
  const { session, pictureOf } = playContext();
  const trial = $derived(session.trial!);
  const state = $derived(session.seen!);
  const walks = $derived(walksIn(session));
  const open = $derived(new Set(walks.map(({ passage }) => passage)));

  function leftAt(piece: Id, spot: Id): number {
    const map = leftMap(trial.flow, state, piece);
    const heaps = heapsOf(piece, level.pieces[piece]!).filter(({ spots }) => spots?.includes(spot));
    return heaps.reduce((sum, { key, n }) => sum + (map ? map[key]! : n), 0);
  }

  /** Walks to a neighbour, or takes a passage. */
  function choose(what: { spot: Id } | { passage: Id }) {
    const found = walks.find(({ to, passage }) => ('spot' in what ? to === what.spot : passage === what.passage));
    if (found) session.do(found.choice.event);
  }

  /** To the spot that lies most nearly the way of an arrow key. */
  function key(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if ((event.target as HTMLElement).closest('input, select, textarea')) return;
    const next = roomThatWay(pictureOf(id), state.spot!, event.key, new Set(walks.map(({ to }) => to)));
    if (next === undefined) return;
    event.preventDefault();
    choose({ spot: next });
  }
</script>

<svelte:window onkeydown={key} />
<div class="ground">
  <GroundMap {id} here={state.spot ?? undefined} {open} left={leftAt} onchoose={choose} />
  <Passages {id} {level} {walks} />
</div>

<style>
  .ground {
    margin: 6px 0;
  }
</style>
