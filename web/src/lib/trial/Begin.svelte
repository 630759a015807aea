<script lang="ts">
  import { levelsOf, own, type Id, type Step } from '@crow-lane/core/document/types';
  import { onDestroy } from 'svelte';
  import { onlyPassed } from '@crow-lane/core/report/answers';
  import { savesIn } from '@crow-lane/core/sheet/saves';
  import type { Arrived } from '@crow-lane/core/trial/beginnings';
  import { gameWords, valuesWords } from '@crow-lane/core/trial/words';
  import type { Value } from '@crow-lane/core/language/evaluate';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Choices from '$lib/parts/Choices.svelte';
  import Dialog from '$lib/parts/Dialog.svelte';
  import ValueInput from './ValueInput.svelte';
  import { placeKinds } from '@crow-lane/core/vocabulary/places';

  /** Where a trial begins: a place, in a clean state, as players arrive there, from its checkpoints, or as who has played before. */
  let { onclose }: { onclose: () => void } = $props();
  const { flow, checks, session, runs, view } = flowContext();
  const most = 60;
  onDestroy(() => runs.forget());

  let place: Id | undefined = $state(undefined);
  // the place in whose middle one is, on the lane or in the trial, is likely the one that is meant
  place = view.selected ?? session.trial?.state.stack.at(-1)?.place;
  let changing = $state(false);
  let found: { arrivals: Arrived[]; complete: boolean } | undefined = $state.raw();
  let asked: Id | undefined = $state();
  let wanted = $state('');
  $effect(() => {
    const { document } = flow;
    const at = place;
    found = undefined;
    asked = undefined;
    if (at === undefined || !own(document.places, at)) return;
    runs.forget();
    void runs.arrivals(document, at, most).then((answer) => {
      if (place !== at || flow.document !== document) return;
      found = answer;
      asked = at;
    });
  });
  const name = $derived(place === undefined ? '' : placeName(flow.document, place));
  const saves = $derived(place === undefined ? [] : savesIn(flow.document, place));
  /** On the last life a loss leads elsewhere than on the first. */
  const lossWords = ({ losses }: Arrived) =>
    losses.length > 0 && losses.join() !== found?.arrivals[0]?.losses.join()
      ? `a loss leads to ${losses.map((id) => placeName(flow.document, id)).join(' or ')}`
      : '';
  const said = (arrived: Arrived) =>
    `${valuesWords(flow.document, arrived.values)} ${gameWords(arrived.game)} ${lossWords(arrived)} ${arrived.slots ?? ''}`.toLowerCase();
  const listed = $derived((found?.arrivals ?? []).filter((arrived) => said(arrived).includes(wanted.trim().toLowerCase())));

  function after(steps: Step[]) {
    session.beginAfter(flow.document, steps);
    onclose();
  }

  let seeking = $state('');
  /** A menu in which it matters what is saved. */
  const offers = $derived(place !== undefined && own(flow.document.places, place)?.rules.some(({ when }) => 'slot' in when));
  async function atSave(rule?: Id) {
    seeking = rule ?? 'saved';
    const use = rule === undefined ? { place: place!, if: 'has(save)' } : { rule, level: place! };
    const route = await runs.routeTo(flow.document, use);
    seeking = '';
    if (route) after(route);
    else flow.notice = { bad: true, text: 'No route to this save was found.' };
  }

  const keeps = $derived(Object.entries(flow.document.variables).filter(([, { scope }]) => scope === 'kept'));
  let kept: Record<Id, Value> = $state({});
  let won: Id[] = $state([]);
  function returning() {
    session.beginFrom({ kept: $state.snapshot(kept), won: $state.snapshot(won) });
    onclose();
  }
</script>

