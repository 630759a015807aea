<script lang="ts">
  import { spotOf } from '@crow-lane/core/document/ground';
  import { setRounds } from '@crow-lane/core/document/edits/ground';
  import type { Id, Level, Piece, Rounds } from '@crow-lane/core/document/types';
  import { standingsOf } from '@crow-lane/core/vocabulary/pieces';
  import { flowContext } from '$lib/flow/context.ts';

  /** A foe that goes from spot to spot, so many seconds at each. */
  let { level, id, piece }: { level: Id; id: Id; piece: Piece } = $props();
  const { flow, checks } = flowContext();
  const place = $derived(flow.document.places[level] as Level);
  const standing = $derived(standingsOf(piece)?.[0]);
  const stops = $derived((standing?.spots ?? []).map((spot, at) => ({ spot, seconds: standing?.patrol?.seconds[at] ?? usual })));
  const turn = $derived(standing?.patrol?.turn ?? 'back');
  const free = $derived(Object.keys(place.spots).filter((spot) => !stops.some((stop) => stop.spot === spot)));
  const verdict = $derived(
    checks.report?.checks.find(({ check, subject }) => check === 'patrol-passable' && subject === `${level}/${id}`)
  );
  const usual = 2;

  function set(to: typeof stops, how: Rounds['turn'] = turn) {
    flow.edit(setRounds(flow.document, level, id, to, how));
  }
  /** The spot to which a passage leads from the last stop, else any that is left. */
  function more() {
    const last = stops.at(-1)?.spot;
    const led = Object.values(place.passages).flatMap(({ from, to, both }) =>
      from === last ? [to] : both && to === last ? [from] : []
    );
    // where the player arrives it would be met at once
    const arrivals = [null, ...Object.keys(place.entries)].map((entry) => spotOf(place, entry));
    const next =
      led.find((spot) => free.includes(spot) && !arrivals.includes(spot)) ?? led.find((spot) => free.includes(spot)) ?? free[0]!;
    const before = stops.length > 0 ? stops : [{ spot: free.find((spot) => spot !== next) ?? next, seconds: usual }];
    set([...before, { spot: next, seconds: usual }]);
  }
</script>

{#if standing?.patrol}
  <fieldset>
    <legend>Patrols, so many seconds at each spot</legend>
    {#each stops as stop, at (stop.spot)}
      <div class="stop">
        <select
          class="select select-xs"
          aria-label="Stop {at + 1} of {piece.name}"
          value={stop.spot}
          onchange={(event) => set(stops.map((each, n) => (n === at ? { ...each, spot: event.currentTarget.value } : each)))}
        >
          {#each [stop.spot, ...free] as spot (spot)}<option value={spot}>{place.spots[spot]?.name ?? spot}</option>{/each}
        </select>
        <input
          class="input input-xs"
          type="number"
          min="0.1"
          max="86400"
          step="any"
          aria-label="Seconds at stop {at + 1} of {piece.name}"
          value={stop.seconds}
          onchange={(event) => {
            const seconds = Number(event.currentTarget.value);
            if (seconds > 0 && seconds <= 86_400) set(stops.map((each, n) => (n === at ? { ...each, seconds } : each)));
          }}
        />
        s
        <button
          type="button"
          class="btn btn-xs"
          aria-label="Take stop {at + 1} of {piece.name} away"
          onclick={() => set(stops.filter((_, n) => n !== at))}>×</button
        >
      </div>
    {/each}
    <div class="turn">
      {#if free.length > 0}<button type="button" class="btn btn-xs" onclick={more}>+ stop</button>{/if}
      <select
        class="select select-xs"
        aria-label="How {piece.name} turns"
        value={turn}
        onchange={(event) => set(stops, event.currentTarget.value as Rounds['turn'])}
        ><option value="back">back and forth</option><option value="round">round</option></select
      >
    </div>
    {#if verdict}<p class:lost={verdict.outcome === 'fails'} data-rounds={verdict.outcome}>{verdict.message}</p>{/if}
  </fieldset>
{:else}
  <button type="button" class="btn btn-xs" onclick={more}>Let it patrol between spots</button>
{/if}

<style>
  fieldset {
    display: grid;
    gap: 4px;
    max-width: 300px;
  }
  .stop {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 64px auto auto;
    align-items: center;
    gap: 4px;
  }
  .turn {
    display: flex;
    gap: 6px;
  }
  .turn select {
    flex: 1;
    min-width: 140px;
  }
  p {
    font-size: 12px;
  }
</style>
