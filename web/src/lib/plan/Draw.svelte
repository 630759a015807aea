<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { removePlan } from '@crow-lane/core/document/edits/plan';
  import { own, type Cell, type Id, type PlanPatrol } from '@crow-lane/core/document/types';
  import { evenRows, isSame, resized, widthOf, withArea, withLink, withPatrol } from '@crow-lane/core/plan/draw';
  import type { Place } from '@crow-lane/core/plan/automaton';
  import { patrolName } from '@crow-lane/core/plan/fits';
  import { outOfReach } from '@crow-lane/core/plan/reach';
  import { countOf } from '@crow-lane/core/vocabulary/pieces';
  import { flowContext } from '$lib/flow/context.ts';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import Answer from './Answer.svelte';
  import BestTimes from './BestTimes.svelte';
  import Canvas from './Canvas.svelte';
  import { Drawing } from './drawing.svelte.ts';
  import Movement from './Movement.svelte';
  import { nextPoint, Playing } from './playing.svelte.ts';
  import PlanFiles from './PlanFiles.svelte';
  import Patrols from './Patrols.svelte';
  import Placed from './Placed.svelte';
  import Text from './Text.svelte';
  import { isSameTool, stampChoices, type StampChoice, type Tool } from './stamps.ts';

  /** Drawing a plan: stamps in one row, the plan, and beside it what follows from it. */
  let { id }: { id: Id } = $props();
  const { flow, session, checks } = flowContext();
  const drawing = new Drawing(
    flow,
    untrack(() => id)
  );
  const level = $derived(drawing.level!);
  const plan = $derived(drawing.plan!);
  onMount(() => () => drawing.stop());
  $effect(() => {
    void drawing.plan;
    const later = setTimeout(() => void drawing.look(), 60);
    return () => clearTimeout(later);
  });

  let tool: Tool = $state.raw({ ground: '#' });
  let way: 'paint' | 'line' | 'box' | 'fill' | 'part' = $state('paint');
  let moreGates: string[] = $state.raw([]);
  let cell: Cell = $state.raw([1, 1]);
  let showsReach = $state(true);
  let side: 'answer' | 'text' | 'placed' | 'patrols' | 'movement' = $state('answer');
  /** The points of a patrol that is being drawn. */
  let points: Cell[] = $state.raw([]);
  const playing = new Playing(flow, drawing);
  let marked: Cell[] = $state.raw([]);
  let tour: Cell[] = $state.raw([]);
  let canvas: ReturnType<typeof Canvas> | undefined = $state();

  const choices = $derived(stampChoices(flow.document, id, plan, moreGates));
  const toolName = $derived(choices.find((each) => isSameTool(each.tool, tool))?.label ?? 'stamp');
  const ways = [
    { way: 'paint', name: 'Paint', key: 'p' },
    { way: 'line', name: 'Line', key: 'l' },
    { way: 'box', name: 'Rectangle', key: 'r' },
    { way: 'fill', name: 'Fill', key: 'f' },
    { way: 'part', name: 'Part', key: 't' }
  ] as const;

  function pick({ tool: to }: StampChoice) {
    endPatrol('back');
    points = [];
    tool = to;
    if (way === 'part') way = 'paint';
  }

  function addPoint(at: Cell) {
    const next = nextPoint(points, at);
    if ('turn' in next) endPatrol(next.turn);
    else points = next;
  }
  /** What has been drawn of a patrol is kept where it goes anywhere. */
  function endPatrol(turn: PlanPatrol['turn']) {
    const [done, piece] = [points, 'patrol' in tool ? tool.patrol : undefined];
    if (done.length < 2 || piece === undefined) return;
    points = [];
    drawing.draw(toolName, (now) => withPatrol(now, piece, done, turn));
    side = 'patrols';
  }
  onMount(() => () => endPatrol('back'));

  /** A key over the plan that moves no cursor; true where it means something. */
  function key(event: KeyboardEvent): boolean {
    if (points.length > 0 && ['Escape', 'Backspace', 'Delete'].includes(event.key)) {
      points = event.key === 'Escape' ? [] : points.slice(0, -1);
      return true;
    }
    const choice = choices.find((each) => each.key === event.key);
    const how = ways.find((each) => each.key === event.key.toLowerCase());
    if (choice) pick(choice);
    else if (how) way = how.way;
    else if (event.key === 'm') canvas?.mirror();
    else if (event.key === 'w') showsReach = !showsReach;
    else if (event.key === '+') canvas?.zoom(1.2);
    else if (event.key === '-') canvas?.zoom(1 / 1.2);
    else return false;
    return true;
  }

  function ends(from: Cell, to: Cell) {
    if ('link' in tool) {
      if (isSame(from, to)) {
        flow.notice = { bad: true, text: 'A link leads from one cell to another: pull it, or press Enter at both ends.' };
        return;
      }
      drawing.draw('link', (now) => withLink(now, from, to));
    } else drawing.draw('area', (now) => withArea(now, { from, to }));
    side = 'placed';
  }
  function resize(width: number, height: number) {
    if (width >= 1 && height >= 1) drawing.draw(`${width} × ${height} cells`, (now) => resized(evenRows(now), width, height));
  }

  const known = $derived(drawing.known);
  /** What is out of the player's reach, by piece. */
  const lost = $derived(
    known
      ? [...outOfReach(known.derived)].map(([piece, cells]) => ({
          name: own(level.pieces, piece)?.name ?? piece,
          cells,
          of: known.derived.placed.filter((each) => each.piece === piece).length
        }))
      : []
  );
  const reach = $derived(canvas?.reached());

  const impassable = $derived(
    (checks.report?.checks ?? []).filter(
      ({ check, subject, outcome }) => check === 'patrol-passable' && outcome === 'fails' && subject.split('/')[0] === id
    )
  );

  async function walk(way: Place[] = [], withFoes = true) {
    session.show(flow.document);
    session.beginFrom({ at: id });
    session.tour = { way, withFoes };
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'trial' }));
  }
