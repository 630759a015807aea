<script lang="ts">
  import type { Id, Plan } from '@crow-lane/core/document/types';
  import { flowContext } from '$lib/flow/context.ts';
  import Asked from './Asked.svelte';
  import type { Drawing } from './drawing.svelte.ts';

  /** What has a name or a condition in a plan: gates, links, areas; and what a fall touches. */
  let { drawing }: { drawing: Drawing } = $props();
  const { flow } = flowContext();
  const level = $derived(drawing.level!);
  const plan = $derived(drawing.plan!);
  const gates = $derived(
    Object.entries(plan.things ?? {}).flatMap(([id, thing]) => ('gate' in thing ? [[id, thing] as const] : []))
  );
  const hazards = $derived(Object.entries(level.pieces).filter(([, { kind }]) => kind === 'hazard'));

  type Maps = 'things' | 'links' | 'areas';
  function change<K extends Maps>(map: K, id: Id, fields: object, label: string) {
    drawing.draw(label, (now) => {
      const before = now[map]?.[id];
      if (!before) return now;
      const after = Object.fromEntries(Object.entries({ ...before, ...fields }).filter(([, value]) => value !== undefined));
      return { ...now, [map]: { ...now[map], [id]: after } } as Plan;
    });
  }
  function remove(map: Maps, id: Id) {
    drawing.draw('take away', (now) => {
      const { [id]: _, ...rest } = (now[map] ?? {}) as Record<Id, unknown>;
      return { ...now, [map]: rest } as Plan;
    });
  }
</script>

<h2>Gates</h2>
{#each gates as [id, gate] (id)}
  <div class="one">
    <input
      class="input input-xs"
      aria-label="Name of the gate"
      placeholder="name"
      maxlength="80"
      value={gate.name ?? ''}
      onchange={(event) => change('things', id, { name: event.currentTarget.value.trim() || undefined }, 'name a gate')}
    />
    <Asked
      id={drawing.id}
      value={gate.gate}
      before="open"
      title="When is the gate open?"
      onkeep={(text) => text !== '' && change('things', id, { gate: text }, 'what a gate asks for')}
    />
    <button type="button" class="btn btn-xs" onclick={() => remove('things', id)}>Delete</button>
  </div>
{:else}<p class="dim">None. “+ gate…” stands in the row of stamps.</p>{/each}
<h2>Links</h2>
{#each Object.entries(plan.links ?? {}) as [id, link] (id)}
  <div class="one">
    <input
      class="input input-xs"
      aria-label="Name of the link"
      placeholder="name"
      maxlength="80"
      value={link.name ?? ''}
      onchange={(event) => change('links', id, { name: event.currentTarget.value.trim() || undefined }, 'name a link')}
    />
    <span class="dim">{link.from.join(', ')} → {link.to.join(', ')}</span>
    <label class="check"
      ><input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={link.both ?? false}
        onchange={(event) => change('links', id, { both: event.currentTarget.checked || undefined }, 'a link both ways')}
      /> both ways</label
    >
    <Asked
      id={drawing.id}
      value={link.if ?? ''}
      before="can be taken"
      title="When can the link be taken?"
      onkeep={(text) => change('links', id, { if: text || undefined }, 'what a link asks for')}
    />
    <button type="button" class="btn btn-xs" onclick={() => remove('links', id)}>Delete</button>
  </div>
{:else}<p class="dim">None. A lift, a jump pad: pull the link stamp from cell to cell.</p>{/each}
<h2>Areas</h2>
{#each Object.entries(plan.areas ?? {}) as [id, area] (id)}
  <div class="one row">
    <input
      class="input input-xs"
      aria-label="Name of the area"
      maxlength="80"
      value={area.name}
      onchange={(event) =>
        event.currentTarget.value.trim() && change('areas', id, { name: event.currentTarget.value.trim() }, 'name an area')}
    />
    <button type="button" class="btn btn-xs" onclick={() => remove('areas', id)}>Delete</button>
  </div>
{:else}<p class="dim">None. An area names the spots in it, and rules can name it.</p>{/each}
{#if plan.view === 'side' && hazards.length > 0}
  <label class="below"
    >A fall out of the plan touches
    <select
      class="select select-xs"
      value={plan.below ?? ''}
      onchange={(event) => {
        const below = event.currentTarget.value;
        drawing.draw('what a fall touches', ({ below: _, ...now }) => (below ? { ...now, below } : now));
      }}
      ><option value="">nothing: it is no move</option>{#each hazards as [id, { name }] (id)}<option value={id}>{name}</option
        >{/each}</select
    ></label
  >
{/if}
<p class="dim">{flow.document.places[drawing.id]?.name}: pieces and entries themselves are edited on the desk.</p>

<style>
  h2 {
    margin: 8px 0 2px;
  }
  .one {
    display: grid;
    gap: 3px;
    padding: 4px 0 6px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .row {
    grid-template-columns: 1fr auto;
  }
  .check {
    display: flex;
    gap: 6px;
  }
  .below {
    display: grid;
    gap: 3px;
    margin: 10px 0;
  }
</style>
