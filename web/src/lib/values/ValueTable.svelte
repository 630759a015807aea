<script lang="ts">
  import { usesOf, type Use } from '@crow-lane/core/sheet/uses';
  import { placeName } from '@crow-lane/core/words/words';
  import AddValue from '$lib/parts/AddValue.svelte';
  import ValueRow from '$lib/parts/ValueRow.svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import Popup from '$lib/parts/Popup.svelte';

  /** Every value: what it can be, when it goes back by itself, where it is changed and where it is read. */
  const { flow, view } = flowContext();
  const uses = $derived(usesOf(flow.document));
</script>

{#snippet used(list: Use[], none: string, what: string)}
  {#if list.length === 0}<span class="lost">{none}</span>
  {:else}
    <Popup label="{list.length} {list.length === 1 ? 'time' : 'times'}" look="link" title={what}>
      {#snippet content(close)}
        <ul>
          {#each list as { place, words }, index (index)}
            <li>
              {#if place !== undefined}<button type="button" class="link" onclick={() => (close(), view.select(place))}
                  >{placeName(flow.document, place)}</button
                >{:else}<b>shared</b>{/if}
              {words}
            </li>
          {/each}
        </ul>
      {/snippet}
    </Popup>
  {/if}
{/snippet}

<section aria-label="Values">
  <table>
    <thead>
      <tr>
        <th scope="col">Value</th>
        <th scope="col">What it can be</th>
        <th scope="col">Goes back with</th>
        <th scope="col">Changed</th>
        <th scope="col">Read</th>
        <th scope="col"><span class="hidden-text">Delete</span></th>
      </tr>
    </thead>
    <tbody>
      {#each Object.entries(flow.document.variables) as [id, variable] (id)}
        <ValueRow {id} {variable}>
          <td>{@render used(uses.get(id)?.set ?? [], 'never', `Where ${variable.name} is changed`)}</td>
          <td>{@render used(uses.get(id)?.read ?? [], 'never', `Where ${variable.name} is read`)}</td>
        </ValueRow>
      {/each}
    </tbody>
  </table>
  {#if Object.keys(flow.document.variables).length === 0}
    <p class="dim">Lives, score, keys, flags: what the player carries from place to place. None yet.</p>
  {/if}
  <AddValue />
</section>

<style>
  section {
    padding: 8px 16px 10px;
    overflow: auto;
    max-height: 42vh;
  }
  table {
    width: 100%;
    max-width: 1200px;
  }
  th {
    text-align: left;
    font-size: 12px;
    color: var(--dim);
    padding-right: 6px;
  }
  td {
    border-bottom: 1px solid var(--color-base-300);
    padding-right: 6px;
  }
  ul {
    list-style: square;
    padding-left: 18px;
    max-height: 300px;
    overflow: auto;
    font-size: 12px;
  }
</style>
