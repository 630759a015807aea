<script lang="ts">
  import { pastePlaces, copyPlaces } from '@crow-lane/core/document/edits/copies';
  import { setListed } from '@crow-lane/core/document/edits/lists';
  import { setPlaceField } from '@crow-lane/core/document/edits/places';
  import { together } from '@crow-lane/core/document/patch';
  import { isLevel, type FlowDocument } from '@crow-lane/core/document/types';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';

  /** The desk while several places are selected: what can be done with all of them at once. */
  const { flow, view } = flowContext();
  const all = $derived(Object.keys(flow.document.places).filter((id) => view.all.includes(id)));
  const levels = $derived(all.filter((id) => isLevel(flow.document, id)));
  const count = $derived(`${levels.length} ${levels.length === 1 ? 'level' : 'levels'}`);

  function setGroup(group: string) {
    const label = group ? `${count} into ${flow.document.groups[group]!.name}` : `${count} into no group`;
    const edits = levels.map((id) => (now: FlowDocument) => setPlaceField(now, id, 'group', group || undefined));
    flow.edit(together(flow.document, label, ...edits));
  }

  function setOrder(order: string) {
    const edits = levels.map((id) => (now: FlowDocument) => setListed(now, order, id, true));
    flow.edit(together(flow.document, `${count} into ${flow.document.orders[order]!.name}`, ...edits));
  }

  function duplicate() {
    const { ids, missing: _missing, ...change } = pastePlaces(flow.document, copyPlaces(flow.document, all));
    flow.edit({ ...change, label: `Duplicate ${all.length} places` });
    view.select(ids[0]);
    view.also = new Set(ids.slice(1));
  }
</script>

<section aria-label="Selected places">
  <h2>{all.length} places</h2>
  <ul>
    {#each all as id (id)}
      <li><button type="button" class="link" onclick={() => view.select(id)}>{placeName(flow.document, id)}</button></li>
    {/each}
  </ul>
</section>
<section aria-label="What to do with them">
  <h2>All of them</h2>
  <p class="acts">
    <button type="button" class="btn btn-xs" onclick={duplicate}>Duplicate</button>
    <button type="button" class="btn btn-xs" onclick={() => (view.dialog = { is: 'delete', places: all })}>Delete…</button>
  </p>
  {#if levels.length > 0}
    <p class="fact">
      <label for="all-group">Group of {count}</label>
      <select id="all-group" class="select select-xs" onchange={(event) => setGroup(event.currentTarget.value)}>
        <option value="" disabled selected>choose</option>
        <option value="">none</option>
        {#each Object.entries(flow.document.groups) as [group, { name }] (group)}<option value={group}>{name}</option>{/each}
      </select>
    </p>
    {#each Object.entries(flow.document.orders) as [order, value] (order)}
      {@const missing = levels.filter((id) => !value.levels.includes(id)).length}
      {#if missing > 0}
        <p><button type="button" class="link" onclick={() => setOrder(order)}>Put {missing} of them into {value.name}</button></p>
      {/if}
    {/each}
  {/if}
  <p class="dim">Copy with Ctrl C, paste here or in another flow with Ctrl V.</p>
</section>

<style>
  ul {
    line-height: 1.7;
  }
  .acts {
    display: flex;
    gap: 4px;
  }
  .fact {
    display: flex;
    align-items: center;
    gap: 8px;
    margin: 6px 0;
  }
  .fact select {
    width: 160px;
  }
</style>
