<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import type { Cell, Id, Level, PlanThing } from '@crow-lane/core/document/types';
  import { widthOf } from '@crow-lane/core/plan/draw';
  import { foeShapes, planShapes } from '@crow-lane/core/plan/picture';
  import type { Keys } from '@crow-lane/core/plan/walk';
  import { playContext } from '$lib/flow/play-context.ts';
  import { onTheme, paintCrow, paintGrid, paintPaper, paintShapes, paletteOf, type Sight } from '$lib/parts/plan-canvas.ts';
  import { padHeld } from './pad.ts';
  import Passages, { walksIn } from './Passages.svelte';
  import { walkingIn } from './walking.svelte.ts';

  /** The plan with the player on it, moved by keys, touch or gamepad, or sent to a cell. */
  let { id, level }: { id: Id; level: Level } = $props();
  const { flow, session, plain } = playContext();
  const walking = untrack(() => walkingIn(session, id));
  const plan = $derived(level.plan!);
  let canvas: HTMLCanvasElement;
  let width = $state(0);
  let theme = $state(0);
  let told = $state('');
  let keys: Keys = $state.raw({});
  const [w, h] = $derived([widthOf(plan), plan.rows.length]);
  const size = $derived(Math.max(14, Math.min(30, Math.floor((width - 4) / w), Math.floor(300 / h))));
  const height = $derived(Math.min(300, h * size));

  $effect(() => {
    void session.trial?.lines;
    untrack(() => walking.follow());
  });

  const names: Record<string, keyof Keys> = {
    ArrowLeft: 'left',
    ArrowRight: 'right',
    ArrowUp: 'up',
    ArrowDown: 'down',
    u: 'use'
  };
  const isTyped = (event: KeyboardEvent) =>
    event.ctrlKey || event.metaKey || event.altKey || (event.target as HTMLElement).matches('input, select, textarea');

  function down(event: KeyboardEvent) {
    const name = names[event.key];
    if (walking.foes && event.key === 'w' && !isTyped(event)) walking.step({});
    if (!name || isTyped(event)) return;
    event.preventDefault();
    if (event.repeat) return;
    press(name);
  }
  function press(name: keyof Keys) {
    keys = { ...keys, [name]: true };
    // a press is a tick of its own: the next ones come by the clock
    walking.step(keys);
    began = performance.now();
  }
  function release(name: keyof Keys | undefined) {
    if (name) keys = { ...keys, [name]: false };
  }

  let began = 0;
  onMount(() => {
    const dim = onTheme(() => theme++);
    let frame = 0;
    const look = (now: number) => {
      const held = { ...keys, ...padHeld() };
      const isHeld = Object.values(held).some(Boolean);
      // a way that was asked for is gone quickly
      const foes = walking.foes !== undefined;
      const pace = walking.ahead.length > 0 ? (foes ? 2 : 4) : (foes && session.speed) || 1.5;
      const each = 1000 / (walking.speed * pace);
      // foes go on by the clock; while it stands they go as the player does
      if ((isHeld || walking.isOnTheMove || (foes && session.speed > 0)) && now - began >= each) {
        began = now;
        walking.step(held);
      }
      frame = requestAnimationFrame(look);
    };
    frame = requestAnimationFrame(look);
    return () => {
      cancelAnimationFrame(frame);
      dim();
    };
  });

  /** The view follows the player where not all of the plan is seen. */
  const sight: Sight = $derived.by(() => {
    const [x, y] = walking.cell;
    const along = (at: number, all: number, seen: number) =>
      all * size <= seen ? (seen - all * size) / 2 : Math.min(0, Math.max(seen - all * size, seen / 2 - at * size));
    return { size, x: along(x, w, width), y: along(y, h, height) };
  });

  function point(event: MouseEvent) {
    const box = canvas.getBoundingClientRect();
    send([Math.floor((event.clientX - box.left - sight.x) / size), Math.floor((event.clientY - box.top - sight.y) / size)]);
  }
  function send(to: Cell) {
    const why = walking.go(to);
    told = why === undefined ? '' : `No route leads to ${to.join(', ')} now${why === 'foes' ? ' without meeting a foe' : ''}.`;
  }

  /** What can be walked to by name. */
  const targets = $derived([
    ...walking.plotted.derived.placed
      .filter(({ cell }) => !walking.taken.has(walking.plotted.ground.at(...cell)!))
      .map(({ piece, cell }) => ({ cell, name: `${level.pieces[piece]?.name ?? piece} at ${cell.join(', ')}` })),
    ...Object.values(walking.plotted.derived.spots).map(({ name, cells }) => ({ cell: cells[0]!, name }))
  ]);

  $effect(() => {
    void theme;
    const at = canvas.getContext('2d')!;
    const scale = devicePixelRatio;
    canvas.width = Math.round(width * scale);
    canvas.height = Math.round(height * scale);
    if (width === 0) return;
    at.scale(scale, scale);
    const palette = paletteOf(canvas);
    paintPaper(at, sight, w, h, palette);
    paintGrid(at, sight, w, h, palette);
    paintShapes(
      at,
      [...planShapes(level, left), ...foeShapes(level, plan, (id) => walking.foes?.cellOf(id))],
      sight,
      palette,
      getComputedStyle(canvas).fontFamily
    );
    paintCrow(at, walking.cell, sight, palette);
  });
  /** What has been taken is gone, and gates that are open are drawn no longer. */
  const left = $derived({
    ...plan,
    things: Object.fromEntries(
      Object.entries(plan.things ?? {}).flatMap(([name, thing]): [Id, PlanThing][] => {
        if ('entry' in thing) return [];
        if ('gate' in thing) return session.trial && walking.holds([thing.gate]) ? [] : [[name, thing]];
        return [
          [name, { ...thing, cells: thing.cells.filter((cell) => !walking.taken.has(walking.plotted.ground.at(...cell)!)) }]
        ];
      })
    )
  });
  const spotName = $derived(level.spots[session.seen?.spot ?? '']?.name ?? '');
