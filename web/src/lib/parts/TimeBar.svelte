<script lang="ts">
  import type { Effect, Owner, Transition } from '@crow-lane/core/document/types';
  import { effectWords } from '@crow-lane/core/words/words';
  import { timed, type TimedPart } from '@crow-lane/core/document/numbers';
  import { spansOf } from './transition.ts';
  import { playContext } from '$lib/flow/play-context.ts';

  /** A transition as one line of time, and when each effect of its rule is seen. */
  let { owner, by, effects, now }: { owner: Owner; by: Transition; effects: Effect[]; now?: TimedPart } = $props();
  const { flow } = playContext();
  const words = { wait: 'wait', out: 'cover', hold: 'covered', in: 'uncover' };
  const order = Object.keys(words) as TimedPart[];
  /** The part in which an effect is seen: before all is covered, or not at all. */
  const seenIn = ({ at }: Effect): TimedPart => (at === 'hidden' ? 'hold' : 'out');
  const past = (effect: Effect) => now !== undefined && order.indexOf(seenIn(effect)) <= order.indexOf(now);
</script>

<div class="time" aria-hidden="true">
  {#each spansOf(timed(flow.document, by)) as { part, share } (part)}<i
      class={part}
      class:now={part === now}
      style:flex-grow={share}>{share > 0 ? words[part] : ''}</i
    >{/each}
</div>
{#if effects.length > 0}
  <ul>
    {#each effects as effect, index (index)}
      <li class:past={past(effect)}>
        {effectWords(flow.document, owner, effect)}:
        <b>{effect.at === 'hidden' ? 'when all is covered, unseen' : 'while it can be seen, before it is covered'}</b>
      </li>
    {/each}
  </ul>
{/if}

<style>
  .time {
    display: flex;
    width: 100%;
    height: 18px;
    margin-bottom: 6px;
    border: 1px solid currentColor;
    font-size: 10px;
    line-height: 16px;
    text-align: center;
  }
  i {
    font-style: normal;
    flex-basis: 0;
    overflow: hidden;
    color: var(--color-base-content);
  }
  .wait {
    background: var(--tile);
  }
  .out {
    background: linear-gradient(90deg, var(--tile), var(--plain));
  }
  .hold {
    background: var(--road);
    color: var(--road-text);
  }
  .in {
    background: linear-gradient(90deg, var(--plain), var(--tile));
  }
  .now {
    outline: 2px solid var(--color-accent);
    outline-offset: -2px;
    font-weight: 700;
  }
  ul {
    font-size: 12px;
    list-style: square;
    padding-left: 16px;
    margin-bottom: 6px;
  }
  .past::marker {
    content: '✓ ';
  }
</style>
