<script lang="ts">
  import { replay } from '@crow-lane/core/play/replay';
  import type { FlowDocument, Step } from '@crow-lane/core/document/types';
  import type { LaneLayout } from '@crow-lane/core/lane/layout';

  /** A route as the crow flies: arcs from place to place, each with the number of the step that takes it. */
  let { document, lane, steps, at }: { document: FlowDocument; lane: LaneLayout; steps: Step[]; at: number | undefined } =
    $props();

  const hops = $derived.by(() => {
    const found: { from: string; to: string; step: number }[] = [];
    let here: string | undefined;
    let step = 0;
    for (const played of replay(document, steps)) {
      if (played.from !== undefined) step++;
      if (at !== undefined && step > at) break;
      for (const place of played.entered) {
        if (here !== undefined && here !== place) found.push({ from: here, to: place, step });
        here = place;
      }
      // going back enters nothing
      here = played.state?.stack.at(-1)!.place ?? here;
    }
    return found;
  });
  const arcs = $derived(
    hops.flatMap(({ from, to, step }, index) => {
      const [a, b] = [lane.tiles.get(from), lane.tiles.get(to)];
      if (!a || !b) return [];
      const [x1, y1, x2, y2] = [a.x + a.width / 2, a.y + a.height * 0.75, b.x + b.width / 2, b.y + b.height * 0.75];
      const bow = Math.min(60, 18 + Math.abs(x2 - x1) / 6) * (a.row === b.row ? 1 : 0.6);
      const [mx, my] = [(x1 + x2) / 2, Math.max(y1, y2) + bow];
      // the same place reached twice: the numbers stand side by side
      const again = hops.slice(0, index).filter((hop) => hop.to === to).length;
      return [{ d: `M${x1} ${y1}Q${mx} ${my} ${x2} ${y2}`, x: x2 - 14 + again * 15, y: y2, step, key: index }];
    })
  );
</script>

<svg width={lane.width} height={lane.height} aria-hidden="true">
  {#each arcs as arc (arc.key)}<path d={arc.d} />{/each}
  {#each arcs as arc (arc.key)}
    <circle cx={arc.x} cy={arc.y} r="8.5" />
    <text x={arc.x} y={arc.y + 3.5}>{arc.step}</text>
  {/each}
</svg>

<style>
  svg {
    position: absolute;
    left: 0;
    top: 0;
    overflow: visible;
    pointer-events: none;
    z-index: 4;
  }
  path {
    fill: none;
    stroke: var(--color-accent);
    stroke-width: 2.6;
    stroke-dasharray: 0.5 5.5;
    stroke-linecap: round;
  }
  circle {
    fill: var(--color-accent);
    stroke: #161c26;
    stroke-width: 1.2;
  }
  text {
    font-size: 10px;
    font-weight: 700;
    text-anchor: middle;
    fill: #161c26;
  }
</style>
