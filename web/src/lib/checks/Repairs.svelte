<script lang="ts">
  import { toldFindings } from '@crow-lane/core/causes/causes';
  import type { VerdictChange } from '@crow-lane/core/report/compare';
  import { decides, verdictKey, type Verdict } from '@crow-lane/core/report/report';
  import type { Change } from '@crow-lane/core/document/patch';
  import { repairsOf } from '@crow-lane/core/repair/repairs';
  import { onDestroy, untrack } from 'svelte';
  import { flowContext } from '$lib/flow/context.ts';
  import FixLine from '$lib/parts/FixLine.svelte';
  import { Tries } from './tries.ts';

  /**
   * What fixes a finding: each offer is tried first, and what does not fix it is left out. Where none of its own does,
   * those of all other findings are tried, that of its cause first, before it is said that none is known.
   */
  let { verdict }: { verdict: Verdict } = $props();
  const { flow, checks, causes } = flowContext();
  const tries = new Tries();
  onDestroy(() => tries.stop());

  interface Tried {
    fix: Change;
    changes: VerdictChange[];
  }
  let tried: Tried[] = $state.raw([]);
  let waiting = $state(0);
  $effect(() => {
    // of an older document a finding may speak of what is no longer there
    const { document } = flow;
    tried = [];
    waiting = 0;
    if (checks.of !== document || !checks.report) return;
    let wanted = true;
    const others = () => {
      const findings = toldFindings(checks.report!);
      const cause = causes.causes.find(({ follows }) =>
        follows.some((each) => verdictKey(each) === verdictKey(verdict))
      )?.verdict;
      return [...(cause ? [cause] : []), ...findings].filter((each) => each !== verdict);
    };
    const tryEach = async (offers: Change[], most: number) => {
      waiting = offers.length;
      for (const fix of offers) {
        if (!wanted || tried.length >= most) break;
        const changes = await tries.patch(document, fix.patch);
        if (!wanted) return;
        waiting--;
        const fixes = changes?.some(
          ({ check, subject, is }) => is === 'fixed' && check === verdict.check && subject === verdict.subject
        );
        if (changes && fixes) tried = [...tried, { fix, changes }];
      }
      waiting = 0;
    };
    const all = async () => {
      await tryEach(repairsOf(document, verdict), Infinity);
      if (!wanted || tried.length > 0) return;
      const seen = new Set<string>();
      const offers = others().flatMap((each) => repairsOf(document, each));
      await tryEach(
        offers.filter(({ patch }) => !seen.has(JSON.stringify(patch)) && seen.add(JSON.stringify(patch))),
        1
      );
    };
    untrack(() => void all());
    return () => (wanted = false);
  });
  /** Of what is fixed only what is listed counts, as it does for causes. */
  const told = $derived(new Set(checks.report ? toldFindings(checks.report).map(verdictKey) : []));
  const counts = (list: VerdictChange[], is: 'fixed' | 'broken') =>
    list.filter(
      (change) => change.is === is && (is === 'broken' ? decides(change.verdict) : told.has(verdictKey(change.verdict)))
    );
</script>

<div class="repairs">
  {#each tried as { fix, changes }, index (index)}
    {@const fixed = counts(changes, 'fixed')}
    {@const broken = counts(changes, 'broken')}
    <div class="repair">
      <FixLine label={fix.label} removes={fixed.length} onuse={() => flow.edit(fix)} />
      {#if broken.length > 0}
        <details>
          <summary class="lost">then {broken.length} new {broken.length === 1 ? 'finding' : 'findings'}</summary>
          {#each broken as { verdict: { message } }, at (at)}<p>{message}</p>{/each}
        </details>
      {/if}
    </div>
  {/each}
  {#if waiting > 0}<p class="dim" role="status">Trying {waiting} {waiting === 1 ? 'fix' : 'fixes'}…</p>
  {:else if tried.length === 0}<p class="dim">No single change is known that would fix it.</p>{/if}
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
  summary {
    cursor: pointer;
  }
</style>
