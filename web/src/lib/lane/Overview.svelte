<script lang="ts">
  import type { LaneLayout } from '@crow-lane/core/lane/layout';
  import { flowContext } from '$lib/flow/context.ts';

  /** The whole lane in a strip: where one is in it, what fails, and a way to anywhere. For those who see; keys walk the lane. */
  let { lane, left, right, onmove }: { lane: LaneLayout; left: number; right: number; onmove: (x: number) => void } = $props();
  const { checks, view } = flowContext();
  const height = 40;
  let width = $state(400);
  let canvas: HTMLCanvasElement;
  const scale = $derived(width / Math.max(lane.width, 1));

  $effect(() => {
    const pen = canvas.getContext('2d')!;
    const colour = (name: string) => getComputedStyle(canvas).getPropertyValue(name);
    const [plain, lost, accent, road] = ['--plain', '--lost', '--color-accent', '--road'].map(colour);
    const tall = height / Math.max(lane.height, 1);
    canvas.width = width;
    canvas.height = height;
    for (const row of lane.rows) {
      if (row.kind !== 'levels') continue;
      pen.fillStyle = road!;
      pen.globalAlpha = 0.25;
      pen.fillRect(0, row.y * tall, width, row.height * tall);
    }
    pen.globalAlpha = 1;
    for (const tile of lane.tiles.values()) {
      pen.fillStyle = tile.place === view.selected ? accent! : checks.marks.get(tile.place) === 'fails' ? lost! : plain!;
      pen.fillRect(tile.x * scale, tile.y * tall, Math.max(1.5, tile.width * scale - 1), Math.max(2, tile.height * tall));
    }
  });

  function go(event: PointerEvent) {
    const to = (move: PointerEvent) => onmove((move.clientX - canvas.getBoundingClientRect().left) / scale);
    canvas.setPointerCapture(event.pointerId);
    event.stopPropagation();
    to(event);
    canvas.onpointermove = to;
    canvas.onpointerup = canvas.onpointercancel = () => (canvas.onpointermove = null);
  }
</script>

<div class="overview" bind:clientWidth={width} aria-hidden="true">
  <canvas bind:this={canvas} {height} onpointerdown={go}></canvas>
  <i style:left="{left * scale}px" style:width="{Math.max(6, (Math.min(right, lane.width) - left) * scale)}px"></i>
</div>

<style>
  .overview {
    position: absolute;
    left: 12px;
    bottom: 8px;
    width: 420px;
    height: 40px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    cursor: pointer;
  }
  canvas {
    display: block;
    width: 100%;
    height: 100%;
    touch-action: none;
  }
  i {
    position: absolute;
    top: -1px;
    bottom: -1px;
    border: 2px solid var(--color-accent);
    pointer-events: none;
  }
</style>
