<script lang="ts">
  import { placeOf } from '@crow-lane/core/report/answers';
  import { decides } from '@crow-lane/core/report/report';
  import type { Id } from '@crow-lane/core/document/types';
  import type { LaneLayout } from '@crow-lane/core/lane/layout';
  import { flowContext } from '$lib/flow/context.ts';

  /** From the cause of findings to the places that suffer from it, while one of them is selected. */
  let { lane, selected }: { lane: LaneLayout; selected: Id } = $props();
  const { flow, causes } = flowContext();

  const trails = $derived.by(() => {
    const { document } = flow;
    const found = new Map<string, [Id, Id]>();
    for (const { verdict, follows } of causes.causes) {
      const from = placeOf(document, verdict);
      if (from === undefined) continue;
      for (const each of follows) {
        const to = decides(each) ? placeOf(document, each) : undefined;
        if (to === undefined || to === from || (selected !== from && selected !== to)) continue;
        found.set(`${from} ${to}`, [from, to]);
      }
    }
    return [...found].flatMap(([key, [from, to]]) => {
      const [a, b] = [lane.tiles.get(from), lane.tiles.get(to)];
      if (!a || !b) return [];
      const [x1, y1, x2, y2] = [a.x + a.width / 2, a.y + 6, b.x + b.width / 2, b.y + 2];
      const bow = Math.min(70, 20 + Math.abs(x2 - x1) / 7);
      return [{ key, d: `M${x1} ${y1}Q${(x1 + x2) / 2} ${Math.min(y1, y2) - bow} ${x2} ${y2}`, x: x2, y: y2 }];
    });
  });
</script>

{#if trails.length > 0}
  <svg width={lane.width} height={lane.height} aria-hidden="true" data-trails={trails.length}>
    {#each trails as { key, d, x, y } (key)}
      <path {d} />
      <circle cx={x} cy={y} r="3.5" />
    {/each}
  </svg>
{/if}

<style>
  svg {
    position: absolute;
    left: 0;
    top: 0;
    overflow: visible;
    pointer-events: none;
    z-index: 3;
  }
  path {
    fill: none;
    stroke: var(--lost);
    stroke-width: 1.4;
    stroke-dasharray: 2 4;
    stroke-linecap: round;
  }
  circle {
    fill: var(--lost);
  }
</style>
