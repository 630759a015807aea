<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import type { Cell, Id } from '@crow-lane/core/document/types';
  import {
    fillCells,
    isIn,
    lineCells,
    mirrored,
    movedPart,
    partCells,
    stamped,
    widthOf,
    type Part
  } from '@crow-lane/core/plan/draw';
  import type { Reach } from '@crow-lane/core/plan/reach';
  import { flowContext } from '$lib/flow/context.ts';
  import { onTheme, type Sight } from '$lib/parts/plan-canvas.ts';
  import type { Drawing } from './drawing.svelte.ts';
  import { cleared, inSight, paintDoing, paintFoes, paintGround, paintStroke } from './paint.ts';
  import { cellWords, isStamp, type Tool } from './stamps.ts';

  /** The plan on squared paper: drawn by pointer or by keys, with where the player gets from the cell that is pointed at. */
  let {
    drawing,
    tool,
    way,
    toolName,
    marked,
    tour,
    showsReach,
    cell = $bindable(),
    points,
    foes,
    player,
    onkey,
    onends,
    onpoint
  }: {
    drawing: Drawing;
    tool: Tool;
    /** How a stroke runs. */
    way: 'paint' | 'line' | 'box' | 'fill' | 'part';
    toolName: string;
    /** Cells that a finding speaks of. */
    marked: Cell[];
    /** The cells of a tour that is shown, in order. */
    tour: Cell[];
    showsReach: boolean;
    /** The cell that is pointed at, or that the keys are at. */
    cell: Cell;
    /** A key that the canvas does not know; true where it is taken. */
    onkey: (event: KeyboardEvent) => boolean;
    /** Two ends, or corners, of what is no stamp. */
    onends: (from: Cell, to: Cell) => void;
    /** The points of a patrol that is being drawn. */
    points: Cell[];
    /** Where the foes are that patrol, at the moment that is shown, and the player that comes past them. */
    foes: Record<Id, Cell>;
    player: Cell | undefined;
    /** Another point. */
    onpoint: (cell: Cell) => void;
  } = $props();
  const { flow } = flowContext();
  const { id } = untrack(() => drawing);
  const plan = $derived(drawing.plan!);
  const level = $derived(drawing.level!);

  let canvas: HTMLCanvasElement;
  /** Beneath it: the plan itself, which changes less often than where the pointer is. */
  let ground: HTMLCanvasElement;
  let width = $state(0);
  let height = $state(0);
  let sight: Sight = $state.raw({ size: 0, x: 0, y: 0 });
  let theme = $state(0);
  /** Where a stroke began, the cells it has gone over, and where it is. */
  let stroke: { from: Cell; cells: Cell[]; at: Cell } | undefined = $state.raw(undefined);
  let part: Part | undefined = $state.raw(undefined);
  let carry: { from: Cell; to: Cell } | undefined = $state.raw(undefined);
  let panning: { x: number; y: number; sight: Sight } | undefined;
  let reach = $state.raw<{ from: Cell; reach: Reach } | undefined>(undefined);
  /** The keys are in use: their cell is drawn. */
  let keyed = $state(false);

  const isStamped = $derived(isStamp(tool));

  /** The plan as the stroke that is being made would leave it. */
  const shown = $derived.by(() => {
    if (carry && part) return movedPart(plan, part, [carry.to[0] - carry.from[0], carry.to[1] - carry.from[1]]);
    if (!stroke || !isStamped || way === 'part') return plan;
    return stamped(plan, strokeCells(stroke), tool as Parameters<typeof stamped>[2]);
  });

  function strokeCells({ from, cells, at }: NonNullable<typeof stroke>): Cell[] {
    if (way === 'line') return lineCells(from, at);
    if (way === 'box') return partCells({ from, to: at });
    return cells;
  }

  export function fit(): void {
    const [w, h] = [widthOf(plan), plan.rows.length];
    const size = Math.max(4, Math.min(34, Math.floor(Math.min((width - 40) / w, (height - 40) / h))));
    sight = { size, x: Math.max(12, Math.round((width - w * size) / 2)), y: Math.max(12, Math.round((height - h * size) / 2)) };
  }

  export function zoom(by: number, around?: { x: number; y: number }): void {
    const size = Math.max(
      3,
      Math.min(60, Math.round(sight.size * by) === sight.size ? sight.size + Math.sign(by - 1) : Math.round(sight.size * by))
    );
    const { x, y } = around ?? { x: width / 2, y: height / 2 };
    const share = size / sight.size;
    sight = { size, x: x - (x - sight.x) * share, y: y - (y - sight.y) * share };
  }

  function cellAt(event: PointerEvent): Cell {
    const box = canvas.getBoundingClientRect();
    return [
      Math.floor((event.clientX - box.left - sight.x) / sight.size),
      Math.floor((event.clientY - box.top - sight.y) / sight.size)
    ];
  }
  const inPlan = ([x, y]: Cell) => x >= 0 && y >= 0 && x < widthOf(plan) && y < plan.rows.length;

  function down(event: PointerEvent) {
    canvas.setPointerCapture(event.pointerId);
    keyed = false;
    const at = cellAt(event);
    if (event.button === 1 || event.shiftKey || !inPlan(at)) {
      panning = { x: event.clientX, y: event.clientY, sight };
      return;
    }
    if (event.button !== 0) return;
    cell = at;
    if ('patrol' in tool && way !== 'part') onpoint(at);
    else if (way === 'part' && part && isIn(part, at)) carry = { from: at, to: at };
    else if (way === 'fill' && isStamped) apply(fillCells(plan, at), 'fill');
    else {
      part = undefined;
      stroke = { from: at, cells: [at], at };
    }
  }

  function move(event: PointerEvent) {
    if (panning) {
      const { x, y, sight: from } = panning;
      sight = { ...from, x: from.x + event.clientX - x, y: from.y + event.clientY - y };
      return;
    }
    const at = cellAt(event);
    if (carry) carry = { ...carry, to: at };
    else if (stroke) {
      const last = stroke.cells.at(-1)!;
      const moved = last[0] !== at[0] || last[1] !== at[1];
      if (moved) stroke = { ...stroke, at, cells: [...stroke.cells, ...lineCells(last, at).slice(1)] };
    }
    if (inPlan(at) && (cell[0] !== at[0] || cell[1] !== at[1])) cell = at;
  }

  function up() {
    panning = undefined;
    if (carry && part) {
      const by: Cell = [carry.to[0] - carry.from[0], carry.to[1] - carry.from[1]];
      carryPart(by);
    } else if (stroke) {
      if (way === 'part') part = { from: stroke.from, to: stroke.at };
      else if (isStamped) apply(strokeCells(stroke), way === 'box' ? 'rectangle' : way === 'line' ? 'line' : '');
      else onends(stroke.from, stroke.at);
    }
    carry = undefined;
    stroke = undefined;
  }

  function apply(cells: Cell[], how: string) {
    const stamp = tool as Parameters<typeof stamped>[2];
    const inside = cells.filter(inPlan);
    const label = `${how === '' ? '' : `${how}, `}${toolName}${inside.length > 1 ? ` in ${inside.length} cells` : ` at ${inside[0]?.join(', ')}`}`;
    drawing.draw(label, (now) => stamped(now, inside, stamp));
  }

  function carryPart(by: Cell) {
    if (!part || (by[0] === 0 && by[1] === 0)) return;
    const from = part;
    drawing.draw('move a part', (now) => movedPart(now, from, by));
    const shift = ([x, y]: Cell): Cell => [x + by[0], y + by[1]];
    part = { from: shift(from.from), to: shift(from.to) };
  }

  export function mirror(): void {
    const whole: Part = part ?? { from: [0, 0], to: [widthOf(plan) - 1, plan.rows.length - 1] };
    drawing.draw('mirror', (now) => mirrored(now, whole));
  }

  const arrows: Record<string, Cell> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

  function key(event: KeyboardEvent) {
    const arrow = arrows[event.key];
    if (arrow && !event.altKey) {
      event.preventDefault();
      keyed = true;
      if ((event.ctrlKey || event.metaKey) && part) return carryPart(arrow);
      const to: Cell = [
        Math.min(Math.max(0, cell[0] + arrow[0]), widthOf(plan) - 1),
        Math.min(Math.max(0, cell[1] + arrow[1]), plan.rows.length - 1)
      ];
      // a stroke goes on with shift, as with the pointer held down, or from one Enter to the next
      if (event.shiftKey || stroke) {
        stroke = stroke
          ? { ...stroke, at: to, cells: [...stroke.cells, ...lineCells(stroke.at, to).slice(1)] }
          : { from: cell, at: to, cells: lineCells(cell, to) };
      }
      cell = to;
      intoSight();
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      keyed = true;
      if (stroke) up();
      else if ('patrol' in tool && way !== 'part') onpoint(cell);
      else if (way === 'fill' && isStamped) apply(fillCells(plan, cell), 'fill');
      else if (!isStamped || way === 'part' || way === 'line' || way === 'box') stroke = { from: cell, at: cell, cells: [cell] };
      else apply([cell], '');
      return;
    }
    if (points.length > 0 && onkey(event)) {
      event.preventDefault();
      return;
    }
    if (event.key === 'Escape' && (stroke || part)) {
      event.preventDefault();
      stroke = undefined;
      part = undefined;
      return;
    }
    if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      const cells = part ? partCells(part) : [cell];
      drawing.draw('take away', (now) => stamped(now, cells, { nothing: true }));
      return;
    }
    if (onkey(event)) event.preventDefault();
  }

  function released(event: KeyboardEvent) {
    if (event.key === 'Shift' && stroke && keyed) up();
  }

  function intoSight() {
    const { size, x, y } = sight;
    const [px, py] = [x + cell[0] * size, y + cell[1] * size];
    const dx = px < 8 ? 8 - px : px + size > width - 8 ? width - 8 - px - size : 0;
    const dy = py < 8 ? 8 - py : py + size > height - 8 ? height - 8 - py - size : 0;
    if (dx !== 0 || dy !== 0) sight = { size, x: x + dx, y: y + dy };
  }

  function wheel(event: WheelEvent) {
    event.preventDefault();
    const box = canvas.getBoundingClientRect();
    if (event.ctrlKey || event.metaKey)
      zoom(event.deltaY < 0 ? 1.2 : 1 / 1.2, { x: event.clientX - box.left, y: event.clientY - box.top });
    else sight = { ...sight, x: sight.x - event.deltaX, y: sight.y - event.deltaY };
  }

  onMount(() => onTheme(() => theme++));
  let fitted = '';
  $effect(() => {
    // a plan that has become smaller leaves no cell outside of it
    const [x, y] = [Math.min(cell[0], widthOf(plan) - 1), Math.min(cell[1], plan.rows.length - 1)];
    if (x !== cell[0] || y !== cell[1]) cell = [x, y];
  });
  $effect(() => {
    const key = `${width} ${height} ${widthOf(plan)} ${plan.rows.length}`;
    if (width > 0 && fitted !== key) {
      fitted = key;
      untrack(fit);
    }
  });

  // where the player gets from the cell that is pointed at, once the pointer rests
  $effect(() => {
    const [at, on, known] = [cell, showsReach, drawing.known];
    if (!on || !known || stroke || carry) return;
    const later = setTimeout(async () => {
      const found = await drawing.reach(at);
      if (at === cell) reach = found ? { from: at, reach: found } : undefined;
    }, 90);
    return () => clearTimeout(later);
  });
  const overlay = $derived(
    showsReach && tour.length === 0 && !stroke && !carry && reach && reach.from === cell ? reach.reach : undefined
  );
  export function reached(): Reach | undefined {
    return overlay;
  }

  $effect(() => {
    void theme;
    if (width === 0 || sight.size === 0) return;
    // a stroke is painted over it, cell by cell: a large plan is not painted again with every move
    const under = carry ? shown : plan;
    const seen = inSight(under, sight, width, height);
    paintGround(ground, cleared(ground, width, height), sight, seen, {
      level,
      plan: under,
      known: carry ? undefined : drawing.known
    });
  });

  /** A part that is marked or carried, or what a stroke spans. */
  const box: Part | undefined = $derived.by(() => {
    if (carry && part) return { from: shift(part.from, carry), to: shift(part.to, carry) };
    if (part || !stroke) return part;
    return way === 'part' || way === 'box' || 'area' in tool ? { from: stroke.from, to: stroke.at } : undefined;
  });
  const taken = $derived(
    new Set(Object.values(plan.things ?? {}).flatMap((thing) => ('entry' in thing ? [thing.cell] : thing.cells).map(String)))
  );
  $effect(() => {
    void theme;
    if (width === 0 || sight.size === 0) return;
    const ends = stroke && 'link' in tool ? { from: stroke.from, to: stroke.at } : undefined;
    const doing = { reach: overlay, taken, marked, tour, points, box, ends, cell, isKeyed: keyed };
    const at = cleared(canvas, width, height);
    if (stroke && isStamped && way !== 'part') paintStroke(canvas, at, sight, { level, plan: shown, cells: strokeCells(stroke) });
    paintDoing(canvas, at, sight, doing);
    paintFoes(canvas, at, sight, { level, plan, foes, player });
  });
  const shift = ([x, y]: Cell, { from, to }: { from: Cell; to: Cell }): Cell => [x + to[0] - from[0], y + to[1] - from[1]];

  /** Told to who does not see the plan: what is in the cell, and which spot it belongs to. */
  const spotOf = $derived(
    new Map(
      Object.values(drawing.known?.derived.spots ?? {}).flatMap(({ name, cells }) =>
        cells.map((each): [string, string] => [each.join(), name])
      )
    )
  );
  const spotHere = $derived(spotOf.get(cell.join()));
  const told = $derived(
    `${cell[0]}, ${cell[1]}: ${cellWords(flow.document, id as Id, plan, cell)}${spotHere ? `; ${spotHere}` : ''}`
  );
</script>

<div class="frame" bind:clientWidth={width} bind:clientHeight={height}>
  <canvas bind:this={ground} aria-hidden="true" style:width="{width}px" style:height="{height}px"></canvas>
  <!-- svelte-ignore a11y_no_interactive_element_to_noninteractive_role -->
  <canvas
    bind:this={canvas}
    tabindex="0"
    role="application"
    aria-label="The plan of {level.name}"
    aria-describedby="plan-cell"
    data-cell="{cell[0]},{cell[1]}"
    style:width="{width}px"
    style:height="{height}px"
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={() => (stroke = carry = panning = undefined)}
    onkeydown={key}
    onkeyup={released}
    onwheel={wheel}
    onfocus={() => (keyed = canvas.matches(':focus-visible'))}
    onblur={() => (keyed = false)}
  ></canvas>
  <p id="plan-cell" class="sr-only" aria-live="polite">{told}</p>
</div>

<style>
  .frame {
    position: relative;
    min-width: 0;
    min-height: 0;
    overflow: hidden;
    background: var(--color-base-200);
  }
  canvas {
    position: absolute;
    inset: 0;
    touch-action: none;
    cursor: crosshair;
  }
</style>
