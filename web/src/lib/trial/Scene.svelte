<script lang="ts">
  import { findRule, own, type Event } from '@crow-lane/core/document/types';
  import { isWalked } from '@crow-lane/core/plan/grown';
  import { active, bottom } from '@crow-lane/core/play/state';
  import { messageIn } from '@crow-lane/core/play/messages';
  import { metIn } from '@crow-lane/core/trial/objectives';
  import { slotCards } from '@crow-lane/core/trial/slots';
  import { same } from '@crow-lane/core/document/same';
  import { placeName } from '@crow-lane/core/words/words';
  import { timed } from '@crow-lane/core/document/numbers';
  import { transitionWords } from '$lib/parts/transition.ts';
  import { playContext } from '$lib/flow/play-context.ts';
  import SlotCard from '$lib/parts/SlotCard.svelte';
  import TimeBar from '$lib/parts/TimeBar.svelte';
  import Control from './Control.svelte';
  import Ground from './Ground.svelte';
  import Pieces from './Pieces.svelte';
  import PlanWalk from './PlanWalk.svelte';
  import type { Choice } from '$lib/flow/session.svelte.ts';
  import { placeKinds } from '@crow-lane/core/vocabulary/places';

  /** The place as the player meets it: a mock-up of the flow, with what each control would do. */
  const { flow, session, plain } = playContext();
  const trial = $derived(session.trial!);
  const state = $derived(session.seen!);
  const top = $derived(active(state));
  const message = $derived(messageIn(trial.flow, state));
  const place = $derived(flow.document.places[top.place]);
  const base = $derived(bottom(state).place);
  const level = $derived(place?.kind === 'level' ? place : undefined);
  const isInside = $derived(state.spot !== null && state.stack.length === 1);
  const isOnPlan = $derived(isInside && level !== undefined && isWalked(flow.document, level));
  const met = $derived(metIn(trial.flow, state));
  /** Where in the level the player arrived, where it has such places. */
  const arrived = $derived.by(() => {
    const { latest } = state;
    if (!level || latest?.level !== base) return undefined;
    return latest.entry === null ? Object.values(level.entries)[0] : own(level.entries, latest.entry);
  });
  /** The row that was drawn for this run, and which of its levels is played. */
  const rows = $derived(
    Object.entries(state.orders).flatMap(([id, { row, position }]) => {
      const order = own(flow.document.orders, id);
      const levels = order?.draw === 'table' ? order.rows[row] : undefined;
      return order && levels ? [{ id, name: order.name, levels, at: position }] : [];
    })
  );

  const presses = $derived(session.choices.filter(({ event }) => 'press' in event));
  const slots = $derived(session.choices.filter(({ event }) => 'slot' in event));
  const cards = $derived(slotCards(trial.flow, state));
  const picks = $derived(session.choices.filter(({ event }) => 'choose' in event));
  /** What time brings next, in its true order. */
  const clock = $derived(session.choices.find(({ event }) => session.moment && same(event, session.moment.event)));
  /** Levels that a select lists and that are not open now. */
  const locked = $derived.by(() => {
    const open = new Set(picks.map(({ event }) => ('choose' in event ? event.choose : '')));
    const orders = trial.flow
      .applying(top.place, base)
      .by.choose.flatMap(({ rule }) =>
        'choose' in rule.when ? (own(flow.document.orders, rule.when.choose)?.levels ?? []) : []
      );
    return [...new Set(orders)].filter((id) => !open.has(id));
  });
  const keyOf = (event: Event) => {
    if (!('press' in event)) return undefined;
    const rule = trial.flow
      .applying(top.place, base)
      .by.press.find((each) => 'press' in each.rule.when && each.rule.when.press === event.press);
    return rule && 'press' in rule.rule.when ? rule.rule.when.key : undefined;
  };
  /** How a control looks while none of its rules would do anything: dimmed, or hidden, which is shown as such. */
  function looks({ event, line }: Choice): string {
    if (state !== trial.state || !('press' in event) || line.fired.length > 0) return '';
    const rules = trial.flow.applying(top.place, base).by.press.filter(({ rule }) => rule.when.press === event.press);
    return rules.some(({ rule }) => rule.when.idle === 'hidden') ? 'hidden-now' : 'dimmed';
  }
  /** Seconds until the next deadline here. */
  const left = $derived.by(() => {
    const at = trial.flow.applying(top.place, base).deadlines[top.phase];
    return at === undefined || !due ? undefined : Math.max(0, at - due.now);
  });
  const due = $derived.by(() => {
    const { moment } = session;
    if (!moment) return undefined;
    const { at, reached } = moment;
    return { at, now: Math.min(at, reached + (session.elapsed[state.stack.length - 1] ?? 0)) };
  });
</script>

