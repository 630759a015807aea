<script lang="ts">
  import {
    addSlotMenus,
    askBeforeOverwriting,
    overwriting,
    setSaves,
    slotRule,
    type SlotAct
  } from '@crow-lane/core/document/edits/slots';
  import { addRule } from '@crow-lane/core/document/edits/rules';
  import { onDestroy } from 'svelte';
  import { levelsOf, ruleLists, type Id, type Rule } from '@crow-lane/core/document/types';
  import { slotsOf } from '@crow-lane/core/play/slots';
  import { playSteps } from '@crow-lane/core/trial/trial';
  import { slotCards, type SlotCard as SlotCardValue } from '@crow-lane/core/trial/slots';
  import { mostSlots, slotParts, usuallyShown } from '@crow-lane/core/vocabulary/saves';
  import { capital, effectWords, placeName, targetWords, triggerWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import SlotCard from '$lib/parts/SlotCard.svelte';

  /** How many saved games there can be, what is shown of each, which menus offer them, and what these do. */
  const { flow, runs, view } = flowContext();
  const count = $derived(slotsOf(flow.document));
  const shows = $derived(flow.document.saves?.shows ?? usuallyShown);
  const parts = $derived<[Id, string][]>([
    ...Object.entries(slotParts),
    ...Object.entries(flow.document.variables).map(([id, { name }]): [Id, string] => [id, name])
  ]);
  const show = (part: Id, on: boolean) =>
    flow.edit(
      setSaves(flow.document, { ...flow.document.saves, shows: on ? [...shows, part] : shows.filter((each) => each !== part) })
    );

  const menus = $derived(
    Object.entries(flow.document.places)
      .filter(([, { kind }]) => kind === 'menu')
      .map(([id, { rules }]) => ({ id, rules: rules.filter(({ when }) => 'slot' in when) }))
  );
  const offering = $derived(menus.filter(({ rules }) => rules.length > 0));
  const lost = $derived(new Set(overwriting(flow.document).map(({ id }) => id)));
  const acts: [SlotAct, string][] = [
    ['new', 'New game in an empty slot'],
    ['on', 'Go on in a used slot'],
    ['save', 'Save into a slot'],
    ['clear', 'Clear a used slot']
  ];
  let menu = $state('');
  const chosen = $derived(menus.some(({ id }) => id === menu) ? menu : (offering[0]?.id ?? menus[0]?.id));

  /** What a player really has in a slot: just after the first save there is, else on the shortest way into a level. */
  let example: SlotCardValue | undefined = $state.raw();
  let looking = $state(false);
  $effect(() => {
    const { document } = flow;
    const saving = [...ruleLists(document)]
      .flatMap(({ rules }) => rules)
      .find(({ do: effects }) => effects?.some((effect) => 'save' in effect));
    const [first] = levelsOf(document);
    if (!saving && !first) return void (example = undefined);
    looking = true;
    void runs.routeTo(document, saving ? { rule: saving.id } : { place: first![0] }).then((route) => {
      const trial = route && playSteps(document, route)?.trial;
      if (flow.document !== document) return;
      looking = false;
      example = trial && slotCards(trial.flow, trial.state)[trial.state.slot];
    });
  });
  onDestroy(() => runs.forget());

  /** "When a used slot is picked: open Go on? over it". */
  const said = (place: Id, rule: Rule) => {
    const owner = { place };
    const does = [
      ...(rule.do ?? []).map((effect) => effectWords(flow.document, owner, effect)),
      ...(rule.go
        ? [
            'over' in rule.go
              ? `open ${targetWords(flow.document, rule.go)} over it`
              : `to ${targetWords(flow.document, rule.go)}`
          ]
        : [])
    ];
    return `${capital(triggerWords(flow.document, owner, rule))}: ${does.join(', ')}`;
  };
</script>

<section aria-label="Saved games">
  <h2>Saved games</h2>
  <div class="two">
    <div>
      <label class="count"
        >side by side
        <input
          class="input input-xs"
          type="number"
          min="1"
          max={mostSlots}
          aria-label="How many saved games side by side"
          value={count}
          onchange={(event) => {
            const slots = Number(event.currentTarget.value);
            if (Number.isInteger(slots) && slots >= 1 && slots <= mostSlots)
              flow.edit(setSaves(flow.document, { ...flow.document.saves, slots }));
            else {
              event.currentTarget.value = String(count);
              flow.notice = { bad: true, text: `There can be 1 to ${mostSlots} saved games.` };
            }
          }}
        /></label
      >
      <fieldset>
        <legend>What each shows</legend>
        {#each parts as [part, name] (part)}
          <label
            ><input
              class="checkbox checkbox-xs"
              type="checkbox"
              checked={shows.includes(part)}
              onchange={(event) => show(part, event.currentTarget.checked)}
            />
            {name}</label
          >
        {/each}
      </fieldset>
    </div>
    <figure>
      {#if example}
        <SlotCard card={example} />
        <figcaption class="dim">as on the shortest route to a save</figcaption>
      {:else if looking}
        <figcaption class="dim">looking for a player who has something to show…</figcaption>
      {:else}
        <figcaption class="dim">No player gets far enough to have something to show.</figcaption>
      {/if}
    </figure>
  </div>
  {#if offering.length === 0}
    <p>
      No menu offers them yet.
      <button
        type="button"
        class="btn btn-sm btn-primary"
        onclick={() => {
          const { id, ...made } = addSlotMenus(flow.document, Math.max(3, count));
          flow.edit(made);
          view.select(id, false);
        }}>Add the usual menus</button
      >
      <span class="dim">Pick a slot: an empty one begins a game, a used one goes on or, after a question, begins again.</span>
    </p>
  {:else}
    {#each offering as { id, rules } (id)}
      <h3>
        <button type="button" class="link" onclick={() => view.select(id, false)}>{placeName(flow.document, id)}</button>
      </h3>
      <ul>
        {#each rules as rule (rule.id)}
          <li>
            {said(id, rule)}
            {#if lost.has(rule.id)}
              <button type="button" class="btn btn-xs" onclick={() => flow.edit(askBeforeOverwriting(flow.document, rule.id))}
                >Ask before overwriting</button
              >
            {/if}
          </li>
        {/each}
      </ul>
    {/each}
  {/if}
  {#if chosen !== undefined}
    <p class="acts">
      <label
        >add to
        <select
          class="select select-xs"
          aria-label="The menu that offers saved games"
          value={chosen}
          onchange={(event) => (menu = event.currentTarget.value)}
        >
          {#each menus as { id } (id)}<option value={id}>{placeName(flow.document, id)}</option>{/each}
        </select></label
      >
      {#each acts as [act, words] (act)}
        <button
          type="button"
          class="btn btn-xs"
          onclick={() => {
            const { id: _id, ...made } = addRule(flow.document, { place: chosen }, slotRule(flow.document, act));
            flow.edit(made);
          }}>{words}</button
        >
      {/each}
    </p>
  {/if}
</section>

<style>
  h2 {
    font-size: 14px;
    margin: 4px 0;
  }
  h3 {
    margin-top: 8px;
    font-weight: 700;
  }
  .two {
    display: flex;
    flex-wrap: wrap;
    gap: 16px 60px;
    align-items: flex-start;
    margin-bottom: 8px;
  }
  .count input {
    width: 56px;
    margin-left: 6px;
  }
  fieldset {
    margin-top: 6px;
    max-width: 520px;
  }
  legend {
    font-weight: 700;
  }
  fieldset label {
    display: inline-flex;
    align-items: center;
    gap: 5px;
    min-height: 26px;
    margin-right: 14px;
  }
  figcaption {
    font-size: 11px;
    margin-top: 3px;
  }
  li {
    padding: 2px 0;
  }
  .acts label {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    margin: 8px 0 14px;
  }
</style>
