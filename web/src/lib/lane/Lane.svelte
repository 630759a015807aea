<script lang="ts">
  import { onMount, tick, untrack } from 'svelte';
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { leadTo } from '@crow-lane/core/document/edits/rules';
  import { insertPlace } from '@crow-lane/core/document/edits/between';
  import { numbersOf } from '@crow-lane/core/document/orders';
  import type { Id } from '@crow-lane/core/document/types';
  import { wayAt, type Way } from '@crow-lane/core/lane/hit';
  import type { Row } from '@crow-lane/core/lane/layout';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Flight from './Flight.svelte';
  import { follow } from '$lib/parts/follow.ts';
  import { moveAlong } from '$lib/flow/move.ts';
  import { laneOf } from './lane-of.ts';
  import Overview from './Overview.svelte';
  import Rows from './Rows.svelte';
  import Routes from './Routes.svelte';
  import { Sight } from './sight.svelte.ts';
  import Tile from './Tile.svelte';
  import Tools from './Tools.svelte';
  import Trail from './Trail.svelte';
  import { neighbour } from './walk.ts';
  import { placeKinds, placeKindsInOrder } from '@crow-lane/core/vocabulary/places';

  const { flow, view, runs } = flowContext();
  const lane = $derived(laneOf(flow.drawn));
  /** The kind of the places that stand in a row. */
  const kindIn = (row: Row) => placeKindsInOrder.find((kind) => placeKinds[kind].row === row.kind)!;

  let box: HTMLDivElement;
  const sight = new Sight(() => lane);
  const tiles = $derived([...lane.tiles.values()].filter((tile) => tile.x + tile.width >= sight.from && tile.x <= sight.to));
  const place = $derived(new Map([...lane.tiles.keys()].map((id, index) => [id, index + 1])));

  /** Beside the selected place only those it leads to or that lead to it stay bright. */
  const bright = $derived.by(() => {
    const { selected } = view;
    if (selected === undefined || view.shown) return undefined;
    const found = new Set<string>([selected, ...view.also]);
    for (const route of lane.routes) {
      if (route.to === selected) route.feeders.forEach(({ from }) => found.add(from));
      if (!route.feeders.some(({ from }) => from === selected)) continue;
      for (const to of route.levels ?? (route.to === undefined ? [] : [route.to])) found.add(to);
    }
    return found;
  });

  function wheel(event: WheelEvent) {
    event.preventDefault();
    if (event.ctrlKey || event.metaKey) {
      const { left, top } = box.getBoundingClientRect();
      sight.zoomTo(sight.zoom * Math.exp(-event.deltaY / 400), { x: event.clientX - left, y: event.clientY - top });
      return;
    }
    sight.moveTo(sight.x - (event.shiftKey ? event.deltaY : event.deltaX), sight.y - (event.shiftKey ? 0 : event.deltaY));
  }

  onMount(() => {
    const end = sight.begin();
    box.addEventListener('wheel', wheel, { passive: false });
    return () => {
      end();
      box.removeEventListener('wheel', wheel);
    };
  });

  let brought: typeof view.seek;
  $effect(() => {
    const { seek } = view;
    if (!seek || seek === brought || flow.drawn !== flow.document) return;
    brought = seek;
    untrack(() => sight.bring(seek.place));
  });

  /** A drag over empty lane moves the picture. */
  function grab(event: PointerEvent) {
    if (event.button !== 0 || (event.target as Element).closest('[data-place], button')) return;
    const start = { px: event.clientX, py: event.clientY, x: sight.x, y: sight.y };
    let moved = false;
    follow(
      (move) => {
        moved ||= Math.hypot(move.clientX - start.px, move.clientY - start.py) > 4;
        if (moved) sight.moveTo(start.x + move.clientX - start.px, start.y + move.clientY - start.py);
      },
      () => {
        if (!moved) view.select(undefined);
      }
    );
  }

  /** A pull from a tile's edge: where it is now, in the lane's own measure, and what is under it. */
  type Under = { is: 'place'; to: Id } | { is: 'way'; way: Way; own: boolean } | { is: 'row'; row: Row };
  let pull: { from: Id; x: number; y: number; under: Under | undefined } | undefined = $state.raw();

  function startPull(event: PointerEvent, from: Id) {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    const track = (move: PointerEvent) => {
      const bounds = box.getBoundingClientRect();
      const at = sight.inLane(move, bounds);
      const over = document.elementFromPoint(move.clientX, move.clientY)?.closest<HTMLElement>('[data-place]')?.dataset.place;
      const inside =
        move.clientX >= bounds.left &&
        move.clientX <= bounds.right &&
        move.clientY >= bounds.top &&
        move.clientY <= bounds.bottom;
      const under =
        over === undefined
          ? inside
            ? freeAt(at, from)
            : undefined
          : over === from
            ? undefined
            : { is: 'place' as const, to: over };
      pull = { from, ...at, under };
    };
    track(event);
    follow(track, (up) => {
      const under = up && pull?.under;
      pull = undefined;
      if (!under) return;
      if (under.is === 'place') wire(from, under.to);
      else if (under.is === 'row') view.dialog = { is: 'place', from, kind: kindIn(under.row), order: under.row.order };
      else if (under.own) view.dialog = { is: 'place', kind: 'interlude', into: under.way };
      else {
        flow.edit(insertPlace(flow.document, under.way.rules, under.way.to, from));
        view.select(from, false);
      }
    });
  }

  /** Beside the tiles: a way that something can be put into, else the row for a new place. */
  function freeAt(at: { x: number; y: number }, from: Id): Under | undefined {
    const way = wayAt(lane, at, 6 / sight.zoom);
    if (way && way.to !== from) return { is: 'way', way, own: way.from.includes(from) };
    const row = rowAt(at.y);
    return row && { is: 'row', row };
  }

  function wire(from: Id, to: Id) {
    flow.edit(leadTo(flow.document, from, to));
    view.select(from, false);
  }

  function rowAt(at: number): Row | undefined {
    const distance = (each: Row) => Math.max(each.y - at, at - each.y - each.height, 0);
    return lane.rows.reduce<Row | undefined>((best, row) => (!best || distance(row) < distance(best) ? row : best), undefined);
  }

  const hint = $derived.by(() => {
    const under = pull?.under;
    if (!under || under.is === 'place') return undefined;
    if (under.is === 'row') return `Let go to make a new ${placeKinds[kindIn(under.row)].words} here`;
    const before = under.way.to === undefined ? 'in this move' : `before ${placeName(flow.document, under.way.to)}`;
    return `Let go to put ${under.own ? 'a new place' : placeName(flow.document, pull!.from)} ${before}`;
  });

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
        const at = sight.inLane(move, box.getBoundingClientRect()).x;
        const others = tiles.filter((each) => each!.place !== level);
        const to = others.filter((each) => each!.x + each!.width / 2 < at).length;
        const last = tiles.at(-1)!;
        const line = others[to] ? others[to].x - 7 : last.x + last.width + 7;
        drag = { level, x: at, to, line: { x: line, y: tile.y, height: tile.height } };
      },
      (up) => {
        const done = drag;
        drag = undefined;
        if (!up || !done || levels.indexOf(level) === done.to) return;
        moveAlong(flow, order, [level], done.to);
      }
    );
  }

  /** Moves the selected level along its order. */
  function reorder(level: Id, by: 1 | -1) {
    const [found] = numbersOf(flow.document, level);
    const to = (found?.number ?? 0) - 1 + by;
    if (found && to >= 0 && to < flow.document.orders[found.order]!.levels.length) {
      moveAlong(flow, found.order, [level], to);
      view.seek = { place: level };
    }
  }

  async function walk(key: string, extend: boolean) {
    const { selected } = view;
    const to = neighbour(lane, selected, key);
    if (to === undefined) return;
    // with Shift the selection grows along the way
    const also = extend && selected !== undefined ? new Set([...view.also, selected]) : new Set<Id>();
    view.select(to);
    also.delete(to);
    view.also = also;
    await tick();
    focusTile(to);
  }

  /** What a key alone does; those in the second list want a selected place. */
  const acts: Record<string, () => void> = {
    '+': () => sight.zoomTo(sight.zoom * 1.2),
    '=': () => sight.zoomTo(sight.zoom * 1.2),
    '-': () => sight.zoomTo(sight.zoom / 1.2),
    '0': () => sight.zoomTo(1),
    f: () => sight.fit(),
    l: () => (view.listed = true),
    n: () => (view.dialog = { is: 'place', kind: 'level' })
  };
  const actsOnPlace: Record<string, (place: Id) => void> = {
    '.': (place) => (view.seek = { place }),
    d: async (place) => {
      const copy = flow.duplicate(place);
      await drawn();
      view.select(copy);
      await tick();
      focusTile(copy);
    },
    m: (from) => (view.dialog = { is: 'move', from }),
    o: (from) => flow.document.places[from]!.kind === 'level' && (view.dialog = { is: 'door', from }),
    g: (level) => void toPlan(level),
    Delete: () => (view.dialog = { is: 'delete', places: view.all }),
    Backspace: () => (view.dialog = { is: 'delete', places: view.all }),
    Enter: () => document.querySelector<HTMLElement>('#desk button, #desk input')?.focus(),
    Escape: () => view.select(undefined)
  };

  async function toPlan(level: Id) {
    if (flow.document.places[level]?.kind !== 'level') return;
    // the level is the selected one
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'plan' }));
  }

  function key(event: KeyboardEvent) {
    const { selected } = view;
    if (event.altKey && selected !== undefined && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      event.preventDefault();
      reorder(selected, event.key === 'ArrowLeft' ? -1 : 1);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || view.dialog) return;
    // a button among the tools is pressed by its own keys
    const onTool = (event.target as Element).closest('.tools, .empty') !== null;
    const act = acts[event.key];
    const onPlace = actsOnPlace[event.key];
    if (/^(Arrow|Home|End)/.test(event.key)) void walk(event.key, event.shiftKey);
    else if (act) act();
    else if (onPlace && selected !== undefined && !onTool) onPlace(selected);
    else return;
    event.preventDefault();
  }

  /** The keys that the desk shows beside what they do, on its buttons. */
  function asksOnDesk({ key: pressed, target }: KeyboardEvent): boolean {
    const on = target as Element;
    return (
      (pressed === 'm' || pressed === 'o') &&
      on.closest('#desk') !== null &&
      on.matches('button, a, summary') &&
      !on.closest('[popover]')
    );
  }

  /** Until the picture shows what has just been done. */
  async function drawn() {
    await tick();
    await new Promise((next) => setTimeout(next));
    await tick();
  }

  function focusTile(place: Id) {
    box.querySelector<HTMLElement>(`[data-place="${place}"] .face`)?.focus({ preventScroll: true });
  }