<Dialog title="Begin the trial" {onclose}>
  <p class="first">
    <button type="button" class="btn btn-sm" data-first onclick={() => (session.begin(), onclose())}
      >At the start of the game</button
    >
    <span class="dim">or at</span>
    <button type="button" class="btn btn-sm" aria-expanded={changing} onclick={() => (changing = !changing)}
      >{name || 'a place…'}</button
    >
  </p>
  {#if changing}
    <Choices
      name="Begin at"
      choices={Object.entries(flow.document.places).map(([value, { name: label, kind }]) => ({
        value,
        label,
        hint: placeKinds[kind].hint
      }))}
      value={place}
      onpick={(value) => {
        place = value;
        changing = false;
      }}
    />
  {/if}
  {#if place !== undefined}
    <h3>{name}</h3>
    <ul class="ways">
      <li>
        <button type="button" class="way" onclick={() => (session.beginFrom({ at: place }), onclose())}
          ><b>In a clean state</b> <span class="dim">all values as they begin, nothing won</span></button
        >
      </li>
      {#if offers}
        <li>
          <button type="button" class="way" disabled={seeking !== ''} onclick={() => atSave()}
            ><b>With a saved game</b>
            <span class="dim">{seeking === 'saved' ? 'looking for a route…' : 'one slot used, the others empty'}</span></button
          >
        </li>
      {/if}
      {#each saves as { rule, piece }, index (index)}
        {@const level = own(flow.document.places, place)}
        <li>
          <button type="button" class="way" disabled={seeking !== ''} onclick={() => atSave(rule)}
            ><b>Just saved{piece !== undefined && level?.kind === 'level' ? ` at ${level.pieces[piece]!.name}` : ''}</b>
            <span class="dim">{seeking === rule ? 'looking for a route…' : 'by the shortest route'}</span></button
          >
        </li>
      {/each}
    </ul>
    <h3>
      As players arrive there
      <input class="input input-xs" placeholder="second game, Lives 1" aria-label="Only arrivals with" bind:value={wanted} />
    </h3>
    {#if asked !== place}<p class="dim">looking…</p>
    {:else if !found || found.arrivals.length === 0}<p class="dim">
        {place !== undefined && checks.report && onlyPassed(checks.report, place)
          ? 'This level is over on arrival: the checks say why.'
          : 'No player arrives here.'}
      </p>
    {:else}
      <ul class="ways list">
        {#each listed as arrived (JSON.stringify(arrived.values))}
          {@const length = arrived.route.filter((step) => !('start' in step)).length}
          <li>
            <button type="button" class="way" data-arrival onclick={() => after(arrived.route)}
              ><b>{valuesWords(flow.document, arrived.values)}</b>
              <span class="dim">{gameWords(arrived.game)}, {length} {length === 1 ? 'event' : 'events'}</span>
              {#if arrived.slots}<span class="dim">{arrived.slots}</span>{/if}
              {#if lossWords(arrived)}<span class="lost">▬ {lossWords(arrived)}</span>{/if}</button
            >
          </li>
        {/each}
      </ul>
      {#if listed.length === 0}<p class="dim">No arrival matches.</p>{/if}
      {#if !found.complete}<p class="dim">
          There are more; these are the {found.arrivals.length} nearest.
        </p>{/if}
    {/if}
  {/if}
  <details>
    <summary>As a returning player, from the start</summary>
    {#each keeps as [id, variable] (id)}
      <p class="value">
        <label for="kept-{id}">{variable.name}</label>
        <ValueInput id="kept-{id}" {variable} value={kept[id] ?? variable.initial} onset={(value) => (kept[id] = value)} />
      </p>
    {/each}
    {#if keeps.length === 0}<p class="dim">The flow keeps no values from game to game.</p>{/if}
    <fieldset>
      <legend>Won before</legend>
      {#each levelsOf(flow.document) as [id, { name: level }] (id)}
        <label><input type="checkbox" class="checkbox checkbox-xs" value={id} bind:group={won} /> {level}</label>
      {/each}
    </fieldset>
    <button type="button" class="btn btn-sm" onclick={returning}>Begin as a returning player</button>
  </details>
</Dialog>

<style>
  .first {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 6px;
  }
  h3 {
    display: flex;
    align-items: baseline;
    justify-content: space-between;
    gap: 12px;
    margin-top: 10px;
    font-size: 13px;
    font-weight: 700;
  }
  h3 input {
    width: 190px;
  }
  .list {
    max-height: 220px;
    overflow: auto;
  }
  .way {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 10px;
    width: 100%;
    padding: 4px 6px;
    text-align: left;
    cursor: pointer;
    border-bottom: 1px solid var(--color-base-300);
  }
  .way:hover,
  .way:focus-visible {
    background: var(--pick-wash);
  }
  details {
    margin-top: 12px;
  }
  summary {
    cursor: pointer;
    font-weight: 700;
  }
  .value {
    display: flex;
    justify-content: space-between;
    padding: 2px 0;
  }
  fieldset {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 2px 10px;
    max-height: 150px;
    overflow: auto;
    margin: 6px 0;
    font-size: 12px;
  }
  legend {
    font-weight: 700;
  }
</style>
