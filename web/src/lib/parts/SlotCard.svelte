<script lang="ts">
  import type { SlotCard } from '@crow-lane/core/trial/slots';

  /** A slot of saved games with what it shows of its player's progress. */
  let { card }: { card: SlotCard } = $props();
</script>

<span class="card" class:used={card.used}>
  <b>Slot {card.slot + 1}</b>{#if card.inHand}<span class="dim">{' '}played now</span>{/if}{#if card.picked}<span class="dim"
      >{' '}picked</span
    >{/if}
  {#if !card.used}<span class="line dim">empty</span>{/if}
  {#each card.shown as { what, name, value } (what)}
    <span class="line"><span class="dim">{name}</span> {value}</span>
  {/each}
</span>

<style>
  .card {
    display: block;
    min-width: 130px;
    padding: 5px 9px 6px;
    border: 1px dashed var(--color-base-300);
    font-size: 12px;
    line-height: 1.45;
  }
  .used {
    border: 1px solid var(--color-base-content);
    border-left-width: 5px;
  }
  .line {
    display: block;
  }
</style>