</script>

<div class="plan">
  <div class="head">
    <a class="btn btn-xs" href={resolve('/flows/[id]/[[view=view]]', { id: flow.id })}>← {level.name}</a>
    <span class="group" role="radiogroup" aria-label="How a stroke runs">
      {#each ways as { way: how, name, key: by } (how)}
        <button
          type="button"
          class="btn btn-xs"
          role="radio"
          aria-checked={way === how}
          class:on={way === how}
          title="{name} ({by})"
          onclick={() => (way = how)}>{name}</button
        >
      {/each}
    </span>
    <button type="button" class="btn btn-xs" title="Mirror the part, or all of it (m)" onclick={() => canvas?.mirror()}
      >Mirror</button
    >
    <label class="check"><input type="checkbox" class="checkbox checkbox-xs" bind:checked={showsReach} /> Show reach</label>
    <span class="gap"></span>
    <label>
      <select
        class="select select-xs"
        aria-label="Seen from"
        value={plan.view}
        onchange={(event) => {
          const view = event.currentTarget.value as 'above' | 'side';
          drawing.draw(`seen from ${view === 'side' ? 'the side' : 'above'}`, (now) => ({ ...now, view }));
        }}><option value="side">from the side</option><option value="above">from above</option></select
      >
    </label>
    <input
      class="input input-xs number"
      type="number"
      min="1"
      max="240"
      aria-label="Columns"
      value={widthOf(plan)}
      onchange={(event) => resize(event.currentTarget.valueAsNumber, plan.rows.length)}
    />
    ×
    <input
      class="input input-xs number"
      type="number"
      min="1"
      max="160"
      aria-label="Rows"
      value={plan.rows.length}
      onchange={(event) => resize(widthOf(plan), event.currentTarget.valueAsNumber)}
    />
    <PlanFiles {drawing} />
    <button type="button" class="btn btn-xs btn-primary" onclick={() => walk()}>Walk it</button>
  </div>
  <div class="stamps" role="radiogroup" aria-label="Stamps">
    {#each choices as choice (JSON.stringify(choice.tool))}
      <button
        type="button"
        role="radio"
        aria-checked={isSameTool(choice.tool, tool)}
        class:on={isSameTool(choice.tool, tool)}
        title={choice.key ? `${choice.label} (${choice.key})` : choice.label}
        onclick={() => pick(choice)}
      >
        {#if choice.key}<kbd>{choice.key}</kbd>{/if}
        {#if 'ground' in choice.tool}<i class="ground" data-ground={choice.tool.ground} aria-hidden="true"></i>{/if}
        {#if choice.letter}<b>{choice.letter}</b>{/if}
        <span class="called">{choice.label}</span>{#if choice.n !== undefined}<span class="dim">{' '}{choice.n}</span>{/if}
      </button>
    {/each}
    <Popup label="+ gate…" title="A gate: open while a condition holds" look="more">
      {#snippet content(close)}
        <div class="gate">
          <ConditionField
            owner={{ place: id }}
            value=""
            use="if"
            label="The gate is open while"
            onkeep={(text) => {
              if (text === '') return;
              moreGates = [...moreGates, text];
              tool = { gate: text };
              close();
            }}
          />
        </div>
      {/snippet}
    </Popup>
  </div>
  <Canvas
    bind:this={canvas}
    {drawing}
    {tool}
    {way}
    {toolName}
    {marked}
    tour={playing.route ?? tour}
    {showsReach}
    {points}
    foes={playing.foes}
    player={playing.player}
    bind:cell
    onkey={key}
    onends={ends}
    onpoint={addPoint}
  />
  <div class="side">
    <div class="tabs" role="tablist">
      {#each [['answer', 'Answer'], ['placed', 'Placed'], ['patrols', 'Patrols'], ['movement', 'Movement'], ['text', 'Text']] as const as [key, name] (key)}
        <button type="button" role="tab" aria-selected={side === key} onclick={() => (side = key)}>{name}</button>
      {/each}
    </div>
    <div class="panel">
      {#if side === 'answer'}
        <Answer {id} {plan} {cell} {reach} onmark={(cells) => (marked = cells)} />
        <BestTimes {drawing} bind:tour onwalk={(way) => walk(way, false)} />
      {:else if side === 'placed'}
        <Placed {drawing} />
        <p>
          <button type="button" class="btn btn-xs" onclick={() => flow.edit(removePlan(flow.document, id))}
            >Delete the plan, keep the spots</button
          >
        </p>
      {:else if side === 'patrols'}
        <Patrols {drawing} {playing} onwalk={walk} />
      {:else if side === 'movement'}
        <Movement {id} />
      {:else}
        <Text {drawing} />
      {/if}
    </div>
  </div>
  <p class="truth" role="status">
    {#if points.length > 0}<span
        >{points.length === 1 ? '1 point' : `${points.length} points`}. Click the next one; the last one again ends it, back and
        forth; the first one again goes round. Esc gives up.</span
      >
    {:else if drawing.failed}<span class="lost">What follows could not be worked out: {drawing.failed}</span>
    {:else if !known}Being worked out…
    {:else if known.derived.tooMany}<span class="lost">Too much is in reach to be looked at: all of it counts as one spot.</span>
    {:else}
      {@const spots = Object.keys(known.derived.spots).length}
      <span class:dim={drawing.isAhead}>
        {spots}
        {spots === 1 ? 'spot' : 'spots'} ·
        {#each lost as { name, of, cells } (name)}
          <button type="button" class="word lost" onclick={() => (marked = cells)}
            >{cells.length} of {of} {name} out of reach</button
          > ·
        {:else}all pieces in reach ({known.derived.placed.length}) ·
        {/each}
        {#if known.survey.drops.length > 0}{known.survey.drops.length}
          {known.survey.drops.length === 1 ? 'drop' : 'drops'} without a way back ·{/if}
        {#each impassable as { subject, message } (subject)}<button
            type="button"
            class="word lost"
            title={message}
            onclick={() => (side = 'patrols')}
            >{subject.includes('/') ? patrolName(level, subject.split('/')[1]!) : 'All patrols together'} cannot be passed</button
          > ·
        {/each}
        {known.survey.never.length === 0 ? 'all ground is reached' : `${known.survey.never.length} cells of ground never reached`}
      </span>
      <span class="counts dim"
        >{Object.values(level.pieces)
          .filter(({ kind }) => kind !== 'player')
          .map((piece) => `${piece.name} × ${countOf(piece)}`)
          .join(', ')}</span
      >
    {/if}
  </p>
</div>

<style>
  .plan {
    height: 100%;
    display: grid;
    grid-template: auto auto minmax(0, 1fr) auto / minmax(0, 1fr) 300px;
  }
  .head {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    padding: 5px 14px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .group {
    display: flex;
  }
  .on {
    background: var(--pick-wash);
    box-shadow: inset 0 -3px 0 var(--color-accent);
  }
  .check {
    display: flex;
    align-items: center;
    gap: 5px;
  }
  .gap {
    flex: 1;
  }
  .number {
    width: 58px;
  }
  .stamps {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    padding: 4px 14px;
    border-bottom: 1px solid var(--color-base-300);
    max-height: 92px;
    overflow: auto;
  }
  .stamps button,
  .stamps :global(.more) {
    display: flex;
    align-items: center;
    gap: 5px;
    padding: 2px 8px;
    max-width: 220px;
    overflow: hidden;
    white-space: nowrap;
    border: 1px solid var(--color-base-300);
    background: var(--tile);
    cursor: pointer;
  }
  .called {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .stamps .on {
    border-color: var(--color-base-content);
    background: var(--pick-wash);
  }
  .stamps b {
    min-width: 17px;
    text-align: center;
    border: 1px solid var(--color-base-content);
    font-size: 11px;
  }
  kbd {
    font-size: 10px;
    color: var(--dim);
  }
  .ground {
    width: 15px;
    height: 15px;
    border: 1px solid var(--color-base-300);
  }
  .ground[data-ground='#'] {
    background: var(--solid);
  }
  .ground[data-ground='-'] {
    border-top: 4px double var(--color-base-content);
  }
  .ground[data-ground='|'] {
    background: repeating-linear-gradient(var(--color-base-content) 0 1px, transparent 1px 4px);
    border-inline: 2px solid var(--color-base-content);
  }
  .gate {
    width: 300px;
  }
  .side {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    border-left: 1px solid var(--color-base-300);
    background: var(--color-base-100);
  }
  .tabs {
    display: flex;
    border-bottom: 1px solid var(--color-base-300);
  }
  .tabs button {
    flex: 1;
    padding: 4px;
    cursor: pointer;
  }
  .tabs [aria-selected='true'] {
    font-weight: 700;
    box-shadow: inset 0 -3px 0 var(--color-accent);
  }
  .panel {
    overflow: auto;
    padding: 8px 12px;
  }
  .panel :global(h2) {
    font-size: 14px;
    margin: 8px 0 2px;
  }
  .truth {
    grid-column: 1 / -1;
    display: flex;
    justify-content: space-between;
    gap: 16px;
    padding: 5px 14px;
    border-top: 1px solid var(--color-base-300);
  }
  .truth > :first-child {
    flex: none;
    max-width: 80%;
  }
  .counts {
    min-width: 0;
    overflow: hidden;
    white-space: nowrap;
    text-overflow: ellipsis;
  }
</style>
