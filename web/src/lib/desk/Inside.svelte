<script lang="ts">
  import { goto } from '$app/navigation';
  import { resolve } from '$app/paths';
  import { changeKind } from '@crow-lane/core/document/edits/kinds';
  import { addPiece, likelyPieceKind } from '@crow-lane/core/document/edits/parts';
  import { renamePlace, setPlaceField, setTags } from '@crow-lane/core/document/edits/places';
  import { moveAlong } from '$lib/flow/move.ts';
  import { rulesReadIn } from '@crow-lane/core/play/reading';
  import { addRule } from '@crow-lane/core/document/edits/rules';
  import { numbersOf } from '@crow-lane/core/document/orders';
  import type { Id, Outcome, PlaceKind } from '@crow-lane/core/document/types';
  import AddLine from '$lib/parts/AddLine.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import { addGroup, setListed } from '@crow-lane/core/document/edits/lists';
  import { together } from '@crow-lane/core/document/patch';
  import { placeOf } from '@crow-lane/core/report/answers';
  import { decides } from '@crow-lane/core/report/report';
  import { triggerWords } from '@crow-lane/core/words/words';
  import { placeKinds, placeKindsInOrder } from '@crow-lane/core/vocabulary/places';
  import Entries from './Entries.svelte';
  import CauseList from './CauseList.svelte';
  import Expects from './Expects.svelte';
  import Ground from './Ground.svelte';
  import Messages from './Messages.svelte';
  import Objectives from './Objectives.svelte';
  import PieceRow from './PieceRow.svelte';
  import Sentence from './Sentence.svelte';

  let { id }: { id: Id } = $props();
  const { flow, view, session, causes } = flowContext();
  /** What is wrong here, each at its cause; whether the place is reached stands with the ways in. */
  const wrong = $derived(
    causes.causes.flatMap(({ verdict, follows }) => {
      const here = [verdict, ...follows].filter(
        (each) => decides(each) && each.check !== 'place-reached' && placeOf(flow.document, each) === id
      );
      return here.length > 0 ? [{ verdict, follows: here.filter((each) => each !== verdict) }] : [];
    })
  );

  async function be() {
    session.show(flow.document);
    session.beginFrom({ at: id });
    await goto(resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'trial' }));
  }
  const place = $derived(flow.document.places[id]!);
  const number = $derived(numbersOf(flow.document, id)[0]?.number);
  const staying = $derived(rulesReadIn(flow.document, id).filter(({ rule }) => !rule.go));
  /** When time does something here: "after 50 s", "every Pace (1.2 s)". */
  const clocks = $derived([
    ...new Set(
      place.rules.flatMap((rule) =>
        'after' in rule.when || 'every' in rule.when ? [triggerWords(flow.document, { place: id }, rule)] : []
      )
    )
  ]);

  /** Puts the level into a group, of which a new one is made on the spot. */
  function setGroup(group: string) {
    if (group !== newGroup) {
      flow.edit(setPlaceField(flow.document, id, 'group', group || undefined));
      return;
    }
    const { id: made, ...change } = addGroup(flow.document, `Group ${Object.keys(flow.document.groups).length + 1}`);
    const label = `${change.label}, with ${place.name} in it`;
    flow.edit(
      together(
        flow.document,
        label,
        () => change,
        (now) => setPlaceField(now, id, 'group', made)
      )
    );
  }
  const newGroup = '+';

  function addOne(name: string) {
    flow.edit(addPiece(flow.document, id, { name, kind: likelyPieceKind(flow.document, name) }));
  }

  /** What only a level has goes with it, which is said: undo brings it back. */
  function setKind(kind: PlaceKind) {
    const pieces = place.kind === 'level' ? Object.values(place.pieces).map(({ name }) => name) : [];
    flow.edit(changeKind(flow.document, id, kind));
    if (pieces.length > 0)
      flow.notice = { bad: false, text: `${place.name} has no pieces any longer: ${pieces.join(', ')}. Undo brings them back.` };
  }
</script>

