<script lang="ts" module>
  import type { Id } from '@crow-lane/core/document/types';

  /** What is chosen on a map. */
  export type OnGround = { spot: Id } | { passage: Id };
  /** Of what never happens there is told why. */
  export interface Marks {
    spots: ReadonlyMap<Id, string>;
    passages: ReadonlyMap<Id, string>;
    /** Passages by which there is no way back. */
    drops: ReadonlySet<Id>;
  }
</script>

<script lang="ts">
  import type { Level } from '@crow-lane/core/document/types';
  import { passageAsks, roomThatWay, type Point } from '@crow-lane/core/lane/ground-picture';
  import { passageName } from '@crow-lane/core/words/words';
  import { playContext } from '$lib/flow/play-context.ts';

  /** A level's inside: spots as rooms in which their pieces stand, passages between them. Laid out by itself. */
  let {
    id,
    chosen,
    here,
    open,
    left,
    marks,
    onchoose,
    onpull
  }: {
    id: Id;
    chosen?: OnGround | undefined;
    /** In a trial: where the player is, and which passages can be taken now. */
    here?: Id | undefined;
    open?: ReadonlySet<Id>;
    /** How many are left of a piece at a spot; all where nothing is said. */
    left?: (piece: Id, spot: Id) => number;
    marks?: Marks;
    onchoose: (what: OnGround) => void;
    /** A pull from one spot to another. */
    onpull?: (from: Id, to: Id) => void;
  } = $props();

  const { flow, pictureOf } = playContext();
  const own = $props.id();
  const level = $derived(flow.document.places[id] as Level);
  const picture = $derived(pictureOf(id));
  const path = (points: Point[]) => points.map(([x, y], n) => `${n === 0 ? 'M' : 'L'}${x} ${y}`).join('');
  const isChosen = (what: OnGround) => JSON.stringify(what) === JSON.stringify(chosen);

  let pulling = $state<{ from: Id; x: number; y: number; over?: Id } | undefined>(undefined);
  let map: HTMLDivElement;

  function at(event: PointerEvent) {
    const box = map.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  }
  function over(event: PointerEvent, from: Id): Id | undefined {
    const found = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-spot]')?.dataset.spot;
    return found !== from ? found : undefined;
  }
  function pull(event: PointerEvent, from: Id) {
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    pulling = { from, ...at(event) };
  }
  function pulled(event: PointerEvent) {
    if (pulling) pulling = { from: pulling.from, ...at(event), over: over(event, pulling.from) };
  }
  function dropped(event: PointerEvent) {
    if (!pulling) return;
    const { from } = pulling;
    pulling = undefined;
    const to = over(event, from);
    if (to !== undefined) onpull?.(from, to);
  }

  const asks = (passage: Id) => passageAsks(flow.document, id, level.passages[passage]!);
  function passageTitle(passage: Id): string {
    const said = [passageName(flow.document, { place: id }, passage), asks(passage), marks?.passages.get(passage)];
    const drop = marks?.drops.has(passage) ? 'no way back' : undefined;
    return [...said, drop].filter(Boolean).join(', ');
  }
  /** From room to room with the arrow keys, to the nearest one that way. */
  function step(event: KeyboardEvent, from: Id) {
    const next = roomThatWay(picture, from, event.key);
    if (next === undefined) return;
    event.preventDefault();
    map.querySelector<HTMLElement>(`[data-spot="${next}"] .room`)?.focus();
  }
</script>

