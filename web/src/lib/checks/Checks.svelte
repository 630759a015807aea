<script lang="ts">
  import { onMount } from 'svelte';
  import { families, findings, markOf, placeOf, threeAnswers, type Answer, type Family } from '@crow-lane/core/report/answers';
  import type { VerdictChange } from '@crow-lane/core/report/compare';
  import { decides, verdictKey, type Verdict } from '@crow-lane/core/report/report';
  import type { Id } from '@crow-lane/core/document/types';
  import { placeName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import type { ShownCause } from '$lib/flow/live-causes.svelte.ts';
  import FixLine from '$lib/parts/FixLine.svelte';
  import Mark from '$lib/parts/Mark.svelte';
  import Finding from './Finding.svelte';
  import Matrix from './Matrix.svelte';
  import Since from './Since.svelte';

  /** Can every level be completed, is every place reached, can the player get stuck: with the evidence and the fixes. */
  const { flow, checks, causes } = flowContext();
  onMount(() => causes.show());
  const report = $derived(checks.report);
  const three = $derived(report && threeAnswers(report));
  const answers = $derived(
    three
      ? ([
          [
            'completed',
            three.completed,
            three.completed.of === 0
              ? 'No levels yet'
              : three.completed.mark === 'holds'
                ? 'Every level can be completed'
                : `${three.completed.good} of ${three.completed.of} levels can be completed`
          ],
          [
            'reached',
            three.reached,
            three.reached.mark === 'holds'
              ? 'Every place is reached'
              : `${three.reached.good} of ${three.reached.of} places are reached`
          ],
          [
            'free',
            three.free,
            three.free.mark === 'fails'
              ? `The player can get stuck in ${three.free.against.length} ${three.free.against.length === 1 ? 'way' : 'ways'}`
              : three.free.mark === 'open'
                ? 'Not settled whether the player can get stuck'
                : 'The player never gets stuck'
          ]
        ] as [string, Answer, string][])
      : []
  );

  type Only = 'failing' | 'open' | 'accepted' | 'remarks';
  const kinds: { key: Only; words: string }[] = [
    { key: 'failing', words: 'failing' },
    { key: 'open', words: 'not settled' },
    { key: 'accepted', words: 'accepted' },
    { key: 'remarks', words: 'worth knowing' }
  ];
  let only: Only = $state('failing');
  let answer: string | undefined = $state();
  let group = $state('');
  let chosen: { place: Id | null; family?: Family } | undefined = $state.raw();
  let since: VerdictChange[] | undefined = $state.raw();
  let opened: string | undefined = $state();

  const inGroup = (place: Id | null) => {
    if (group === '') return true;
    const at = place === null ? undefined : flow.document.places[place];
    return at?.kind === 'level' && at.group === group;
  };
  const news = $derived(since && new Set(since.filter(({ is }) => is === 'broken').map(({ verdict }) => verdictKey(verdict))));
  const against = $derived(answers.find(([id]) => id === answer)?.[1].against);
  const fits = (verdict: Verdict) => {
    const place = placeOf(flow.document, verdict) ?? null;
    if (!inGroup(place)) return false;
    if (against && !against.includes(verdict)) return false;
    if (news && !news.has(verdictKey(verdict))) return false;
    if (!chosen) return true;
    if (chosen.place !== place) return false;
    const family = families.find(({ checks: names }) => (names as readonly string[]).includes(verdict.check));
    return chosen.family === undefined || chosen.family === family?.id;
  };
  const all = $derived(report ? [...findings(report), ...report.checks.filter(({ outcome }) => outcome === 'open')] : []);
  const of = (kind: Only) =>
    all.filter((verdict) =>
      kind === 'open'
        ? verdict.outcome === 'open'
        : verdict.outcome === 'fails' &&
          (kind === 'failing'
            ? decides(verdict)
            : kind === 'accepted'
              ? verdict.accepted !== undefined
              : verdict.accepted === undefined && verdict.severity === 'information')
    );
  /** A line of the list: a cause with what follows from it, or, where only that is looked at, what it follows from. */
  interface Line {
    verdict: Verdict;
    follows: Verdict[];
    because?: Verdict;
    fix?: ShownCause['fix'];
  }
  const listed: Line[] = $derived.by(() => {
    if (only !== 'failing') return of(only).flatMap((verdict) => (fits(verdict) ? [{ verdict, follows: [] }] : []));
    const shown = (verdict: Verdict) => decides(verdict) && fits(verdict);
    return causes.causes.flatMap(({ verdict, follows, fix }): Line[] => {
      const after = follows.filter(shown);
      if (shown(verdict)) return [{ verdict, follows: after, fix }];
      return after.map((each) => ({ verdict: each, follows: [], because: verdict }));
    });
  });
  const explaining = $derived(listed.filter(({ because }) => because === undefined).length);
  /** Of a chosen row or cell also what is in order, with its evidence. */
  const inOrder = $derived(
    chosen && report
      ? report.checks.filter((verdict) => (verdict.outcome === 'holds' || verdict.outcome === 'unreached') && fits(verdict))
      : []
  );
  const failingPlaces = $derived(new Set(of('failing').map((verdict) => placeOf(flow.document, verdict) ?? null)));
  let everywhere = $state(true);
  const shows = (place: Id | null) => inGroup(place) && (everywhere || failingPlaces.has(place));

  function use(cause: Pick<ShownCause, 'verdict' | 'fix'>) {
    const change = causes.fixOf(flow.document, cause);
    if (change) flow.edit(change);
  }

  function choose(to: typeof chosen) {
    chosen = to;
    answer = undefined;
    if (to && !of(only).some(fits)) only = kinds.find(({ key: kind }) => of(kind).some(fits))?.key ?? only;
  }
</script>

{#snippet message(verdict: Verdict)}
  <button
    type="button"
    class="message"
    aria-expanded={opened === verdictKey(verdict)}
    onclick={() => (opened = opened === verdictKey(verdict) ? undefined : verdictKey(verdict))}
    ><Mark mark={markOf([verdict])} /> <span>{verdict.message}</span></button
  >
{/snippet}

<div class="checks">
  <div class="three" class:renewing={checks.renewing}>
    {#each answers as [id, { mark }, words] (id)}
      <button
        type="button"
        class={mark}
        aria-pressed={answer === id}
        onclick={() => (
          (answer = answer === id ? undefined : id),
          (chosen = undefined),
          (only = mark === 'open' ? 'open' : 'failing')
        )}><Mark {mark} size={20} /> {words}</button
      >
    {/each}
    {#if !report}<p class="dim">{checks.failed ?? 'checking…'}</p>{/if}
    {#if report && !report.complete}
      <p class="dim">
        Looked at {report.states.toLocaleString('en')} states, not all of them{#each report.large ?? [] as { what, times } (what)};
          without {what}
          there would be {times} times fewer{/each}.
      </p>
    {/if}
  </div>
  <div class="left">
    <p class="filters">
      <select class="select select-xs" aria-label="Only of this group" bind:value={group}>
        <option value="">all places</option>
        {#each Object.entries(flow.document.groups) as [id, { name }] (id)}<option value={id}>{name}</option>{/each}
      </select>
      <label
        ><input type="checkbox" class="checkbox checkbox-xs" checked={!everywhere} onchange={() => (everywhere = !everywhere)} /> only
        places where something fails</label
      >
    </p>
    <Matrix {chosen} {shows} onchoose={choose} />
  </div>
  <section class="right" aria-label="Findings">
    <Since onsince={(changes) => (since = changes)} />
    <div role="tablist" aria-label="Kinds of findings">
      {#each kinds as { key: kind, words } (kind)}
        <button type="button" role="tab" aria-selected={only === kind} onclick={() => (only = kind)}
          >{of(kind).filter(fits).length} {words}</button
        >
      {/each}
    </div>
    {#if chosen || answer || news}
      <p class="of">
        {chosen
          ? chosen.place === null
            ? 'About the flow as a whole'
            : `About ${placeName(flow.document, chosen.place)}`
          : answer
            ? 'Of this answer'
            : 'New since then'}{chosen?.family ? `: ${families.find(({ id }) => id === chosen?.family)?.words}` : ''}
        {#if chosen || answer}<button type="button" class="link" onclick={() => (chosen = answer = undefined)}>show all</button
          >{/if}
      </p>
    {/if}
    {#if only === 'failing' && listed.length > 0}
      <p class="dim causes" role="status">
        {`${explaining} ${explaining === 1 ? 'cause' : 'causes'}, each with what follows from it.`}
        {#if causes.trying}Trying fixes…
        {:else if causes.untried}Not all of them have been tried yet.
          <button type="button" class="link" onclick={() => causes.goOn()}>Try the rest</button>{/if}
      </p>
    {/if}
    <ul>
      {#each listed as { verdict, follows, because, fix } (verdictKey(verdict))}
        <li class={verdict.severity} class:accepted={verdict.accepted !== undefined} data-finding={verdictKey(verdict)}>
          {@render message(verdict)}
          {#if opened === verdictKey(verdict)}
            <div class="inside">
              {#if because}<p class="because">Because: {because.message}</p>{/if}
              <Finding {verdict} />
            </div>
          {/if}
          {#if fix && opened !== verdictKey(verdict)}
            <div class="fix"><FixLine {...fix} onuse={() => use({ verdict, fix })} /></div>
          {/if}
          {#if follows.length > 0}
            <details class="follows">
              <summary>{follows.length} more {follows.length === 1 ? 'follows' : 'follow'} from this</summary>
              <ul>
                {#each follows as each (verdictKey(each))}
                  <li class={each.severity} data-finding={verdictKey(each)}>
                    {@render message(each)}
                    {#if opened === verdictKey(each)}<div class="inside"><Finding verdict={each} /></div>{/if}
                  </li>
                {/each}
              </ul>
            </details>
          {/if}
        </li>
      {/each}
      {#if report && listed.length === 0}<li class="none dim">{only === 'failing' ? 'Nothing fails here.' : 'None.'}</li>{/if}
    </ul>
    {#if inOrder.length > 0}
      <h3>In order</h3>
      <ul>
        {#each inOrder as verdict, index (index)}
          <li class="good">
            <button
              type="button"
              class="message"
              aria-expanded={opened === verdictKey(verdict)}
              disabled={!verdict.length}
              onclick={() => (opened = opened === verdictKey(verdict) ? undefined : verdictKey(verdict))}
              ><Mark mark={markOf([verdict])} /> <span>{verdict.message}</span></button
            >
            {#if opened === verdictKey(verdict) && verdict.length}<div class="inside"><Finding {verdict} /></div>{/if}
          </li>
        {/each}
      </ul>
    {/if}
  </section>
</div>

<style>
  .checks {
    height: 100%;
    display: grid;
    grid-template: auto minmax(0, 1fr) / minmax(0, 1fr) minmax(400px, 38%);
  }
  .three {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    padding: 10px 16px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .three.renewing {
    opacity: 0.75;
  }
  .three button {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 7px 14px;
    font-size: 15px;
    font-weight: 700;
    cursor: pointer;
    background: var(--tile);
    border: 1px solid var(--color-base-300);
    border-bottom: 4px solid var(--plain);
  }
  .three .holds {
    border-bottom: 4px double var(--won);
  }
  .three .fails {
    border-bottom: 4px solid var(--lost);
  }
  .three [aria-pressed='true'] {
    background: var(--pick-wash);
    border-color: var(--color-base-content);
  }
  .left {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-width: 0;
  }
  .filters {
    display: flex;
    gap: 14px;
    align-items: center;
    padding: 5px 16px;
  }
  .filters select {
    width: 150px;
  }
  .filters label {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  .right {
    overflow: auto;
    padding: 6px 16px 30px;
    border-left: 1px solid var(--color-base-300);
    background: var(--color-base-200);
  }
  [role='tablist'] {
    display: flex;
    flex-wrap: wrap;
    gap: 2px;
    margin: 4px 0;
  }
  [role='tab'] {
    padding: 3px 8px;
    cursor: pointer;
    border-bottom: 3px solid transparent;
  }
  [aria-selected='true'] {
    font-weight: 700;
    border-bottom-color: var(--color-accent);
  }
  .causes {
    padding: 2px 0 4px;
  }
  .of {
    font-weight: 700;
    padding: 2px 0 4px;
  }
  h3 {
    margin: 10px 0 4px;
    font-size: 13px;
    font-weight: 700;
  }
  li {
    margin-bottom: 3px;
    background: var(--tile);
    border-left: 4px dotted var(--plain);
  }
  li.error:not(.accepted) {
    border-left: 4px solid var(--lost);
  }
  li.warning:not(.accepted) {
    border-left: 4px dashed var(--lost);
  }
  li.good,
  li.none {
    border-left-color: transparent;
    background: transparent;
  }
  .message {
    display: flex;
    gap: 8px;
    width: 100%;
    padding: 4px 8px;
    text-align: left;
    cursor: pointer;
  }
  .message :global(svg) {
    flex: none;
    margin-top: 3px;
  }
  .message:hover:enabled,
  .message[aria-expanded='true'] {
    background: var(--pick-wash);
  }
  .message:disabled {
    cursor: default;
  }
  .fix {
    padding: 0 8px 2px 30px;
  }
  .follows {
    padding: 0 8px 4px 30px;
    font-size: 12.5px;
  }
  .follows summary {
    cursor: pointer;
    color: var(--dim);
  }
  .because {
    font-size: 12.5px;
  }
  .inside {
    padding: 2px 10px 8px 30px;
  }
</style>
