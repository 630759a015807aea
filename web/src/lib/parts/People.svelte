<script lang="ts">
  import { author } from '$lib/flow/author.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import { placeName } from '@crow-lane/core/words/words';
  import Popup from './Popup.svelte';

  /** Who else has the flow open and where they look, and under which name this browser edits. */
  const { flow, view } = flowContext();
  const others = $derived(flow.company.others);
  const label = $derived(
    others.length === 0 ? 'Only you' : others.length === 1 ? `${others[0]!.name} is here` : `${others.length} others here`
  );
</script>

<Popup {label} look="btn btn-xs people" title="Who is here">
  {#snippet content(close)}
    <ul>
      {#each others as { client, name, place } (client)}
        <li>
          <b>{name}</b>
          {#if place !== null && flow.document.places[place]}
            at <button type="button" class="link" onclick={() => (close(), view.select(place))}
              >{placeName(flow.document, place)}</button
            >
          {:else}<span class="dim">sees the whole flow</span>{/if}
        </li>
      {/each}
      {#if others.length === 0}<li class="dim">No one else has this flow open.</li>{/if}
    </ul>
    {#if author.fixed}<p class="dim">You are {author.name}.</p>{:else}<label>
        You are
        <input
          class="input input-xs"
          maxlength="40"
          value={author.name}
          onchange={(event) => {
            const name = event.currentTarget.value.trim();
            if (name) author.rename(name);
            else event.currentTarget.value = author.name;
          }}
        />
      </label>{/if}
  {/snippet}
</Popup>

<style>
  ul {
    line-height: 1.8;
    margin-bottom: 6px;
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
</style>
