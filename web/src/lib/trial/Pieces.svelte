<script lang="ts">
  import type { Event, Id, Level } from '@crow-lane/core/document/types';
  import { heapsOf } from '@crow-lane/core/document/ground';
  import { leftOf } from '@crow-lane/core/play/turn';
  import { manyLeft } from '@crow-lane/core/trial/words';
  import { leftFor } from '@crow-lane/core/trial/trial';
  import { countOf, usedUp } from '@crow-lane/core/vocabulary/pieces';
  import { deedOf } from '@crow-lane/core/vocabulary/triggers';
  import { capital } from '@crow-lane/core/words/words';
  import { playContext } from '$lib/flow/play-context.ts';
  import type { Choice } from '$lib/flow/session.svelte.ts';
  import Control from './Control.svelte';

  /** The pieces of the level that is played, with what can be done to each; of what is elsewhere, where it is. */
  let { id, level, isWalked }: { id: Id; level: Level; isWalked: boolean } = $props();
  const { flow, session, plain } = playContext();
  const trial = $derived(session.trial!);
  const state = $derived(session.seen!);

  /** A player who walks comes to what stands on the ground: it is not done from afar. */
  const isMet = ({ event }: Choice) => plain && isWalked && !('defeat' in event) && level.pieces[deedOf(event)!.piece]!.at;
  const of = (piece: Id) => session.choices.filter((choice) => deedOf(choice.event)?.piece === piece && !isMet(choice));
  /** "Touch", "Touch above": what it is done to stands before it. */
  const deedWords = (event: Event) => `${capital(deedOf(event)!.deed)}${'side' in event && event.side ? ` ${event.side}` : ''}`;
  /** The spots where some can be had, where the player is at none of them. */
  function elsewhere(piece: Id, choices: Choice[]): string {
    const heaps = heapsOf(piece, level.pieces[piece]!);
    if (choices.length > 0 || heaps.every(({ spots }) => spots === undefined)) return '';
    const spots = [...new Set(heaps.flatMap((heap) => heap.spots ?? []))].filter((spot) => spot !== state.spot);
    return spots.map((spot) => level.spots[spot]?.name ?? spot).join(', ');
  }
</script>

<ul class="pieces">
  {#each Object.entries(level.pieces) as [piece, value] (piece)}
    {@const there = usedUp(value) ? leftOf(trial.flow, state, piece) : countOf(value)}
    {@const choices = of(piece)}
    {@const far = there > 0 && !(plain && isWalked) ? elsewhere(piece, choices) : ''}
    <li data-piece={piece} class:far={far !== ''}>
      <b>{value.name}</b>
      {#if !plain}<span class="dim">{value.kind}</span>{/if}
      {#if usedUp(value)}
        <span class="count" title="{there} of {countOf(value)} left"
          >{#if countOf(value) <= 12}{'●'.repeat(there)}{'○'.repeat(countOf(value) - there)}{:else}{there} of {countOf(
              value
            )}{/if}</span
        >
      {/if}
      {#if far}<span class="dim">at {far}</span>{/if}
      <span class="acts">
        {#each choices as choice (JSON.stringify(choice.event))}
          <Control {choice}>{deedWords(choice.event)}</Control>
          {#if manyLeft(flow.document, id, choice.event, leftFor({ ...trial, state }, choice.event))}
            <button type="button" class="more" onclick={() => session.many(choice.event, 1)}>All but one</button>
            <button type="button" class="more" onclick={() => session.many(choice.event, 0)}>All</button>
          {/if}
        {/each}
      </span>
    </li>
  {/each}
</ul>

<style>
  .pieces li {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    padding: 4px 0;
    border-bottom: 1px solid var(--color-base-300);
  }
  .far b {
    font-weight: 400;
  }
  .count {
    color: var(--won);
    letter-spacing: 1px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    margin-left: auto;
  }
  .more {
    padding: 4px 10px;
    border: 1px solid var(--color-base-content);
    background: var(--tile);
    cursor: pointer;
  }
  .more:hover,
  .more:focus-visible {
    background: var(--pick-wash);
  }
</style>
