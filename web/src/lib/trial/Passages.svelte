<script lang="ts" module>
  import { walkedTo } from '@crow-lane/core/play/events';
  import type { Id } from '@crow-lane/core/document/types';
  import type { Choice, Session } from '$lib/flow/session.svelte.ts';

  /** A passage that can be taken now, and where it leads. */
  export interface Walk {
    choice: Choice;
    passage: Id;
    to: Id;
  }

  export const walksIn = (session: Session): Walk[] =>
    session.choices.flatMap((choice) => {
      const to = walkedTo(session.trial!.flow, session.seen!, choice.event);
      return 'walk' in choice.event && to !== undefined ? [{ choice, passage: choice.event.walk, to }] : [];
    });
</script>

<script lang="ts">
  import type { Level } from '@crow-lane/core/document/types';
  import { pieceName } from '@crow-lane/core/words/words';
  import { playContext } from '$lib/flow/play-context.ts';
  import Control from './Control.svelte';

  /** The passages that can be taken now, as buttons. */
  let { id, level, walks }: { id: Id; level: Level; walks: Walk[] } = $props();
  const { flow } = playContext();
  const past = (through: Id[] = []) =>
    through.length > 0 ? `past ${through.map((piece) => pieceName(flow.document, { place: id }, piece)).join(', ')}` : '';
</script>

<div class="walks" role="group" aria-label="Where the player can walk">
  {#each walks as { choice, passage, to } (passage)}
    {@const { name, through } = level.passages[passage]!}
    <span data-walk={passage}>
      <Control {choice}>
        Walk to {level.spots[to]!.name}{#if name}<span class="dim">{' '}by {name}</span>{/if}{#if level.plan && through}<span
            class="dim">{' '}{past(through)}</span
          >{/if}
      </Control>
    </span>
  {/each}
</div>

<style>
  .walks {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin-top: 6px;
  }
</style>
