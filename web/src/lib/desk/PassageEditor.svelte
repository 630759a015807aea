<script lang="ts">
  import { changePassage, removePassage } from '@crow-lane/core/document/edits/ground';
  import type { Id, Level, Passage } from '@crow-lane/core/document/types';
  import { canHappenTo } from '@crow-lane/core/vocabulary/triggers';
  import { conditionWords, passageName } from '@crow-lane/core/words/words';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import { typed } from '$lib/parts/typed.svelte.ts';
  import { flowContext } from '$lib/flow/context.ts';

  /** A passage between two spots: its direction, when it is open, and what cannot be avoided on it. */
  let { id, level, name }: { id: Id; level: Level; name: Id } = $props();
  const { flow } = flowContext();
  const owner = $derived({ place: id });
  const passage = $derived(level.passages[name]!);
  const words = $derived(passageName(flow.document, owner, name));
  const touched = $derived(Object.entries(level.pieces).filter(([, { kind }]) => canHappenTo('touch', kind)));

  function change(fields: Partial<Passage>) {
    flow.edit(changePassage(flow.document, id, name, fields));
  }
</script>

{#snippet end(label: string, which: 'from' | 'to', other: 'from' | 'to')}
  <select
    class="select select-xs"
    aria-label={label}
    value={passage[which]}
    onchange={(event) => change({ [which]: event.currentTarget.value })}
  >
    {#each Object.entries(level.spots) as [each, { name }] (each)}<option value={each} disabled={each === passage[other]}
        >{name}</option
      >{/each}
  </select>
{/snippet}

<section class="editor" aria-label="The passage {words}">
  <p class="line">
    {@render end('From', 'from', 'to')}
    <select
      class="select select-xs way"
      aria-label="Direction"
      value={passage.both ? 'both' : 'one'}
      onchange={(event) => change({ both: event.currentTarget.value === 'both' ? true : undefined })}
    >
      <option value="both">both ways</option>
      <option value="one">one way</option>
    </select>
    {@render end('To', 'to', 'from')}
  </p>
  <p class="line">
    <input
      class="grow"
      placeholder="name: ladder, trapdoor"
      aria-label="Name of the passage"
      maxlength="80"
      {@attach typed(
        flow,
        () => passage.name ?? '',
        (text) => change({ name: text.trim() || undefined })
      )}
    />
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
            value={passage.if ?? ''}
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
              const through = (passage.through ?? []).filter((each) => each !== piece);
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
    <input
      class="grow"
      placeholder="note; only the team sees this"
      aria-label="Note on the passage"
      maxlength="4000"
      {@attach typed(
        flow,
        () => passage.note ?? '',
        (text) => change({ note: text || undefined })
      )}
    />
    <button type="button" class="btn btn-xs" onclick={() => flow.edit(removePassage(flow.document, id, name))}
      >Delete passage</button
    >
  </p>
</section>

<style>
  .line .way {
    flex: 0 0 100px;
  }
  .met label {
    display: flex;
    align-items: center;
    gap: 4px;
  }
</style>