<h2>
  Inside
  {#if number}<span class="number">{number}</span>{/if}
  <input
    class="title display"
    aria-label="Name of this place"
    title={place.name}
    maxlength="80"
    {@attach typed(
      flow,
      () => place.name,
      (text) => {
        const name = text.trim();
        if (name && name !== place.name) flow.edit(renamePlace(flow.document, id, name));
      }
    )}
  />
  <button type="button" class="btn btn-xs" title="Try it: begin a trial here, all values as they begin" onclick={be}
    >Be there</button
  >
  <button type="button" class="btn btn-xs" title="A copy of its own (d)" onclick={() => view.select(flow.duplicate(id))}
    >Duplicate</button
  >
  <button type="button" class="btn btn-xs" onclick={() => (view.dialog = { is: 'delete', places: [id] })}>Delete…</button>
</h2>
<CauseList causes={wrong} where="here" />
{#if place.kind === 'level'}
  {#each Object.entries(place.pieces) as [piece, value] (piece)}<PieceRow level={id} id={piece} piece={value} />{/each}
  <AddLine placeholder="+ piece: lamp, gust, stairs" label="Name of a new piece" onadd={addOne} />
  <Ground {id} level={place} />
  {#if clocks.length > 0}<p class="fact"><span>Clock</span><b>{clocks.join(', ')}</b></p>{/if}
  <p class="fact">
    <label for="goal">Completed when</label>
    <select
      id="goal"
      class="select select-xs"
      value={place.goal ?? 'win'}
      onchange={(event) =>
        flow.edit(setPlaceField(flow.document, id, 'goal', event.currentTarget.value === 'leave' ? 'leave' : undefined))}
    >
      <option value="win">won</option>
      <option value="leave">left (a hub, a room)</option>
    </select>
  </p>
  <p class="fact">
    <label for="group">Group</label>
    <select
      id="group"
      class="select select-xs"
      value={place.group ?? ''}
      onchange={(event) => setGroup(event.currentTarget.value)}
    >
      <option value="">none</option>
      {#each Object.entries(flow.document.groups) as [group, { name }] (group)}<option value={group}>{name}</option>{/each}
      <option value={newGroup}>a new group</option>
    </select>
  </p>
  {#each Object.entries(flow.document.orders) as [order, { name, levels }] (order)}
    <p class="fact">
      <label for="in-{order}">In {name}</label>
      {#if levels.includes(id)}
        <input
          class="input input-xs at"
          type="number"
          min="1"
          max={levels.length}
          aria-label="Place in {name}"
          value={levels.indexOf(id) + 1}
          onchange={(event) => {
            const to = Math.round(Number(event.currentTarget.value));
            if (to >= 1 && to <= levels.length) moveAlong(flow, order, [id], to - 1);
            else event.currentTarget.value = String(levels.indexOf(id) + 1);
          }}
        />
      {/if}
      <input
        id="in-{order}"
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={levels.includes(id)}
        disabled={levels.length === 1 && levels[0] === id}
        title={levels.length === 1 && levels[0] === id ? 'An order has at least one level' : ''}
        onchange={(event) => flow.edit(setListed(flow.document, order, id, event.currentTarget.checked))}
      />
    </p>
  {/each}
  <p class="fact">
    <label for="progress" title="How far along a save here is, for saves that never go back">Progress when saved</label>
    <input
      id="progress"
      class="input input-xs"
      type="number"
      min="0"
      max="100"
      value={place.progress ?? 0}
      onchange={(event) => {
        const to = Math.round(Number(event.currentTarget.value));
        if (to >= 0 && to <= 100) flow.edit(setPlaceField(flow.document, id, 'progress', to || undefined));
        else event.currentTarget.value = String(place.kind === 'level' ? (place.progress ?? 0) : 0);
      }}
    />
  </p>
  <Objectives {id} level={place} />
  <Entries {id} level={place} />
{:else if place.kind === 'ending'}
  <p class="fact">
    <label for="outcome">The game is</label>
    <select
      id="outcome"
      class="select select-xs"
      value={place.outcome}
      onchange={(event) => flow.edit(setPlaceField(flow.document, id, 'outcome', event.currentTarget.value as Outcome))}
    >
      <option value="won">won</option>
      <option value="lost">lost</option>
      <option value="left">left</option>
    </select>
  </p>
{/if}
<p class="fact">
  <label for="kind">Kind</label>
  <select
    id="kind"
    class="select select-xs"
    value={place.kind}
    onchange={(event) => setKind(event.currentTarget.value as PlaceKind)}
  >
    {#each placeKindsInOrder as kind (kind)}<option value={kind}>{placeKinds[kind].one}</option>{/each}
  </select>
</p>
<Messages {id} {place} />
<label class="message">
  Notes
  <textarea
    class="textarea textarea-sm"
    rows="1"
    maxlength="4000"
    placeholder="what it is for; only the team sees this"
    {@attach typed(
      flow,
      () => place.brief ?? '',
      (text) => flow.edit(setPlaceField(flow.document, id, 'brief', text || undefined))
    )}></textarea>
</label>
<p class="fact">
  <label for="tags">Tags</label>
  <input
    id="tags"
    class="input input-xs"
    maxlength="400"
    placeholder="dark, water"
    {@attach typed(
      flow,
      () => (place.tags ?? []).join(', '),
      (text) => flow.edit(setTags(flow.document, id, text.split(',')))
    )}
  />
</p>
<Expects {id} {place} />
<h3>Rules without a move</h3>
{#each staying as line (line.rule.id)}<Sentence {...line} />{/each}
<button
  type="button"
  class="link"
  onclick={() => {
    const { id: _rule, ...change } = addRule(flow.document, { place: id }, { when: { arrive: true } });
    flow.edit(change);
  }}>+ rule without a move</button
>

<style>
  .fact .at:not([type='checkbox']) {
    width: 60px;
    margin-left: auto;
  }
  h2 {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 6px;
  }
  .number {
    color: var(--color-base-content);
    font-size: 15px;
  }
  .title {
    color: var(--color-base-content);
    font-size: 15px;
    flex: 1 1 80px;
    min-width: 80px;
    text-overflow: ellipsis;
    background: transparent;
    border-bottom: 1px dotted var(--color-base-300);
  }
  .fact {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 8px;
    padding: 2px 0;
  }
  .fact select,
  .fact input:not([type='checkbox']) {
    width: 150px;
  }
  .message textarea {
    display: block;
    width: 100%;
    min-height: 0;
  }
</style>
