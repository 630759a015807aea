<script lang="ts">
  import { levelsOf, type Id } from '@crow-lane/core/document/types';
  import { prepare } from '@crow-lane/core/play/flow';
  import {
    addSelect,
    byGroup,
    inTurn,
    openAfter,
    selectsOf,
    setLock,
    whyNotByGroup,
    type Select
  } from '@crow-lane/core/sheet/select';
  import { conditionWords, placeName } from '@crow-lane/core/words/words';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import Popup from '$lib/parts/Popup.svelte';

  /** The menus in which a level is picked, what opens it, and what is open after winning any of them. */
  const { flow, checks, view } = flowContext();
  const selects = $derived(selectsOf(flow.document));
  const prepared = $derived(prepare(flow.document));
  const menus = $derived(Object.entries(flow.document.places).filter(([, { kind }]) => kind === 'menu'));
  const orders = $derived(Object.entries(flow.document.orders));
  const groups = $derived(Object.entries(flow.document.groups));
  let won: Set<Id> = $state.raw(new Set());
  let menu = $state('');
  let order = $state('');

  function toggle(level: Id) {
    const next = new Set(won);
    if (!next.delete(level)) next.add(level);
    won = next;
  }

  function lock(select: Select, to: string) {
    if (to === 'all') flow.edit(setLock(flow.document, select, undefined));
    else if (to === 'in turn') flow.edit(setLock(flow.document, select, inTurn));
    else if (to === 'by group') flow.edit(setLock(flow.document, select, byGroup(flow.document, select.order)));
    // a condition to begin with: as many are won as stand before it
    else flow.edit(setLock(flow.document, select, select.rule.if ?? `wins(${select.order}) >= position - 1`));
  }

  /** What the checks say of a level that nobody can ever pick or reach otherwise. */
  const unreached = $derived(
    new Map(
      (checks.report?.checks ?? [])
        .filter(({ check, outcome }) => check === 'place-reached' && outcome === 'fails')
        .map(({ subject, why, message }) => [subject, why?.map(({ text }) => text).join(' ') || message])
    )
  );

  function add() {
    const [place, of] = [menu || menus[0]?.[0], order || orders[0]?.[0]];
    if (place === undefined || of === undefined) return;
    const { id: _id, ...change } = addSelect(flow.document, place, of, 'in turn');
    flow.edit(change);
    view.select(place, false);
  }
</script>

<div class="sheetpart">
  {#each selects as select (select.rule.id)}
    {@const { levels, name } = flow.document.orders[select.order]!}
    {@const open = openAfter(flow.document, select, won, prepared)}
    <section aria-label="{placeName(flow.document, select.place)} selects from {name}">
      <h2>
        <button type="button" class="word" onclick={() => view.select(select.place, false)}
          >{placeName(flow.document, select.place)}</button
        >
        lists {name}; its levels open
        <select
          class="select select-xs"
          aria-label="How the levels of {name} open"
          value={select.lock}
          onchange={(event) => lock(select, event.currentTarget.value)}
        >
          <option value="all">all at once</option>
          <option value="in turn">one after another</option>
          {#if byGroup(flow.document, select.order) !== undefined}<option value="by group">group by group</option>{/if}
          <option value="by condition">by a condition</option>
        </select>
        {#if whyNotByGroup(flow.document, select.order) !== undefined}
          <span class="dim">Not group by group: {whyNotByGroup(flow.document, select.order)}</span>
        {/if}
        {#if select.lock === 'by condition'}
          <Popup label={conditionWords(flow.document, { place: select.place }, select.rule.if!)} title="What opens a level">
            {#snippet content(close)}
              <ConditionField
                owner={{ place: select.place }}
                use="if"
                choosing
                label="A level is open if"
                value={select.rule.if ?? ''}
                onkeep={(text) => {
                  close();
                  flow.edit(setLock(flow.document, select, text || undefined));
                }}
              />
            {/snippet}
          </Popup>
        {/if}
      </h2>
      <p class="line">
        <span class="dim">Mark levels as won to see what opens.</span>
        <button type="button" class="btn btn-xs" onclick={() => (won = new Set())}>None won</button>
        <button type="button" class="btn btn-xs" onclick={() => (won = new Set(levelsOf(flow.document).map(([id]) => id)))}
          >All won</button
        >
        {#if open}<b>{open.length} of {levels.length} open</b>{:else}<span class="lost">The condition cannot be read.</span>{/if}
      </p>
      <ol>
        {#each levels as level, index (level)}
          {@const is = open?.includes(level)}
          <li class:open={is}>
            <button type="button" aria-pressed={won.has(level)} onclick={() => toggle(level)}>
              <b class="display">{index + 1}</b>
              {placeName(flow.document, level)}
              <span class="dim">{won.has(level) ? 'won' : ''}{is ? '' : ' locked'}</span>
              {#if unreached.has(level)}<span class="lost">Never open: {unreached.get(level)}</span>{/if}
            </button>
          </li>
        {/each}
      </ol>
    </section>
  {/each}
  {#if menus.length > 0 && orders.length > 0}
    <p class="line">
      Let
      <select class="select select-xs" aria-label="Menu" bind:value={menu}>
        {#each menus as [id, { name }], n (id)}<option value={n === 0 ? '' : id}>{name}</option>{/each}
      </select>
      list the levels of
      <select class="select select-xs" aria-label="Order" bind:value={order}>
        {#each orders as [id, { name }], n (id)}<option value={n === 0 ? '' : id}>{name}</option>{/each}
      </select>
      <button type="button" class="btn btn-xs" onclick={add}>Add the level select</button>
    </p>
  {:else}<p>A level select needs a menu and an order of levels.</p>{/if}
  {#if groups.length > 0}
    <h2>Groups</h2>
    <p class="dim">
      A group is complete when all of its levels are won. Ask for it in a condition: it opens a level, a menu's button, or
      anything else.
    </p>
    <ul>
      {#each groups as [id, { name }] (id)}
        {@const members = levelsOf(flow.document).filter(([, { group }]) => group === id)}
        <li>
          <b>{name}</b>
          <code>all({name})</code>
          {members.filter(([level]) => won.has(level)).length} of {members.length} won
        </li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  h2 {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 6px;
    font-size: 14px;
    margin: 0 0 4px;
  }
  h2 select {
    width: 150px;
  }
  section {
    margin-bottom: 18px;
  }
  .line {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    margin: 6px 0;
  }
  .line select {
    width: 150px;
  }
  ol {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: 4px;
  }
  ol button {
    width: 100%;
    min-height: 40px;
    padding: 3px 7px;
    text-align: left;
    border: 1px dashed var(--color-base-300);
    color: var(--dim);
    cursor: pointer;
  }
  .open button {
    border: 1px solid var(--color-base-content);
    color: var(--color-base-content);
    background: var(--tile);
  }
  ol button[aria-pressed='true'] {
    border-left: 5px solid var(--won);
  }
  ul {
    line-height: 1.8;
  }
  code {
    font-size: 12px;
    margin: 0 8px;
  }
</style>