<section class="scene" aria-label="What the player sees">
  <div class="room">
    {#each state.stack.slice(0, -1) as frame, index (index)}
      <p class="under">
        {placeName(flow.document, frame.place)}{#if !plain}<span class="dim">{' '}paused under it</span>{/if}
      </p>
    {/each}
    <div class="place" data-kind={place?.kind} inert={session.moving !== undefined}>
      <h2>
        {place?.name}
        {#if place && !plain}<span class="dim">{placeKinds[place.kind].hint}</span>{/if}
      </h2>
      {#if level?.brief && !plain}<p class="brief dim">{level.brief}</p>{/if}
      {#if !plain && (arrived || rows.length > 0)}
        <p class="dim">
          {#if arrived}arrived at {arrived.name}{arrived.facing ? `, facing ${arrived.facing}` : ''}{/if}
          {#each rows as { id, name, levels, at } (id)}
            <span class="drawn"
              >{name}: {#each levels as level, index (index)}<span class:now={index === at}
                  >{placeName(flow.document, level)}</span
                >{index < levels.length - 1 ? ' · ' : ''}{/each}</span
            >
          {/each}
        </p>
      {/if}
      {#if level && Object.keys(level.objectives).length > 0}
        <ul class="objectives" aria-label="Objectives">
          {#each Object.entries(level.objectives) as [objective, { text, needed }] (objective)}
            {@const done = met.includes(objective)}
            <li class:done data-objective={objective}>
              <span aria-hidden="true">{done ? '✓' : '○'}</span>
              {text}{#if needed && !plain}<span class="dim">, needed to win</span>{/if}<span class="sr-only"
                >{done ? ', met' : ', not met'}</span
              >
            </li>
          {/each}
        </ul>
      {/if}
      {#if message}<p class="message">{message}</p>{/if}
      {#if level}
        {#if isOnPlan}{#key level}<PlanWalk id={base} {level} />{/key}
        {:else if isInside}<Ground id={base} {level} />{/if}
        <Pieces id={base} {level} isWalked={isOnPlan} />
      {/if}
      {#if slots.length > 0}
        <ol class="slots" aria-label="Saved games to pick">
          {#each cards as card (card.slot)}
            {@const choice = slots.find(({ event }) => 'slot' in event && event.slot === card.slot)}
            <li>
              {#if choice}
                <Control {choice} look="card"><SlotCard {card} /></Control>
              {:else}<SlotCard {card} />{/if}
            </li>
          {/each}
        </ol>
      {/if}
      {#if picks.length + locked.length > 0}
        <ol class="open">
          {#each picks as choice (JSON.stringify(choice.event))}
            <li>
              <Control {choice} look="whole"
                >{'choose' in choice.event ? placeName(flow.document, choice.event.choose) : ''}</Control
              >
            </li>
          {/each}
          {#each locked as id (id)}<li class="locked">{placeName(flow.document, id)} <span class="dim">locked</span></li>{/each}
        </ol>
      {/if}
      <p class="buttons">
        {#each presses as choice (JSON.stringify(choice.event))}
          {@const key = keyOf(choice.event)}
          {@const look = looks(choice)}
          {#if !plain || look !== 'hidden-now'}<Control
              {choice}
              look="main {look}"
              title={look === 'hidden-now' ? 'hidden from the player now' : undefined}
              >{'press' in choice.event ? choice.event.press : ''}{#if key}<kbd>{key}</kbd>{/if}</Control
            >{/if}
        {/each}
      </p>
      {#if plain}
        {#if level && left !== undefined}
          <p class="clock">{left.toFixed(0)} s left</p>
        {/if}
        {#if clock && session.speed === 0}<p class="clock"><Control choice={clock}>Let the time pass</Control></p>{/if}
      {:else if clock && due}
        <p class="clock">
          <progress value={due.now} max={due.at}></progress>
          {due.now.toFixed(1)} of {due.at} s{#if 'every' in clock.event}, when a clock ticks{/if}
          <Control choice={clock}>Let the time pass</Control>
        </p>
      {/if}
      {#if session.choices.length === 0}<p class:lost={!plain}>
          {plain ? 'This is the end.' : 'Nothing more can happen here.'}
        </p>{/if}
      {#if session.moving}
        {@const { rule, part, lasts } = session.moving}
        <div
          class="cover"
          data-style={rule.by!.style}
          data-part={part}
          style:--cover={rule.by!.colour ?? '#000000'}
          style:--lasts="{lasts}s"
        >
          <i></i>
        </div>
      {/if}
    </div>
    {#if !plain && findRule(flow.document, trial.lines.at(-1)?.fired.at(-1) ?? '')?.rule.by?.sound}
      <p class="dim sound">sound: {findRule(flow.document, trial.lines.at(-1)!.fired.at(-1)!)!.rule.by!.sound}</p>
    {/if}
  </div>
  {#if session.moving && !plain}
    {@const { rule, part } = session.moving}
    <div class="moving" role="status">
      <b>{transitionWords(timed(flow.document, rule.by!))}</b>
      <div class="bar">
        <TimeBar owner={{ place: base }} by={rule.by!} effects={rule.do ?? []} now={part} />
      </div>
      <span>Nothing else can happen meanwhile.</span>
      <button type="button" class="btn btn-xs" onclick={() => (session.moving = undefined)}>Skip</button>
    </div>
  {/if}
</section>

<style>
  .scene {
    position: relative;
    display: grid;
    min-height: 0;
  }
  .room {
    overflow: auto;
    padding: 12px 18px;
    background: var(--color-base-200);
  }
  .objectives {
    margin: 4px 0;
    font-size: 13px;
  }
  .objectives .done {
    color: var(--won);
  }
  .brief {
    font-style: italic;
  }
  .drawn {
    margin-left: 10px;
  }
  .drawn:first-child {
    margin-left: 0;
  }
  .now {
    color: var(--color-base-content);
    font-weight: 700;
    border-bottom: 2px solid var(--color-accent);
  }
  .slots {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .under {
    padding: 3px 10px;
    border: 1px dashed var(--color-base-300);
    border-bottom: 0;
    margin: 0 14px;
    opacity: 0.75;
  }
  .place {
    position: relative;
    border: 2px solid var(--color-base-content);
    background: var(--color-base-100);
    padding: 12px 16px;
    min-height: 180px;
  }
  .place[data-kind='level'] {
    border-top: 10px solid var(--road);
  }
  .place[data-kind='menu'] {
    border-bottom: 8px solid var(--plain);
  }
  .place[data-kind='interlude'] {
    border-left: 8px solid var(--dim);
  }
  .place[data-kind='ending'] {
    border-right: 10px double var(--color-base-content);
  }
  h2 {
    font-size: 20px;
    margin-bottom: 6px;
  }
  h2 span {
    font-size: 12px;
    font-weight: 400;
    margin-left: 8px;
  }
  .message {
    font-size: 15px;
    margin-bottom: 10px;
    white-space: pre-line;
  }
  .buttons,
  .clock {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
  }
  .buttons,
  .clock {
    margin-top: 12px;
  }
  .open {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
    gap: 5px;
  }
  .locked {
    padding: 5px 9px;
    border: 1px dashed var(--color-base-300);
    color: var(--dim);
  }
  kbd {
    margin-left: 8px;
    padding: 0 4px;
    font-size: 11px;
    border: 1px solid var(--color-base-300);
  }
  progress {
    width: 140px;
    height: 12px;
    appearance: none;
    border: 1px solid var(--color-base-content);
  }
  progress::-webkit-progress-bar {
    background: var(--tile);
  }
  progress::-webkit-progress-value,
  progress::-moz-progress-bar {
    background: var(--color-accent);
  }
  /* What covers the place, and in its last part uncovers the next one. */
  .cover {
    position: absolute;
    inset: 0;
    overflow: hidden;
    pointer-events: none;
  }
  .cover i {
    position: absolute;
    inset: 0;
    background: var(--cover);
    animation: fade var(--lasts) linear both;
  }
  .cover[data-part='wait'] i {
    visibility: hidden;
  }
  .cover[data-part='hold'] i {
    animation: none;
  }
  .cover[data-style='cut'] i {
    animation-timing-function: step-end;
  }
  .cover[data-style='slide'] i {
    animation-name: slide;
  }
  /* A hole in the middle that closes: what is around it is its shadow. */
  .cover[data-style='iris']:not([data-part='hold']) i {
    inset: 50% auto auto 50%;
    aspect-ratio: 1;
    border-radius: 50%;
    translate: -50% -50%;
    background: none;
    box-shadow: 0 0 0 3000px var(--cover);
    animation-name: iris;
  }
  .cover[data-part='in'] i {
    animation-direction: reverse;
  }
  @keyframes fade {
    from {
      opacity: 0;
    }
  }
  @keyframes slide {
    from {
      translate: 100% 0;
    }
  }
  @keyframes iris {
    from {
      width: 150%;
    }
    to {
      width: 0;
    }
  }
  @media (prefers-reduced-motion: reduce) {
    .cover i {
      animation-name: fade !important;
      animation-timing-function: step-end;
    }
  }
  .moving {
    position: absolute;
    inset: auto 18px 12px;
    display: grid;
    justify-items: center;
    gap: 6px;
    padding: 8px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-content);
  }
  .bar {
    width: min(420px, 100%);
  }
  .sound {
    margin-top: 4px;
    font-size: 12px;
  }
</style>
