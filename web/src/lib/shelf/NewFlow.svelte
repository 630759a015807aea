<script lang="ts">
  import { shapes } from '@crow-lane/core/document/shapes';
  import { emptyFlow } from '@crow-lane/core/document/shapes';

  /** Name, shape, and the two or three things that the shape asks. */
  let { onmake }: { onmake: (document: object) => void } = $props();
  let key = $state('blank');
  let levels = $state(5);
  let lives = $state(3);
  let score: 'no' | 'run' | 'attempt' = $state('no');
  let groups = $state(0);
  /** Screens around the levels, and whether arrivals are saved. */
  const extras = $state({ pause: false, options: false, credits: false, saves: false });
  const extraWords = {
    pause: 'a pause menu, opened over the levels',
    options: 'options, opened over the title and the pause',
    credits: 'credits',
    saves: 'a save on each arrival, and Continue in the title'
  } as const;
  const shape = $derived(shapes.find((each) => each.key === key));

  function make(event: SubmitEvent) {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget as HTMLFormElement).get('name')).trim();
    if (!name) return;
    if (!shape) return onmake(emptyFlow(name));
    const asked = (what: (typeof shape.asks)[number]) => shape.asks.includes(what);
    const { saves, ...screens } = extras;
    onmake(
      shape.make(name, {
        levels,
        ...(asked('lives') && lives > 0 ? { lives } : {}),
        ...(asked('score') && score !== 'no' ? { score } : {}),
        ...(asked('groups') && groups > 0 ? { groups } : {}),
        ...(asked('saves') && saves ? { saves } : {}),
        ...screens
      })
    );
  }
</script>

<form onsubmit={make}>
  <label class="ask"
    >Name <input class="input input-sm" name="name" data-first required maxlength="80" autocomplete="off" /></label
  >
  <fieldset>
    <legend>Begin with</legend>
    <label class="shape">
      <input type="radio" class="radio radio-sm" name="shape" value="blank" bind:group={key} />
      <span><b>Nothing yet</b> One menu, where play begins.</span>
    </label>
    {#each shapes as each (each.key)}
      <label class="shape">
        <input type="radio" class="radio radio-sm" name="shape" value={each.key} bind:group={key} />
        <span><b>{each.name}</b> {each.line}</span>
      </label>
    {/each}
  </fieldset>
  {#if shape}
    <label class="ask"
      >How many {shape.level}s?
      <input class="input input-sm" type="number" min="1" max="60" required bind:value={levels} /></label
    >
    {#if shape.asks.includes('lives')}
      <label class="ask"
        >How many lives?{shape.key === 'loop' ? '' : ' (0: endless)'}
        <input
          class="input input-sm"
          type="number"
          min={shape.key === 'loop' ? 1 : 0}
          max="99"
          required
          bind:value={lives}
        /></label
      >
    {/if}
    {#if shape.asks.includes('score')}
      <label class="ask"
        >Is there a score?
        <select class="select select-sm" bind:value={score}>
          <option value="no">no</option>
          <option value="run">carried through the run</option>
          <option value="attempt">of each attempt alone</option>
        </select></label
      >
    {/if}
    {#if shape.asks.includes('groups')}
      <label class="ask"
        >In how many groups? (0: none)
        <input class="input input-sm" type="number" min="0" max="20" required bind:value={groups} /></label
      >
    {/if}
    <fieldset>
      <legend>With</legend>
      {#each Object.entries(extraWords) as [extra, words] (extra)}
        {#if extra !== 'saves' || shape.asks.includes('saves')}
          <label class="extra"
            ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={extras[extra as keyof typeof extras]} />
            {words}</label
          >
        {/if}
      {/each}
    </fieldset>
  {/if}
  <button class="btn btn-sm btn-primary">Make the flow</button>
</form>

<style>
  fieldset {
    margin-bottom: 10px;
  }
  legend {
    margin-bottom: 4px;
  }
  .shape {
    display: flex;
    gap: 8px;
    align-items: flex-start;
    padding: 4px 6px;
    border-left: 4px solid var(--color-base-300);
    margin-bottom: 3px;
    cursor: pointer;
  }
  .shape:has(:checked) {
    border-left-color: var(--color-accent);
    background: var(--tile);
  }
  .extra {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 2px 0;
  }
  .ask {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 12px;
    margin-bottom: 8px;
  }
  .ask input,
  .ask select {
    width: 240px;
  }
</style>
