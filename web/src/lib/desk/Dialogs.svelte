<script lang="ts">
  import {
    addPlace,
    emptyPlace,
    kindSaid,
    likelyKind,
    pointersTo,
    removePlace,
    setStart
  } from '@crow-lane/core/document/edits/places';
  import { insertPlace } from '@crow-lane/core/document/edits/between';
  import { joinGroupAround, nextName } from '@crow-lane/core/document/edits/levels';
  import { addRule, leadTo, likelyRule, winsAlready, wireMove } from '@crow-lane/core/document/edits/rules';
  import { apply, together, type Change } from '@crow-lane/core/document/patch';
  import {
    findRule,
    levelsOf,
    ruleLists,
    type FlowDocument,
    type Id,
    type Outcome,
    type PlaceKind
  } from '@crow-lane/core/document/types';
  import { removeVariable } from '@crow-lane/core/document/edits/parts';
  import { usesOf } from '@crow-lane/core/sheet/uses';
  import { placeKinds, placeKindsInOrder } from '@crow-lane/core/vocabulary/places';
  import { placeName, ruleWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Choices from '$lib/parts/Choices.svelte';
  import Dialog from '$lib/parts/Dialog.svelte';
  import DoorDialog from './DoorDialog.svelte';
  import { pickedTarget, targetChoices, type PickedTarget } from '$lib/parts/targets.ts';

  /** The questions that an act on the lane may need an answer to. */
  const { flow, view } = flowContext();
  const close = () => (view.dialog = undefined);

  function makePlace(event: SubmitEvent) {
    event.preventDefault();
    if (view.dialog?.is !== 'place') return;
    const { from, order, into } = view.dialog;
    const data = new FormData(event.currentTarget as HTMLFormElement);
    const name = String(data.get('name')).trim();
    const kind = String(data.get('kind')) as PlaceKind;
    if (!name) return;
    const before = from ?? into?.from[0];
    const behind = before !== undefined && flow.document.places[before]?.kind === 'level' ? before : undefined;
    const place = emptyPlace(kind, name, String(data.get('outcome') ?? 'won') as Outcome);
    const { id, ...added } = addPlace(
      flow.document,
      place,
      behind ? { behind } : { order: kind === 'level' ? (order ?? Object.keys(flow.document.orders)[0]) : undefined }
    );
    const further = from === undefined ? [] : wiring(flow.document, added, from, id);
    further.push((now) => joinGroupAround(now, id));
    if (into) further.push((now) => insertPlace(now, into.rules, into.to, id));
    // play has to begin somewhere: at the first place there is
    if (!Object.hasOwn(flow.document.places, flow.document.start)) further.push((now) => setStart(now, id));
    const label = from === undefined ? added.label : `${added.label}, reached from ${placeName(flow.document, from)}`;
    flow.edit(together(flow.document, label, () => added, ...further));
    close();
    view.select(id);
  }

  /** The rule toward a new place; none when a level is won already and the order now leads to the new one by itself. */
  function wiring(document: FlowDocument, added: Change, from: Id, id: Id): ((now: FlowDocument) => Change)[] {
    const now = apply(document, added.patch);
    const follows = Object.values(now.orders).some(
      ({ levels }) => levels.includes(from) && levels[levels.indexOf(from) + 1] === id
    );
    if (follows && winsAlready(now, from)) return [];
    if (!follows) return [(current) => leadTo(current, from, id)];
    return [(current) => addRule(current, { place: from }, likelyRule(now, from, 'won'))];
  }

  function wire(from: Id, to: PickedTarget) {
    const { document } = flow;
    flow.edit(
      'place' in to ? leadTo(document, from, to.place) : addRule(document, { place: from }, wireMove(document, from, to.move))
    );
    close();
  }

  function removeValue(id: Id) {
    close();
    flow.edit(removeVariable(flow.document, id));
  }

  /** Whether a rule stands in one of these places, and so goes with them. */
  function goesToo(rule: Id, places: Id[]): boolean {
    const owner = findRule(flow.document, rule)?.owner;
    return owner !== undefined && 'place' in owner && places.includes(owner.place);
  }

  function remove(places: Id[]) {
    const label = places.length === 1 ? `Delete ${placeName(flow.document, places[0]!)}` : `Delete ${places.length} places`;
    flow.edit(together(flow.document, label, ...places.map((place) => (now: FlowDocument) => removePlace(now, place))));
    close();
    view.select(undefined);
  }

  /** Places, pieces and rules by their words, each leading to where it stands; values lead to the whole flow's desk. */
  const findable = $derived.by(() => {
    if (view.dialog?.is !== 'find') return [];
    const { document } = flow;
    const found = Object.entries(document.places).map(([id, { name }]) => ({ value: id, label: name, hint: 'place' }));
    for (const { name } of Object.values(document.variables)) found.push({ value: '', label: name, hint: 'value' });
    for (const [id, { pieces, name }] of levelsOf(document))
      for (const piece of Object.values(pieces)) found.push({ value: id, label: piece.name, hint: `piece of ${name}` });
    for (const { owner, rules } of ruleLists(document)) {
      const place = 'place' in owner ? owner.place : '';
      for (const rule of rules) found.push({ value: place, label: ruleWords(document, owner, rule), hint: 'rule' });
    }
    return found.map((each, index) => ({ ...each, value: `${index} ${each.value}` }));
  });

  function goTo(choice: string) {
    close();
    view.select(choice.split(' ')[1] || undefined);
  }

  const keys: [string, string][] = [
    ['/', 'find a place, a value, a piece or a rule'],
    ['d', 'duplicate the selected place'],
    ['Shift click, Shift arrows', 'select several places'],
    ['Ctrl C, Ctrl V', 'copy the selected places, paste them here or in another flow'],
    ['Arrows, Home, End', 'walk the lane'],
    ['Enter', 'to the desk of the selected place'],
    ['m', 'move: where does the player go from here?'],
    ['o', 'door: from the selected level into another, and back'],
    ['g', 'the ground of the selected level: its plan'],
    ['n', 'new place'],
    ['Alt ← →', 'move the selected level along its order'],
    ['Delete', 'delete the selected places'],
    ['Escape', 'select nothing: see the whole flow'],
    ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
    ['+ − 0 f .', 'zoom in, zoom out, 100 %, fit all, go to selection'],
    ['l', 'read the lane as a list'],
    ['?', 'this list']
  ];
  let chosenKind: PlaceKind | undefined = $state();
  $effect.pre(() => {
    if (view.dialog?.is === 'place') chosenKind = undefined;
  });
  /** As chosen, else as its name says, else as it was asked for. A pull into a row has chosen already. */
  const kind: PlaceKind = $derived.by(() => {
    if (view.dialog?.is !== 'place') return 'level';
    const { from, name, order } = view.dialog;
    const pulled = order !== undefined || (from !== undefined && name === undefined);
    return chosenKind ?? (pulled || typed === undefined ? undefined : kindSaid(typed)) ?? view.dialog.kind;
  });
  /** How a new level is called where the names of its order follow a pattern. */
  const usualName = $derived.by(() => {
    if (view.dialog?.is !== 'place' || kind !== 'level') return '';
    const { from, order, into } = view.dialog;
    const before = from ?? into?.from[0];
    const orders = Object.keys(flow.document.orders);
    const its = order ?? orders.find((id) => flow.document.orders[id]!.levels.includes(before ?? '')) ?? orders[0];
    return (its !== undefined && nextName(flow.document, its)) || '';
  });
  let typed = $derived(view.dialog?.is === 'place' ? view.dialog.name : undefined);
  /** By which moves a place can be left besides to another place. */
  const ways = $derived(targetChoices(flow.document).filter(({ value }) => 'move' in pickedTarget(value)));
</script>

{#if view.dialog?.is === 'place'}
  {@const { from, into } = view.dialog}
  <Dialog
    title={from !== undefined
      ? `A new place, reached from ${placeName(flow.document, from)}`
      : into
        ? `A new place ${into.to === undefined ? 'in this move' : `before ${placeName(flow.document, into.to)}`}`
        : 'A new place'}
    onclose={close}
  >
    <form class="asked" onsubmit={makePlace}>
      <label
        >Name <input
          class="input input-sm"
          name="name"
          data-first
          required
          maxlength="80"
          autocomplete="off"
          value={typed ?? usualName}
          oninput={(event) => (typed = event.currentTarget.value)}
        /></label
      >
      <label>
        It is
        <select class="select select-sm" name="kind" bind:value={() => kind, (next) => (chosenKind = next)}>
          {#each placeKindsInOrder as each (each)}<option value={each}>{placeKinds[each].one}</option>{/each}
        </select>
      </label>
      {#if kind === 'ending'}
        <label
          >The game is then <select class="select select-sm" name="outcome"
            ><option>won</option><option>lost</option><option>left</option></select
          ></label
        >
      {/if}
      <p class="acts">
        <button class="btn btn-sm btn-primary">Add</button><button type="button" class="btn btn-sm" onclick={close}>Cancel</button
        >
      </p>
    </form>
    {#if from !== undefined && view.dialog.name === undefined}
      <p class="ways">
        <span class="dim">No new place: go to</span>
        {#each ways as { value, label } (value)}
          <button type="button" class="btn btn-xs" onclick={() => wire(from, pickedTarget(value))}>{label}</button>
        {/each}
      </p>
    {/if}
  </Dialog>
{:else if view.dialog?.is === 'move'}
  {@const { from } = view.dialog}
  <Dialog title="From {placeName(flow.document, from)} the player goes to" onclose={close}>
    <div data-first-in>
      <Choices
        name="Target"
        choices={targetChoices(flow.document, { from })}
        onpick={(target) => wire(from, pickedTarget(target))}
        make={{
          label: (name) => `make ${placeKinds[likelyKind(flow.document, name, from)].one} ${name}…`,
          run: (name) => (view.dialog = { is: 'place', from, kind: likelyKind(flow.document, name, from), name })
        }}
      />
    </div>
  </Dialog>
{:else if view.dialog?.is === 'door'}
  <DoorDialog from={view.dialog.from} onclose={close} />
{:else if view.dialog?.is === 'delete'}
  {@const { places } = view.dialog}
  {@const pointers = places.flatMap((place) => pointersTo(flow.document, place).map((each) => ({ ...each, place })))}
  {@const staying = pointers.filter(({ what, id }) => what !== 'order' && (what !== 'rule' || !goesToo(id!, places)))}
  {@const orders = [...new Set(pointers.flatMap(({ what, id }) => (what === 'order' ? [flow.document.orders[id!]!.name] : [])))]}
  <Dialog
    title={places.length === 1 ? `Delete ${placeName(flow.document, places[0]!)}?` : `Delete ${places.length} places?`}
    onclose={close}
  >
    {#if staying.length > 0}
      <p>{staying.length === 1 ? 'This leads' : 'These lead'} to {places.length === 1 ? 'it' : 'them'}, and then nowhere:</p>
      <ul>
        {#each staying as { what, id, place }, index (index)}
          {@const found = id === undefined ? undefined : findRule(flow.document, id)}
          <li>
            {what === 'start'
              ? `Play begins at ${placeName(flow.document, place)}.`
              : `The rule ${found ? ruleWords(flow.document, found.owner, found.rule) : ''}.`}
          </li>
        {/each}
      </ul>
    {:else}
      <p>No rule leads to {places.length === 1 ? 'it' : 'them'}.</p>
    {/if}
    {#if orders.length > 0}
      <p>{places.length === 1 ? 'It is' : 'They are'} removed from {orders.join(', ')}.</p>
    {/if}
    <p class="acts">
      <button type="button" class="btn btn-sm btn-primary" data-first onclick={() => remove(places)}>Delete</button><button
        type="button"
        class="btn btn-sm"
        onclick={close}>Keep</button
      >
    </p>
  </Dialog>
{:else if view.dialog?.is === 'value' && flow.document.variables[view.dialog.id]}
  {@const { id } = view.dialog}
  {@const { set, read } = usesOf(flow.document).get(id)!}
  <Dialog title="Delete {flow.document.variables[id]!.name}?" onclose={close}>
    <p>These stay, and are then shown as broken:</p>
    <ul>
      {#each [...set, ...read] as { place, words }, index (index)}
        <li>{place === undefined ? '' : `${placeName(flow.document, place)}: `}{words}</li>
      {/each}
    </ul>
    <p class="acts">
      <button type="button" class="btn btn-sm btn-primary" data-first onclick={() => removeValue(id)}>Delete</button><button
        type="button"
        class="btn btn-sm"
        onclick={close}>Keep</button
      >
    </p>
  </Dialog>
{:else if view.dialog?.is === 'find'}
  <Dialog title="Find" onclose={close}>
    <div data-first-in><Choices name="Find" choices={findable} onpick={goTo} /></div>
  </Dialog>
{:else if view.dialog?.is === 'keys'}
  <Dialog title="Keys" onclose={close}>
    <dl>
      {#each keys as [key, does] (key)}<dt>{key}</dt>
        <dd>{does}</dd>{/each}
    </dl>
    <p class="acts"><button type="button" class="btn btn-sm" data-first onclick={close}>Close</button></p>
  </Dialog>
{/if}

<style>
  ul {
    list-style: square;
    padding-left: 18px;
    max-height: 40vh;
    overflow: auto;
  }
  .ways {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px;
    margin-top: 12px;
    font-size: 12px;
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 3px 16px;
  }
  dt {
    font-weight: 700;
  }
</style>
