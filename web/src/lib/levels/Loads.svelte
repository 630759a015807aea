<script lang="ts">
  import {
    addAsset,
    limitsOf,
    removeAsset,
    setLimit,
    setLoad,
    setMegabytes,
    setUses,
    type LoadedPart
  } from '@crow-lane/core/document/edits/levels';
  import { renameListed } from '@crow-lane/core/document/edits/lists';
  import type { Id, Load } from '@crow-lane/core/document/types';
  import { loadRows, measures, unitOf, type LoadRow } from '@crow-lane/core/sheet/loads';
  import { flowContext } from '$lib/flow/context.ts';
  import AddLine from '$lib/parts/AddLine.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';

  /** What is loaded, a bar each against what may be: the whole, each group, each place; and what places share. */
  const { flow, view } = flowContext();
  const rows = $derived(loadRows(flow.document));
  const assets = $derived(Object.entries(flow.document.assets));
  const parts: [LoadedPart, string][] = [
    ['place', 'One place'],
    ['group', 'One group'],
    ['whole', 'The whole']
  ];
  const limits = $derived(limitsOf(flow.document));

  /** A bar is as long as what it is held against: the limit, else the most that any of its kind loads. */
  function share(row: LoadRow, what: keyof Load): number {
    const most = row.most[what] ?? Math.max(...rows.filter(({ of }) => of === row.of).map(({ sum }) => sum[what]));
    return most > 0 ? Math.min(1, row.sum[what] / most) : 0;
  }

  /** A number of a field, undefined of an empty one; what is no such number is put back. */
  function amount(input: HTMLInputElement, before: number | undefined, keep: (value: number | undefined) => void) {
    const value = input.value === '' ? undefined : input.valueAsNumber;
    if (value === undefined || (value >= 0 && value <= 1e6)) keep(value);
    else input.value = String(before ?? '');
  }

  const using = ({ of, id }: LoadRow) =>
    (of === 'place' ? flow.document.places[id!]!.uses : flow.document.groups[id!]!.uses) ?? [];
  const userOf = ({ of, id }: LoadRow): { place: Id } | { group: Id } => (of === 'place' ? { place: id! } : { group: id! });
</script>

