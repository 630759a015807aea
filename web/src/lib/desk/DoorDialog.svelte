<script lang="ts">
  import { addDoor, doorName, type NewDoor } from '@crow-lane/core/document/edits/doors';
  import { addPlace, emptyPlace } from '@crow-lane/core/document/edits/places';
  import { doorsOf } from '@crow-lane/core/document/doors';
  import { alike } from '@crow-lane/core/document/ids';
  import { cut } from '@crow-lane/core/document/cut';
  import { Series } from '@crow-lane/core/document/patch';
  import { levelsOf, type FlowDocument, type Id, type Place, type Transition } from '@crow-lane/core/document/types';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Dialog from '$lib/parts/Dialog.svelte';
  import { timed } from '@crow-lane/core/document/numbers';
  import { transitionWords } from '$lib/parts/transition.ts';

  /** A door is one thing with two sides: to which level, what each side is called, where the player looks on arrival. */
  let { from, onclose }: { from: Id; onclose: () => void } = $props();
  const { flow } = flowContext();
  const here = $derived(placeName(flow.document, from));
  let room = $state('');
  let names = $state(['', '']);
  let facing = $state(['', '']);
  let bothWays = $state(true);
  /** How the doors look that there are: another one most likely looks like these. */
  const looks = $derived.by(() => {
    const all = levelsOf(flow.document).flatMap(([id]) => doorsOf(flow.document, id).flatMap(({ side }) => side.rule.by ?? []));
    return [...new Map(all.map((by) => [JSON.stringify(by), by])).values()];
  });
  // the first look is proposed once; afterwards the designer has it
  // svelte-ignore state_referenced_locally
  let look = $state(looks.length > 0 ? JSON.stringify(looks[0]) : '');
  const fade: Transition = { style: 'fade', out: 0.5, in: 0.5 };

  const typed = $derived(cut(room.trim(), 80));
  const to = $derived(levelsOf(flow.document).find(([id, { name }]) => id !== from && alike(name, typed))?.[0]);
  const usual = $derived([
    doorName(flow.document, from, to === undefined ? typed : placeName(flow.document, to)),
    doorName(flow.document, to, here)
  ]);

  function make(event: SubmitEvent) {
    event.preventDefault();
    if (!typed || alike(typed, here)) return;
    const series = new Series<FlowDocument>(flow.document);
    const target = to ?? series.make(addPlace(flow.document, { ...emptyPlace('level', typed), goal: 'leave' } as Place)).id;
    const [ours, theirs] = usual.map((name, side) => cut(names[side]!.trim() || name, 80)) as [string, string];
    const door: NewDoor = {
      from,
      to: target,
      here: ours,
      there: theirs,
      facingHere: facing[0]!.trim(),
      facingThere: facing[1]!.trim(),
      oneWay: !bothWays,
      ...(look && { by: JSON.parse(look) as Transition })
    };
    const { label } = series.make(addDoor(series.now, door));
    flow.edit(series.whole(label));
    onclose();
  }
</script>

<Dialog title="A door from {here}" {onclose}>
  <form class="asked" onsubmit={make}>
    <label
      >Leads to <input
        class="input input-sm"
        list="door-rooms"
        required
        maxlength="80"
        autocomplete="off"
        data-first
        bind:value={room}
      /></label
    >
    <datalist id="door-rooms"
      >{#each levelsOf(flow.document).filter(([id]) => id !== from) as [id, { name }] (id)}<option value={name}
        ></option>{/each}</datalist
    >
    {#if typed && alike(typed, here)}<p class="hint lost">A door leads to another level.</p>
    {:else if typed && to === undefined}<p class="hint dim">There is no level {typed}: it is added.</p>{/if}
    {#each [`In ${here}`, `In ${to === undefined ? typed || 'the other level' : placeName(flow.document, to)}`] as side, index (index)}
      <fieldset>
        <legend>{side}</legend>
        <label
          >Called <input
            class="input input-sm"
            maxlength="80"
            autocomplete="off"
            placeholder={typed || index === 1 ? usual[index] : 'To …'}
            bind:value={names[index]}
          /></label
        >
        {#if index === 1 || bothWays}
          <label
            >Facing on arrival <input
              class="input input-sm"
              maxlength="80"
              autocomplete="off"
              placeholder="not said"
              bind:value={facing[index]}
            /></label
          >
        {/if}
      </fieldset>
    {/each}
    <label
      >Transition
      <select class="select select-sm" bind:value={look}>
        <option value="">at once</option>
        {#each looks as by (JSON.stringify(by))}<option value={JSON.stringify(by)}
            >{transitionWords(timed(flow.document, by))}</option
          >{/each}
        {#if !looks.some((by) => JSON.stringify(by) === JSON.stringify(fade))}<option value={JSON.stringify(fade)}
            >{transitionWords(timed(flow.document, fade))}</option
          >{/if}
      </select></label
    >
    <label class="check"><input type="checkbox" class="checkbox checkbox-xs" bind:checked={bothWays} /> leads both ways</label>
    <p class="acts">
      <button class="btn btn-sm btn-primary">Add the door</button>
      <button type="button" class="btn btn-sm" onclick={onclose}>Cancel</button>
    </p>
  </form>
</Dialog>

<style>
  fieldset {
    border-left: 3px solid var(--color-base-300);
    padding-left: 10px;
    margin-bottom: 8px;
  }
  legend {
    font-weight: 700;
    float: left;
    width: 100%;
    margin-bottom: 4px;
  }
  fieldset label {
    clear: both;
  }
  .hint {
    margin: -4px 0 8px;
    font-size: 12px;
  }
</style>