</script>

<svelte:window onkeydown={down} onkeyup={(event) => release(names[event.key])} onblur={() => (keys = {})} />
<div
  class="walk"
  data-cell={walking.cell.join(',')}
  data-foes={walking.foes?.left.map(({ id }) => walking.foes!.cellOf(id)!.join(',')).join(' ')}
  data-moving={walking.isOnTheMove || undefined}
>
  <div class="frame" bind:clientWidth={width}>
    <canvas
      bind:this={canvas}
      aria-label="{level.name}: the player is at {walking.cell.join(', ')}, {spotName}"
      title="Walk there"
      style:width="{width}px"
      style:height="{height}px"
      onclick={point}
    ></canvas>
  </div>
  <p class="acts">
    <span class="pad" role="group" aria-label="Move">
      {#each [['left', '←'], ['up', '↑'], ['down', '↓'], ['right', '→']] as const as [name, sign] (name)}
        <button
          type="button"
          class="btn btn-xs"
          aria-label={name}
          onpointerdown={() => press(name)}
          onpointerup={() => release(name)}
          onpointerleave={() => release(name)}
          onkeydown={(event) => {
            if (event.key === 'Enter' || event.key === ' ') walking.step({ [name]: true });
          }}>{sign}</button
        >
      {/each}
    </span>
    {#if walking.foes}<button
        type="button"
        class="btn btn-xs"
        title="A tick passes: foes go on, the player stays"
        onclick={() => walking.step({})}>Wait (w)</button
      >{/if}
    {#if walking.hasLink}<button type="button" class="btn btn-xs" onclick={() => walking.step({ use: true })}
        >Take the link (u)</button
      >{/if}
    <select
      class="select select-xs"
      aria-label="Walk to"
      value=""
      onchange={(event) => {
        const found = targets[Number(event.currentTarget.value)];
        event.currentTarget.value = '';
        if (found) send(found.cell);
      }}
    >
      <option value="">Walk to…</option>
      {#each targets as { name }, index (index)}<option value={index}>{name}</option>{/each}
    </select>
    {#if !plain}<button type="button" class="btn btn-xs" onclick={() => walking.restart()}>Restart the level</button>{/if}
    {#if !plain && walking.hasRoute && !walking.isOnTheMove}<button
        type="button"
        class="btn btn-xs"
        title="What has happened since the player arrived, cell by cell"
        onclick={() => walking.show()}>Watch the route</button
      >{/if}
    {#if told}<span class="lost" role="status">{told}</span>{:else if !plain}<span class="dim"
        >{walking.cell.join(', ')}, {spotName}</span
      >{/if}
  </p>
  {#if !plain}<Passages {id} {level} walks={walksIn(session)} />{/if}
  <p class="sr-only" aria-live="polite">{flow.document.places[id]?.name}: {walking.cell.join(', ')}, {spotName}</p>
</div>

<style>
  .walk {
    margin: 6px 0;
  }
  .frame {
    overflow: hidden;
    border: 1px solid var(--color-base-300);
    background: var(--color-base-200);
  }
  canvas {
    display: block;
    cursor: pointer;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    margin-top: 6px;
  }
  .pad {
    display: flex;
    gap: 2px;
  }
  select {
    width: 190px;
  }
</style>