</script>

<!-- while nothing has the focus, as on a flow that was just opened, its keys are the lane's -->
<svelte:window onkeydown={(event) => (event.target === document.body || asksOnDesk(event)) && key(event)} />

<!-- the picture is one control: its keys walk it, its empty ground is dragged -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="lane"
  bind:this={box}
  bind:clientWidth={sight.width}
  bind:clientHeight={sight.height}
  role="application"
  aria-label="The lane: all places of the flow. Arrow keys walk it."
  onpointerdown={grab}
  onkeydown={key}
>
  <Rows {lane} {sight} wanted={pull?.under?.is === 'row' ? pull.under.row : undefined} />
  <div
    class="world"
    style:transform="translate({sight.x}px, {sight.y}px) scale({sight.zoom})"
    style:width="{lane.width}px"
    style:height="{lane.height}px"
  >
    {#each lane.stretches as stretch, index (index)}
      <div class="stretch" style:left="{stretch.x}px" style:top="{stretch.y + 3}px" style:width="{stretch.width}px">
        {stretch.name}
      </div>
    {/each}
    {#if sight.begun}
      <Routes
        {lane}
        from={sight.from}
        to={sight.to}
        selected={view.shown ? undefined : view.selected}
        unused={runs.marked && runs.unused ? new Set(runs.unused.rules) : undefined}
      />
    {/if}
    <ul class="tiles" aria-label="Places">
      {#each tiles as tile (tile.place)}
        <li aria-setsize={lane.tiles.size} aria-posinset={place.get(tile.place)}>
          <Tile
            {tile}
            far={sight.far}
            near={sight.near}
            selected={view.selected === tile.place}
            reached={view.selected === undefined ? tile === tiles[0] : view.selected === tile.place}
            dimmed={bright !== undefined && !bright.has(tile.place)}
            target={pull?.under?.is === 'place' && pull.under.to === tile.place}
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
    {#if view.selected !== undefined && !view.shown}<Trail {lane} selected={view.selected} />{/if}
    {#if view.shown}<Flight document={flow.drawn} {lane} steps={view.shown.steps} at={view.shown.at} />{/if}
    {#if pull}
      {@const from = lane.tiles.get(pull.from)!}
      <svg class="pulling" width={lane.width} height={lane.height} aria-hidden="true">
        <path d="M{from.x + from.width} {from.y + from.height - 15}L{pull.x} {pull.y}" />
      </svg>
    {/if}
  </div>
  {#if lane.tiles.size === 0}
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
  {#if hint}<p class="hint">{hint}</p>{/if}
  {#if lane.tiles.size >= 40}
    <Overview
      {lane}
      left={-sight.x / sight.zoom}
      right={(-sight.x + sight.width) / sight.zoom}
      onmove={(to) => sight.moveTo(sight.width / 2 - to * sight.zoom, sight.y)}
    />
  {/if}
  <Tools {sight} />
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
</style>
