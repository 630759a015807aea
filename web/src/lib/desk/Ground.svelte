<script lang="ts">
  import { tick } from 'svelte';
  import {
    addPassage,
    addSpot,
    changePassage,
    changeSpot,
    groundShapes,
    movePiece,
    nextSpotName,
    removePassage,
    removeSpot,
    setStanding,
    splitLevel,
    standsAt,
    type GroundShape
  } from '@crow-lane/core/document/edits/ground';
  import type { Id, Level } from '@crow-lane/core/document/types';
  import { groundMarks } from '@crow-lane/core/lane/ground';
  import { canHappenTo } from '@crow-lane/core/vocabulary/triggers';
  import { conditionWords, passageName } from '@crow-lane/core/words/words';
  import AddLine from '$lib/parts/AddLine.svelte';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import GroundMap, { type OnGround } from '$lib/parts/GroundMap.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';

  /** Where things are in a level: a map of its spots, and what is chosen on it. */
  let { id, level }: { id: Id; level: Level } = $props();
  const { flow, checks } = flowContext();
  const owner = $derived({ place: id });
  let chosen = $state<OnGround | undefined>(undefined);
  const spot = $derived(
    chosen && 'spot' in chosen && Object.hasOwn(level.spots, chosen.spot)
      ? { id: chosen.spot, ...level.spots[chosen.spot]! }
      : undefined
  );
  const passage = $derived(
    chosen && 'passage' in chosen && Object.hasOwn(level.passages, chosen.passage)
      ? { id: chosen.passage, ...level.passages[chosen.passage]! }
      : undefined
  );
  const marks = $derived(groundMarks(flow.document, id, checks.report?.checks ?? []));
  const others = $derived(Object.entries(level.spots).filter(([each]) => each !== spot?.id));
  const pieces = $derived(Object.entries(level.pieces).filter(([, { kind }]) => kind !== 'player'));
  const touched = $derived(pieces.filter(([, { kind }]) => canHappenTo('touch', kind)));
  let editor: HTMLElement | undefined = $state();

  function add(name: string) {
    const { id: made, ...change } = addSpot(flow.document, id, { name });
    flow.edit(change);
    chosen = { spot: made };
  }
  async function connect(from: Id, to: Id) {
    const { id: made, ...change } = addPassage(flow.document, id, { from, to, both: true });
    flow.edit(change);
    chosen = { passage: made };
    await tick();
    editor?.querySelector<HTMLElement>('input, select, button')?.focus();
  }
  function change(fields: Parameters<typeof changePassage>[3]) {
    if (passage) flow.edit(changePassage(flow.document, id, passage.id, fields));
  }
  function put(piece: Id, from: Id | undefined, to: Id) {
    flow.edit(movePiece(flow.document, id, piece, to, from));
  }
  const count = (text: string) => Math.round(Number(text));
</script>

