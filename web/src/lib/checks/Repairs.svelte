<script lang="ts">
  import type { VerdictChange } from '@crow-lane/core/report/compare';
  import { decides, type Verdict } from '@crow-lane/core/report/report';
  import type { Change } from '@crow-lane/core/document/patch';
  import { repairsOf } from '@crow-lane/core/repair/repairs';
  import { onDestroy } from 'svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import { Tries } from './tries.ts';

  /** What would likely mend a finding: each tried first, those that do not mend it left out. */
  let { verdict }: { verdict: Verdict } = $props();
  const { flow, checks } = flowContext();
  const tries = new Tries();
  onDestroy(() => tries.stop());

  interface Tried {
    repair: Change;
    changes: VerdictChange[];
  }
  let tried: Tried[] = $state.raw([]);
  let waiting = $state(0);
  $effect(() => {
    // of an older document a finding may speak of what is there no more
    const { document } = flow;
    tried = [];
    waiting = 0;
    if (checks.of !== document) return;
    const offers = repairsOf(document, verdict);
    waiting = offers.length;
    let wanted = true;
    for (const repair of offers)
      void tries.patch(document, repair.patch).then((changes) => {
        if (!wanted) return;
        waiting--;
        const mends = changes?.some(
          ({ check, subject, is }) => is === 'mended' && check === verdict.check && subject === verdict.subject
        );
        if (changes && mends) tried = [...tried, { repair, changes }];
      });
    return () => (wanted = false);
  });
  const counts = (list: VerdictChange[], is: VerdictChange['is']) =>
    list.filter((change) => change.is === is && (is !== 'broken' || decides(change.verdict)));
</script>

<div class="repairs">
  {#each tried as { repair, changes }, index (index)}
    {@const mended = counts(changes, 'mended')}
    {@const broken = counts(changes, 'broken')}
    <div class="repair">
      <button type="button" class="btn btn-xs" data-repair onclick={() => flow.edit(repair)}>{repair.label}</button>
      <span class="won">mends {mended.length === 1 ? 'this' : `this and ${mended.length - 1} more`}</span>
      {#if broken.length > 0}
        <details>
          <summary class="lost">then {broken.length} new {broken.length === 1 ? 'finding' : 'findings'}</summary>
          {#each broken as { verdict: { message } }, at (at)}<p>{message}</p>{/each}
        </details>
      {/if}
    </div>
  {/each}
  {#if waiting > 0}<p class="dim" role="status">trying {waiting} {waiting === 1 ? 'repair' : 'repairs'}…</p>
  {:else if tried.length === 0}<p class="dim">No single change is known that would mend it.</p>{/if}
</div>

<style>
  .repairs {
    margin-top: 4px;
  }
  .repair {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 8px;
    padding: 2px 0;
    font-size: 12px;
  }
  .repair .btn {
    height: auto;
    min-height: 24px;
    white-space: normal;
    text-align: left;
    border: 1px solid var(--color-base-content);
    background: var(--color-base-100);
  }
  summary {
    cursor: pointer;
  }
</style>
