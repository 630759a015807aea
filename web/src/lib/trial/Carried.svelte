<script lang="ts">
  import { valueOf } from '@crow-lane/core/play/turn';
  import { bookmarkWords } from '@crow-lane/core/trial/words';
  import { flowContext } from '$lib/flow/context.ts';
  import { slotsOf } from '@crow-lane/core/play/slots';
  import { slotCards } from '@crow-lane/core/trial/slots';
  import SlotCard from '$lib/parts/SlotCard.svelte';
  import ValueInput from './ValueInput.svelte';

  /** The values of the trial: those that just changed stand out, pinned ones come first, any can be made up. */
  const { flow, session } = flowContext();
  const trial = $derived(session.trial!);
  const variables = $derived(
    Object.entries(flow.document.variables).sort(([a], [b]) => Number(session.pinned.has(b)) - Number(session.pinned.has(a)))
  );
  const changed = $derived(new Map((trial.lines.at(-1)?.values ?? []).map((change) => [change.variable, change])));
</script>

<section class="carried" aria-label="Values now">
  <h2>Values</h2>
  {#each variables as [id, variable] (id)}
    {@const value = valueOf(trial.flow, session.seen!, id)}
    <p class:changed={changed.has(id)} data-now={id}>
      <button
        type="button"
        aria-pressed={session.pinned.has(id)}
        title={session.pinned.has(id) ? 'Unpin' : 'Pin to the top'}
        onclick={() => session.pin(id)}
        >{session.pinned.has(id) ? '▲' : '△'}<span class="hidden-text">{variable.name}</span></button
      >
      <label for="now-{id}">{variable.name}</label>
      <ValueInput id="now-{id}" {variable} {value} onset={(to) => session.setValue(id, to)} />
      {#if changed.has(id)}<span class="dim">was {String(changed.get(id)!.from)}</span>{/if}
    </p>
  {/each}
  {#if variables.length === 0}<p class="dim">The flow has no values.</p>{/if}
  {#if slotsOf(flow.document) > 1}
    <h2>Saved games</h2>
    <div class="slots">
      {#each slotCards(trial.flow, session.seen!) as card (card.slot)}<SlotCard {card} />{/each}
    </div>
  {:else if trial.state.bookmark}
    <p class="dim" class:changed={trial.lines.at(-1)?.save === 'saved'}>
      Saved: {bookmarkWords(flow.document, trial.state.bookmark)}
    </p>
  {/if}
  {#if Object.keys(trial.state.won).length > 0}
    <p class="dim">
      Won: {Object.keys(trial.state.won)
        .map((level) => flow.document.places[level]?.name ?? level)
        .join(', ')}
    </p>
  {/if}
</section>

<style>
  .carried {
    padding: 10px 16px;
    overflow: auto;
    background: var(--color-base-100);
    max-height: 230px;
  }
  h2 {
    font-size: 14px;
    margin-bottom: 4px;
  }
  p {
    display: flex;
    align-items: center;
    gap: 8px;
    padding: 3px 4px;
    border-bottom: 1px solid var(--color-base-300);
  }
  label {
    flex: 1;
    font-weight: 700;
  }
  p button {
    cursor: pointer;
    color: var(--dim);
  }
  .slots {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin-bottom: 6px;
  }
  .changed {
    background: var(--pick-wash);
    border-left: 5px solid var(--color-accent);
    animation: flash 600ms;
  }
  @keyframes flash {
    from {
      background: var(--color-accent);
    }
  }
  @media (prefers-reduced-motion: reduce) {
    .changed {
      animation: none;
    }
  }
</style>