<h3>Where things are</h3>
{#if Object.keys(level.spots).length === 0}
  <p class="dim">The player can touch everything here at any moment. Split this level to say where things are:</p>
  <div class="shapes">
    {#each Object.entries(groundShapes) as [shape, { name, line }] (shape)}
      <button type="button" class="shape" onclick={() => flow.edit(splitLevel(flow.document, id, shape as GroundShape))}
        ><b>{name}</b><span class="dim">{line}</span></button
      >
    {/each}
  </div>
{:else}
  <GroundMap {id} {chosen} {marks} onchoose={(what) => (chosen = what)} onpull={connect} />
  {#if spot}
    {@const here = spot.id}
    <section class="editor" aria-label="The spot {spot.name}" bind:this={editor}>
      <p class="line">
        {#key here}
          <input
            class="grow"
            aria-label="Name of the spot"
            maxlength="80"
            {@attach typed(
              flow,
              () => spot?.name ?? '',
              (text) => text.trim() && flow.edit(changeSpot(flow.document, id, here, { name: text.trim() }))
            )}
          />
        {/key}
        <button type="button" class="btn btn-xs" onclick={() => flow.edit(removeSpot(flow.document, id, here))}
          >Delete spot</button
        >
      </p>
      {#each pieces.filter(([, piece]) => standsAt(piece, here) > 0) as [piece, value] (piece)}
        <p class="line" data-standing={piece}>
          <span class="grow">{value.name}</span>
          <input
            class="number"
            type="number"
            min="0"
            max="10000"
            aria-label="How many {value.name} at {spot.name}"
            value={standsAt(value, here)}
            onchange={(event) => {
              const n = count(event.currentTarget.value);
              if (n >= 0 && n <= 10_000) flow.edit(setStanding(flow.document, id, piece, here, n));
              else event.currentTarget.value = String(standsAt(value, here));
            }}
          />
          <select
            class="select select-xs"
            aria-label="Move {value.name} to"
            value=""
            onchange={(event) => put(piece, here, event.currentTarget.value)}
          >
            <option value="">move to…</option>
            {#each others as [other, { name }] (other)}<option value={other}>{name}</option>{/each}
          </select>
        </p>
      {/each}
      <p class="line">
        <select
          class="select select-xs"
          aria-label="Put a piece at {spot.name}"
          value=""
          onchange={(event) => {
            const piece = event.currentTarget.value;
            if (level.pieces[piece]!.at === undefined) put(piece, undefined, here);
            else flow.edit(setStanding(flow.document, id, piece, here, 1));
          }}
        >
          <option value="">+ piece here</option>
          {#each pieces.filter(([, piece]) => standsAt(piece, here) === 0) as [piece, { name }] (piece)}<option value={piece}
              >{name}</option
            >{/each}
        </select>
        <select
          class="select select-xs"
          aria-label="Add a passage from {spot.name} to"
          value=""
          onchange={(event) => void connect(here, event.currentTarget.value)}
        >
          <option value="">+ passage to…</option>
          {#each others as [other, { name }] (other)}<option value={other}>{name}</option>{/each}
        </select>
      </p>
    </section>
  {:else if passage}
    {@const words = passageName(flow.document, owner, passage.id)}
    <section class="editor" aria-label="The passage {words}" bind:this={editor}>
      <p class="line">
        <select
          class="select select-xs"
          aria-label="From"
          value={passage.from}
          onchange={(event) => change({ from: event.currentTarget.value })}
        >
          {#each Object.entries(level.spots) as [each, { name }] (each)}<option value={each} disabled={each === passage.to}
              >{name}</option
            >{/each}
        </select>
        <select
          class="select select-xs way"
          aria-label="Direction"
          value={passage.both ? 'both' : 'one'}
          onchange={(event) => change({ both: event.currentTarget.value === 'both' ? true : undefined })}
        >
          <option value="both">both ways</option>
          <option value="one">one way</option>
        </select>
        <select
          class="select select-xs"
          aria-label="To"
          value={passage.to}
          onchange={(event) => change({ to: event.currentTarget.value })}
        >
          {#each Object.entries(level.spots) as [each, { name }] (each)}<option value={each} disabled={each === passage.from}
              >{name}</option
            >{/each}
        </select>
      </p>
      <p class="line">
        {#key passage.id}
          <input
            class="grow"
            placeholder="name: ladder, trapdoor"
            aria-label="Name of the passage"
            maxlength="80"
            {@attach typed(
              flow,
              () => passage?.name ?? '',
              (text) => change({ name: text.trim() || undefined })
            )}
          />
        {/key}
        <span
          >open
          <Popup
            label={passage.if === undefined ? 'always' : `if ${conditionWords(flow.document, owner, passage.if)}`}
            title="When can it be taken?"
          >
            {#snippet content(close)}
              <ConditionField
                {owner}
                use="if"
                label="Open if"
                value={passage?.if ?? ''}
                onkeep={(condition) => {
                  close();
                  change({ if: condition || undefined });
                }}
              />
            {/snippet}
          </Popup></span
        >
      </p>
      {#if touched.length > 0}
        <p class="line met">
          <span class="dim">past</span>
          {#each touched as [piece, { name }] (piece)}
            <label
              ><input
                type="checkbox"
                class="checkbox checkbox-xs"
                checked={passage.through?.includes(piece) ?? false}
                onchange={(event) => {
                  const through = (passage?.through ?? []).filter((each) => each !== piece);
                  if (event.currentTarget.checked) through.push(piece);
                  change({ through: through.length > 0 ? through : undefined });
                }}
              />
              {name}</label
            >
          {/each}
        </p>
      {/if}
      <p class="line">
        {#key passage.id}
          <input
            class="grow"
            placeholder="note; only the team sees this"
            aria-label="Note on the passage"
            maxlength="4000"
            {@attach typed(
              flow,
              () => passage?.note ?? '',
              (text) => change({ note: text || undefined })
            )}
          />
        {/key}
        <button type="button" class="btn btn-xs" onclick={() => flow.edit(removePassage(flow.document, id, passage!.id))}
          >Delete passage</button
        >
      </p>
    </section>
  {/if}
  <AddLine placeholder="+ spot: {nextSpotName(level)}, loft, yard" label="Name of a new spot" onadd={add} />
{/if}

<style>
  .shapes {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 5px;
    margin: 4px 0;
  }
  .shape {
    padding: 4px 8px;
    border: 1px solid var(--color-base-300);
    background: var(--tile);
    text-align: left;
    cursor: pointer;
  }
  .shape:hover,
  .shape:focus-visible {
    background: var(--pick-wash);
  }
  .shape span {
    display: block;
    font-size: 11px;
  }
  .editor {
    padding: 4px 6px;
    border: 1px solid var(--color-base-300);
    border-top: 0;
    border-left: 4px solid var(--color-accent);
  }
  .line {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 6px;
    padding: 2px 0;
  }
  .line select {
    flex: 1 1 90px;
    min-width: 0;
  }
  .line .way {
    flex: 0 0 100px;
  }
  .grow {
    flex: 1 1 110px;
    min-width: 0;
    background: transparent;
  }
  input.grow {
    border-bottom: 1px dotted var(--color-base-300);
  }
  .number {
    width: 56px;
    text-align: right;
    font-weight: 700;
    background: transparent;
  }
  .met label {
    display: flex;
    align-items: center;
    gap: 4px;
  }
</style>