{#snippet field(label: string, value: number | undefined, keep: (value: number | undefined) => void)}
  <input
    class="input input-xs"
    type="number"
    min="0"
    step="any"
    aria-label={label}
    value={value ?? ''}
    onchange={(event) => amount(event.currentTarget, value, keep)}
  />
{/snippet}

<div class="sheetpart">
  <section>
    <h2>At most</h2>
    <table>
      <tbody>
        {#each parts as [part, words] (part)}
          <tr>
            <th scope="row">{words}</th>
            {#each measures as what (what)}
              <td
                >{@render field(`${words}: at most ${unitOf[what]}`, limits[part][what], (value) =>
                  flow.edit(setLimit(flow.document, part, { ...limits[part], [what]: value }))
                )}
                {unitOf[what]}</td
              >
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
    <h2>Shared assets</h2>
    <p class="dim">Loaded once for all places that use them.</p>
    <table>
      <tbody>
        {#each assets as [id, { name, megabytes }] (id)}
          <tr data-asset={id}>
            <td
              ><input
                class="name"
                aria-label="Name of the shared asset {name}"
                maxlength="80"
                {@attach typed(
                  flow,
                  () => name,
                  (text) => text.trim() && flow.edit(renameListed(flow.document, 'assets', id, text.trim()))
                )}
              /></td
            >
            <td
              >{@render field(`Megabytes of ${name}`, megabytes, (value) =>
                flow.edit(setMegabytes(flow.document, id, value ?? 0))
              )} MB</td
            >
            <td
              ><button
                type="button"
                aria-label="Delete the shared asset {name}"
                title="Delete {name}"
                onclick={() => flow.edit(removeAsset(flow.document, id))}>×</button
              ></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    <AddLine
      placeholder="+ shared asset: map picture"
      label="Name of a new shared asset"
      onadd={(name) => {
        const { id: _id, ...change } = addAsset(flow.document, name);
        flow.edit(change);
      }}
    />
  </section>
  <section>
    <h2>What is loaded</h2>
    <table class="loads">
      <thead>
        <tr>
          <th scope="col">Where</th>
          <th scope="col">By itself</th>
          <th scope="col">Shared assets</th>
          {#each measures as what (what)}<th scope="col">In all ({unitOf[what]})</th>{/each}
        </tr>
      </thead>
      <tbody>
        {#each rows as row (`${row.of} ${row.id}`)}
          {@const { of, id, name, sum, most, over } = row}
          <tr class={of} data-load={id ?? 'whole'}>
            <th scope="row"
              >{#if of === 'place'}<button type="button" class="link" onclick={() => view.select(id, false)}>{name}</button
                >{:else}{name}{/if}</th
            >
            <td class="own">
              {#if of === 'place'}
                {@const { load } = flow.document.places[id!]!}
                {#each measures as what (what)}{@render field(`${name}: ${unitOf[what]} by itself`, load?.[what], (value) =>
                    flow.edit(setLoad(flow.document, id!, { ...load, [what]: value }))
                  )}
                  {unitOf[what]}
                {/each}
              {/if}
            </td>
            <td>
              {#if of !== 'whole' && assets.length > 0}
                <Popup
                  label={row.assets.map((asset) => flow.document.assets[asset]?.name ?? asset).join(', ') || 'none'}
                  title="Which shared assets {name} uses"
                >
                  {#snippet content()}
                    {#each assets as [asset, { name: words }] (asset)}
                      <label class="use"
                        ><input
                          type="checkbox"
                          class="checkbox checkbox-xs"
                          checked={using(row).includes(asset)}
                          onchange={(event) => flow.edit(setUses(flow.document, userOf(row), asset, event.currentTarget.checked))}
                        />
                        {words}</label
                      >
                    {/each}
                  {/snippet}
                </Popup>
              {/if}
            </td>
            {#each measures as what (what)}
              <td class="sum" class:lost={over.includes(what)} class:unlimited={most[what] === undefined}>
                <span class="bar" aria-hidden="true"><i style:width="{share(row, what) * 100}%"></i></span>
                {sum[what]}{most[what] === undefined ? '' : ` of ${most[what]}`}
                {#if over.includes(what)}<span class="sr-only">, too much</span>{/if}
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </section>
</div>

<style>
  .sheetpart {
    display: grid;
    grid-template-columns: minmax(230px, 300px) minmax(0, 1fr);
    gap: 8px 32px;
    align-items: start;
  }
  th {
    text-align: left;
    font-weight: 400;
    padding-right: 12px;
  }
  th button {
    text-align: left;
  }
  thead th,
  .whole th,
  .group th {
    font-weight: 700;
  }
  td {
    padding: 2px 12px 2px 0;
    white-space: nowrap;
  }
  input[type='number'] {
    width: 72px;
  }
  .name {
    background: transparent;
    width: 120px;
  }
  .loads td:nth-child(3) {
    white-space: normal;
  }
  .bar {
    display: inline-block;
    vertical-align: middle;
    width: 110px;
    height: 10px;
    margin-right: 6px;
    border: 1px solid color-mix(in srgb, var(--color-base-content) 40%, transparent);
  }
  .bar i {
    display: block;
    height: 100%;
    background: var(--plain);
  }
  /* held against nothing: only beside each other */
  .unlimited .bar {
    border-color: transparent;
  }
  .unlimited .bar i {
    opacity: 0.35;
  }
  .own input:not(:first-child) {
    margin-left: 10px;
  }
  h2:not(:first-child) {
    margin-top: 16px;
  }
  .lost .bar i {
    background: var(--lost);
  }
  .use {
    display: flex;
    gap: 6px;
    align-items: center;
  }
</style>