<div class="frame">
  <div class="map" bind:this={map} style:width="{picture.width}px" style:height="{picture.height}px">
    <svg width={picture.width} height={picture.height}>
      <defs>
        <marker id="{own}-end" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto-start-reverse">
          <path d="M0 0L8 4L0 8" fill="none" stroke="context-stroke" stroke-width="1.6" />
        </marker>
        <marker id="{own}-drop" viewBox="0 0 10 10" refX="9" refY="5" markerWidth="10" markerHeight="10" orient="auto">
          <path d="M0 1V9M4 1V9M4 5H9" fill="none" stroke="context-stroke" stroke-width="1.6" />
        </marker>
      </defs>
      {#each picture.doors as door (`${door.kind} ${door.id} ${door.spot}`)}
        {@const name =
          door.kind === 'entry' ? (door.id === null ? 'Entry' : level.entries[door.id]!.name) : level.pieces[door.id!]!.name}
        <path class="door" d={path(door.points)} />
        <path class="mark" d="M{door.x - 4} {door.y - 6}L{door.x + 4} {door.y}L{door.x - 4} {door.y + 6}Z"
          ><title>{name}</title></path
        >
      {/each}
      {#each picture.ways as way (way.id)}
        {@const passage = level.passages[way.id]!}
        {@const drop = marks?.drops.has(way.id)}
        <g
          class="way"
          class:chosen={isChosen({ passage: way.id })}
          class:never={marks?.passages.has(way.id)}
          class:open={open?.has(way.id)}
          data-passage={way.id}
          role="button"
          tabindex="0"
          aria-label={passageTitle(way.id)}
          aria-pressed={isChosen({ passage: way.id })}
          onclick={() => onchoose({ passage: way.id })}
          onkeydown={(event) => {
            if (event.key !== 'Enter' && event.key !== ' ') return;
            event.preventDefault();
            onchoose({ passage: way.id });
          }}
        >
          <title>{passageTitle(way.id)}</title>
          <path class="touch" d={path(way.points)} />
          <path d={path(way.points)} marker-end={passage.both ? undefined : `url(#${own}-${drop ? 'drop' : 'end'})`} />
          {#if way.label}
            <text x={way.middle[0]} y={way.middle[1] + 4} text-anchor="middle">{way.label}</text>
          {/if}
        </g>
      {/each}
      {#if pulling}
        {@const from = picture.rooms.find((room) => room.id === pulling!.from)!}
        <path class="pulled" d="M{from.x + from.width} {from.y + from.height - 7}L{pulling.x} {pulling.y}" />
      {/if}
    </svg>
    {#each picture.rooms as room (room.id)}
      {@const { name } = level.spots[room.id]!}
      {@const never = marks?.spots.get(room.id)}
      <div
        class="spot"
        class:never={never !== undefined}
        class:chosen={isChosen({ spot: room.id })}
        class:here={here === room.id}
        class:over={pulling?.over === room.id}
        data-spot={room.id}
        style="left: {room.x}px; top: {room.y}px; width: {room.width}px; height: {room.height}px"
      >
        <button
          type="button"
          class="room"
          title={never ?? name}
          aria-pressed={isChosen({ spot: room.id })}
          aria-current={here === room.id ? 'location' : undefined}
          onclick={() => onchoose({ spot: room.id })}
          onkeydown={(event) => here === undefined && step(event, room.id)}
        >
          <b>{name}</b>
          {#each room.pieces as { piece, n, shared } (piece)}
            {@const there = left ? left(piece, room.id) : n}
            <span class:gone={there === 0}
              >{level.pieces[piece]!.name}{#if n > 1 || left}{' '}<i>× {there}</i>{/if}{shared ? ' …' : ''}</span
            >
          {/each}
        </button>
        {#if onpull}
          <span
            class="pull"
            role="presentation"
            title="Pull to another spot: a passage"
            onpointerdown={(event) => pull(event, room.id)}
            onpointermove={pulled}
            onpointerup={dropped}
            onpointercancel={() => (pulling = undefined)}
          ></span>
        {/if}
      </div>
    {/each}
  </div>
</div>

<style>
  .frame {
    overflow: auto;
    max-height: 340px;
    border: 1px solid var(--color-base-300);
    background: var(--color-base-200);
  }
  .map {
    position: relative;
    margin: 0 auto;
  }
  svg {
    position: absolute;
    inset: 0;
  }
  path {
    fill: none;
    stroke: var(--plain);
    stroke-width: 2;
  }
  .door {
    stroke: var(--dim);
    stroke-dasharray: 2 3;
  }
  .mark {
    fill: var(--dim);
    stroke: none;
  }
  .way {
    cursor: pointer;
    outline: none;
  }
  .way .touch {
    stroke: transparent;
    stroke-width: 16;
  }
  .way.never path:not(.touch) {
    stroke: var(--lost);
    stroke-dasharray: 4 4;
  }
  .way.open path:not(.touch) {
    stroke: var(--won);
    stroke-width: 3;
  }
  .way.chosen path:not(.touch),
  .way:focus-visible path:not(.touch) {
    stroke: var(--color-accent);
    stroke-width: 4;
  }
  text {
    font-size: 10px;
    fill: var(--color-base-content);
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 4px;
    stroke-linejoin: round;
  }
  .pulled {
    stroke: var(--color-accent);
    stroke-dasharray: 5 4;
  }
  .spot {
    position: absolute;
  }
  .room {
    display: block;
    width: 100%;
    height: 100%;
    padding: 3px 6px;
    overflow: hidden;
    text-align: left;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-content);
    cursor: pointer;
  }
  .room b,
  .room span {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    line-height: 15px;
  }
  .room b {
    font-size: 12px;
  }
  .room span {
    font-size: 11px;
    color: var(--dim);
  }
  .room i {
    font-style: normal;
    font-weight: 700;
  }
  .gone {
    text-decoration: line-through;
  }
  .never .room {
    border-color: var(--lost);
    background: repeating-linear-gradient(45deg, var(--lost-wash) 0 5px, var(--color-base-100) 5px 11px);
  }
  .chosen .room,
  .over .room {
    outline: 3px solid var(--color-accent);
  }
  .here .room {
    border-width: 3px;
    background: var(--pick-wash);
  }
  .here .room::after {
    content: '';
    position: absolute;
    top: 5px;
    right: 6px;
    width: 10px;
    height: 10px;
    border-radius: 50%;
    background: var(--color-accent);
    border: 1px solid var(--color-base-content);
  }
  .pull {
    position: absolute;
    right: -1px;
    bottom: -1px;
    width: 12px;
    height: 16px;
    background: var(--color-accent);
    border: 1px solid var(--color-base-content);
    cursor: crosshair;
    touch-action: none;
    opacity: 0;
  }
  .spot:hover .pull,
  .chosen .pull,
  .spot:focus-within .pull {
    opacity: 1;
  }
</style>
