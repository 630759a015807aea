<script lang="ts">
  import { onMount, tick, untrack } from 'svelte';
  import { moveLevel, numbersOf } from '@crow-lane/core/document/edits/places';
  import { wireRule, addRule } from '@crow-lane/core/document/edits/rules';
  import type { Id, PlaceKind } from '@crow-lane/core/document/types';
  import { layout, type Row } from '@crow-lane/core/lane/layout';
  import { flowContext } from '$lib/flow/context.ts';
  import Flight from './Flight.svelte';
  import Overview from './Overview.svelte';
  import Routes from './Routes.svelte';
  import Tile from './Tile.svelte';
  import { neighbour } from './walk.ts';

  const { flow, view } = flowContext();
  const lane = $derived(layout(flow.document));
  const kinds: Record<Row['kind'], PlaceKind> = { endings: 'ending', between: 'interlude', levels: 'level', menus: 'menu' };

  let box: HTMLDivElement;
  let width = $state(1280);
  let height = $state(430);
  let zoom = $state(1);
  let x = $state(0);
  let y = $state(0);
  const far = $derived(zoom < 0.55);

  /** What is drawn: the part in sight and some more to each side, in steps, so that a small pan draws nothing anew. */
  const stepOfSight = 500;
  const from = $derived(Math.floor((-x - width * 0.6) / zoom / stepOfSight) * stepOfSight);
  const to = $derived(Math.ceil((-x + width * 1.6) / zoom / stepOfSight) * stepOfSight);
  const tiles = $derived([...lane.tiles.values()].filter((tile) => tile.x + tile.width >= from && tile.x <= to));
  const place = $derived(new Map([...lane.tiles.keys()].map((id, index) => [id, index + 1])));

  /** Beside the selected place only those it leads to or that lead to it stay bright. */
  const bright = $derived.by(() => {
    const { selected } = view;
    if (selected === undefined || view.shown) return undefined;
    const found = new Set<string>([selected]);
    for (const route of lane.routes) {
      if (route.to === selected) route.feeders.forEach(({ from }) => found.add(from));
      if (route.to && route.feeders.some(({ from }) => from === selected)) found.add(route.to);
    }
    return found;
  });

  function keepInside() {
    const [w, h] = [lane.width * zoom, lane.height * zoom];
    x = w <= width ? 0 : Math.min(0, Math.max(width - w, x));
    y = h <= height ? 0 : Math.min(0, Math.max(height - h, y));
  }

  function zoomTo(next: number, at = { x: width / 2, y: height / 2 }) {
    const to = Math.min(2, Math.max(0.15, next));
    x = at.x - ((at.x - x) * to) / zoom;
    y = at.y - ((at.y - y) * to) / zoom;
    zoom = to;
    keepInside();
  }

  export function fit() {
    zoom = Math.min(1, Math.max(0.15, Math.min(width / lane.width, height / lane.height)));
    x = y = 0;
    keepInside();
  }

  function wheel(event: WheelEvent) {
    event.preventDefault();
    if (event.ctrlKey || event.metaKey) {
      const { left, top } = box.getBoundingClientRect();
      zoomTo(zoom * Math.exp(-event.deltaY / 400), { x: event.clientX - left, y: event.clientY - top });
      return;
    }
    x -= event.shiftKey ? event.deltaY : event.deltaX;
    y -= event.shiftKey ? 0 : event.deltaY;
    keepInside();
  }

  onMount(() => {
    // tall flows begin at a size that can be read, wide ones are panned along
    zoom = Math.min(1, Math.max(0.87, height / lane.height));
    keepInside();
    box.addEventListener('wheel', wheel, { passive: false });
    return () => box.removeEventListener('wheel', wheel);
  });

  $effect(() => {
    const { seek } = view;
    if (!seek) return;
    untrack(() => bringIntoSight(seek.place));
  });

  function bringIntoSight(place: Id) {
    const tile = lane.tiles.get(place);
    if (!tile) return;
    const left = 104;
    const [l, r, t, b] = [
      tile.x * zoom + x,
      (tile.x + tile.width) * zoom + x,
      tile.y * zoom + y,
      (tile.y + tile.height) * zoom + y
    ];
    if (l < left) x += left - l;
    else if (r > width - 20) x -= r - (width - 20);
    if (t < 8) y += 8 - t;
    else if (b > height - 8) y -= b - (height - 8);
    keepInside();
  }

  /** A drag over empty lane moves the picture. */
  function grab(event: PointerEvent) {
    if (event.button !== 0 || (event.target as Element).closest('[data-place]')) return;
    const start = { px: event.clientX, py: event.clientY, x, y };
    let moved = false;
    follow(
      (move) => {
        moved ||= Math.hypot(move.clientX - start.px, move.clientY - start.py) > 4;
        if (!moved) return;
        x = start.x + move.clientX - start.px;
        y = start.y + move.clientY - start.py;
        keepInside();
      },
      () => {
        if (!moved) view.select(undefined);
      }
    );
  }

  function follow(move: (event: PointerEvent) => void, end: (event: PointerEvent | undefined) => void) {
    const stop = (event: PointerEvent) => {
      removeEventListener('pointermove', move);
      removeEventListener('pointerup', stop);
      removeEventListener('pointercancel', cancel);
      end(event);
    };
    const cancel = () => {
      removeEventListener('pointermove', move);
      removeEventListener('pointerup', stop);
      removeEventListener('pointercancel', cancel);
      end(undefined);
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', stop);
    addEventListener('pointercancel', cancel);
  }

  /** A pull from a tile's edge: where it is now, in the lane's own measure, and what is under it. */
  let pull: { from: Id; x: number; y: number; over: Id | undefined; row: Row | undefined } | undefined = $state.raw();

  function startPull(event: PointerEvent, from: Id) {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    const track = (move: PointerEvent) => {
      const { left, top } = box.getBoundingClientRect();
      const at = { x: (move.clientX - left - x) / zoom, y: (move.clientY - top - y) / zoom };
      const over = document.elementFromPoint(move.clientX, move.clientY)?.closest<HTMLElement>('[data-place]')?.dataset.place;
      const inside = move.clientX >= left && move.clientX <= left + width && move.clientY >= top && move.clientY <= top + height;
      pull = { from, ...at, over: over === from ? undefined : over, row: inside && over === undefined ? rowAt(at.y) : undefined };
    };
    track(event);
    follow(track, (up) => {
      const done = pull;
      pull = undefined;
      if (!up || !done) return;
      if (done.over) wire(from, done.over);
      else if (done.row) view.dialog = { is: 'place', from, kind: kinds[done.row.kind], order: done.row.order };
    });
  }

  function wire(from: Id, to: Id) {
    flow.edit(addRule(flow.document, { place: from }, wireRule(flow.document, from, to)));
    view.select(from, false);
  }

  /** A level dragged along its lane, and before which level it would stand there. */
  let drag: { level: Id; x: number; to: number; line: { x: number; y: number; height: number } } | undefined = $state.raw();
  /** The click that ends a drag selects nothing. */
  let dragged = false;

  function startDrag(event: PointerEvent, level: Id) {
    dragged = false;
    const tile = lane.tiles.get(level)!;
    const order = lane.rows[tile.row]?.order;
    if (event.button !== 0 || order === undefined || !flow.document.orders[order]) return;
    const { levels } = flow.document.orders[order];
    const tiles = levels.map((id) => lane.tiles.get(id)).filter((each) => each !== undefined && each.row === tile.row);
    const begun = event.clientX;
    follow(
      (move) => {
        if (!drag && Math.abs(move.clientX - begun) < 8) return;
        dragged = true;
        const at = (move.clientX - box.getBoundingClientRect().left - x) / zoom;
        const to = tiles.filter((each) => each!.place !== level && each!.x + each!.width / 2 < at).length;
        const next = tiles.filter((each) => each!.place !== level)[to];
        const last = tiles.at(-1)!;
        const line = next ? next.x - 7 : last.x + last.width + 7;
        drag = { level, x: at, to, line: { x: line, y: tile.y, height: tile.height } };
      },
      (up) => {
        const done = drag;
        drag = undefined;
        if (!up || !done || levels.indexOf(level) === done.to) return;
        flow.edit(moveLevel(flow.document, order, level, done.to));
      }
    );
  }

  function rowAt(at: number): Row | undefined {
    return lane.rows.reduce<Row | undefined>((best, row) => {
      const distance = (each: Row) => Math.max(each.y - at, at - each.y - each.height, 0);
      return !best || distance(row) < distance(best) ? row : best;
    }, undefined);
  }

  /** Moves the selected level along its order. */
  function reorder(level: Id, by: 1 | -1) {
    const [found] = numbersOf(flow.document, level);
    const to = (found?.number ?? 0) - 1 + by;
    if (found && to >= 0 && to < flow.document.orders[found.order]!.levels.length) {
      flow.edit(moveLevel(flow.document, found.order, level, to));
      view.seek = { place: level };
    }
  }

  async function key(event: KeyboardEvent) {
    if (event.altKey && view.selected !== undefined && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      event.preventDefault();
      reorder(view.selected, event.key === 'ArrowLeft' ? -1 : 1);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const { selected } = view;
    if (/^(Arrow|Home|End)/.test(event.key)) {
      const to = neighbour(lane, selected, event.key);
      event.preventDefault();
      if (to === undefined) return;
      view.select(to);
      await tick();
      focusTile(to);
    } else if (event.key === '+' || event.key === '=') zoomTo(zoom * 1.2);
    else if (event.key === '-') zoomTo(zoom / 1.2);
    else if (event.key === '0') zoomTo(1);
    else if (event.key === 'f') fit();
    else if (event.key === 'n') {
      view.dialog = { is: 'place', kind: 'level' };
      event.preventDefault();
    } else if (event.key === '/') {
      view.dialog = { is: 'find' };
      event.preventDefault();
    } else if (selected === undefined) return;
    else if (event.key === 'd') {
      const copy = flow.duplicate(selected);
      view.select(copy);
      await tick();
      focusTile(copy);
    } else if (event.key === 'm') {
      view.dialog = { is: 'move', from: selected };
      event.preventDefault();
    } else if (event.key === 'Delete' || event.key === 'Backspace') view.dialog = { is: 'delete', place: selected };
    else if (event.key === 'Enter') {
      event.preventDefault();
      document.querySelector<HTMLElement>('#desk button, #desk input')?.focus();
    } else if (event.key === 'Escape') view.select(undefined);
  }

  function focusTile(place: Id) {
    box.querySelector<HTMLElement>(`[data-place="${place}"] .face`)?.focus({ preventScroll: true });
  }
</script>

<!-- the picture is one control: its keys walk it, its empty ground is dragged -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="lane"
  bind:this={box}
  bind:clientWidth={width}
  bind:clientHeight={height}
  role="application"
  aria-label="The lane: all places of the flow. Arrow keys walk it."
  onpointerdown={grab}
  onkeydown={key}
>
  {#each lane.rows as row, index (index)}
    <div
      class="row {row.kind}"
      class:wanted={pull?.row === row}
      style:top="{row.y * zoom + y}px"
      style:height="{row.height * zoom}px"
    >
      <span class="display"
        >{row.kind === 'levels' && row.order ? 'Levels' : row.name}{#if row.kind === 'levels' && row.order}<br
          />{row.name}{/if}</span
      >
      {#if row.kind === 'levels'}<i class="paint"></i>{/if}
    </div>
  {/each}
  <div
    class="world"
    style:transform="translate({x}px, {y}px) scale({zoom})"
    style:width="{lane.width}px"
    style:height="{lane.height}px"
  >
    {#each lane.stretches as stretch, index (index)}
      <div class="stretch" style:left="{stretch.x}px" style:top="{stretch.y + 3}px" style:width="{stretch.width}px">
        {stretch.name}
      </div>
    {/each}
    <Routes {lane} {from} {to} selected={view.shown ? undefined : view.selected} />
    <ul class="tiles" aria-label="Places">
      {#each tiles as tile (tile.place)}
        <li aria-setsize={lane.tiles.size} aria-posinset={place.get(tile.place)}>
          <Tile
            {tile}
            {far}
            selected={view.selected === tile.place}
            dimmed={bright !== undefined && !bright.has(tile.place)}
            target={pull?.over === tile.place}
            onselect={(event) => {
              if (dragged) return;
              if (event.shiftKey || event.ctrlKey || event.metaKey) view.toggle(tile.place);
              else view.select(tile.place);
            }}
            ongrab={(event) => startDrag(event, tile.place)}
            onpull={(event) => startPull(event, tile.place)}
          />
        </li>
      {/each}
    </ul>
    {#if drag}
      <i class="stand" style:left="{drag.line.x}px" style:top="{drag.line.y - 4}px" style:height="{drag.line.height + 8}px"></i>
    {/if}
    {#if view.shown}<Flight document={flow.document} {lane} steps={view.shown.steps} />{/if}
    {#if pull}
      {@const from = lane.tiles.get(pull.from)!}
      <svg class="pulling" width={lane.width} height={lane.height} aria-hidden="true">
        <path d="M{from.x + from.width} {from.y + from.height - 15}L{pull.x} {pull.y}" />
      </svg>
    {/if}
  </div>
  {#if Object.keys(flow.document.places).length === 0}
    <p class="empty">
      Nothing here yet.
      <button type="button" class="btn btn-sm btn-primary" onclick={() => (view.dialog = { is: 'place', kind: 'menu' })}
        >Add the first screen</button
      >
      or
      <button type="button" class="btn btn-sm" onclick={() => (view.dialog = { is: 'place', kind: 'level' })}
        >the first level</button
      >
    </p>
  {/if}
  {#if pull?.row}<p class="hint">
      Let go to make a new {kinds[pull.row.kind] === 'interlude' ? 'screen in between' : kinds[pull.row.kind]} here
    </p>{/if}
  {#if lane.tiles.size >= 40}
    <Overview
      {lane}
      left={-x / zoom}
      right={(-x + width) / zoom}
      onmove={(to) => {
        x = width / 2 - to * zoom;
        keepInside();
      }}
    />
  {/if}
  <div class="tools">
    <button
      type="button"
      class="btn btn-xs"
      title="Add a place (n)"
      onclick={() => (view.dialog = { is: 'place', kind: 'level' })}>+ place</button
    >
    <button
      type="button"
      class="btn btn-xs"
      title="Find a place, a value, a piece or a rule (/)"
      onclick={() => (view.dialog = { is: 'find' })}>Find</button
    >
    <button
      type="button"
      class="btn btn-xs btn-square"
      aria-label="Smaller"
      title="Smaller (-)"
      onclick={() => zoomTo(zoom / 1.2)}>−</button
    >
    <button type="button" class="btn btn-xs" title="Everything in sight (f)" onclick={fit}>{Math.round(zoom * 100)} %</button>
    <button type="button" class="btn btn-xs btn-square" aria-label="Larger" title="Larger (+)" onclick={() => zoomTo(zoom * 1.2)}
      >+</button
    >
    <button
      type="button"
      class="btn btn-xs btn-square"
      aria-label="Keys"
      title="Keys (?)"
      onclick={() => (view.dialog = { is: 'keys' })}>?</button
    >
  </div>
</div>

<style>
  .lane {
    position: relative;
    overflow: hidden;
    height: 100%;
    touch-action: none;
    cursor: grab;
    user-select: none;
  }
  .row {
    position: absolute;
    left: 0;
    right: 0;
    color: var(--dim);
    pointer-events: none;
  }
  .row > span {
    position: absolute;
    left: 12px;
    top: 6px;
    width: 78px;
    font-size: 11px;
    line-height: 1.25;
    z-index: 5;
  }
  .levels {
    background: var(--road);
    color: var(--road-text);
  }
  .paint {
    position: absolute;
    left: 0;
    right: 0;
    bottom: 5px;
    height: 3px;
    background: repeating-linear-gradient(90deg, var(--road-mark) 0 20px, transparent 20px 38px);
    opacity: 0.7;
  }
  .endings,
  .between {
    border-bottom: 1px dashed var(--color-base-300);
  }
  .wanted {
    box-shadow: inset 0 0 0 2px var(--color-accent);
  }
  .world {
    position: absolute;
    left: 0;
    top: 0;
    transform-origin: 0 0;
  }
  .tiles {
    position: absolute;
    inset: 0;
  }
  .stretch {
    position: absolute;
    font-size: 11px;
    line-height: 14px;
    color: var(--road-text);
    border-left: 2px solid var(--road-mark);
    padding-left: 5px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .stand {
    position: absolute;
    width: 4px;
    margin-left: -2px;
    background: var(--color-accent);
    z-index: 6;
  }
  .pulling {
    position: absolute;
    left: 0;
    top: 0;
    overflow: visible;
    pointer-events: none;
    z-index: 6;
  }
  .pulling path {
    stroke: var(--color-accent);
    stroke-width: 3;
    stroke-linecap: round;
    fill: none;
  }
  .empty {
    position: absolute;
    left: 104px;
    top: 10px;
    padding: 8px 12px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-content);
    cursor: default;
  }
  .hint {
    position: absolute;
    left: 50%;
    bottom: 12px;
    transform: translateX(-50%);
    background: var(--color-base-content);
    color: var(--color-base-100);
    padding: 4px 10px;
    pointer-events: none;
  }
  .tools > button {
    background: var(--color-base-100);
    border-color: var(--color-base-300);
  }
  .tools {
    position: absolute;
    right: 10px;
    bottom: 8px;
    display: flex;
    gap: 2px;
    cursor: default;
  }
</style>
