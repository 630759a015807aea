<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { copyPlaces, pastePlaces, type Clip } from '@crow-lane/core/document/edits/copies';
  import type { Report } from '@crow-lane/core/report/report';
  import { apply } from '@crow-lane/core/document/patch';
  import Lane from '$lib/lane/Lane.svelte';
  import { laneOf } from '$lib/lane/lane-of.ts';
  import { LiveRuns } from '$lib/flow/live-runs.svelte.ts';
  import { Session } from '$lib/flow/session.svelte.ts';
  import { focusLane, holdFocus } from '$lib/parts/focus.ts';
  import Head from '$lib/parts/Head.svelte';
  import Aside from '$lib/flow/Aside.svelte';
  import { sendCheck, sendVerdict, type FetchedFlow, type RevisionWords } from '$lib/flow/api.ts';
  import { groundPicture } from '@crow-lane/core/lane/ground';
  import { setFlowContext } from '$lib/flow/context.ts';
  import { setPlayContext } from '$lib/flow/play-context.ts';
  import { LiveCauses } from '$lib/flow/live-causes.svelte.ts';
  import { LiveChecks } from '$lib/flow/live-checks.svelte.ts';
  import { summaryOf } from '$lib/summary.ts';
  import { OpenFlow } from '$lib/flow/open-flow.svelte.ts';
  import { View } from '$lib/flow/view.svelte.ts';
  import { TourStage } from '$lib/tour/stage.svelte.ts';

  let {
    id,
    start,
    words,
    report,
    shows
  }: {
    id: string;
    start: FetchedFlow;
    /** The last revisions, newest first. */
    words: RevisionWords[];
    /** What was found of this revision earlier. */
    report: Report | undefined;
    shows: 'lane' | 'levels' | 'values' | 'trial' | 'checks' | 'plan';
  } = $props();
  /** All but the picture of the lane (read as a list it is one of these) is fetched later: the page opens sooner. */
  const others = {
    lane: () => import('$lib/lane/AsList.svelte'),
    levels: () => import('$lib/levels/Levels.svelte'),
    values: () => import('$lib/values/Values.svelte'),
    trial: () => import('$lib/trial/TrialView.svelte'),
    checks: () => import('$lib/checks/Checks.svelte'),
    plan: () => import('$lib/plan/PlanView.svelte')
  };
  // a page is for one flow: another one gets another page
  // svelte-ignore state_referenced_locally
  const flow = new OpenFlow(id, start, words);
  const checks = new LiveChecks();
  // svelte-ignore state_referenced_locally
  if (report) checks.show(flow.document, report);
  const causes = new LiveCauses();
  const view = new View();
  /** Lane and levels have the selected place under them; while none is selected the levels have all the room. */
  const hasDesk = $derived(
    shows === 'lane' || (shows === 'levels' && (view.selected !== undefined || view.history || view.shown !== undefined))
  );
  /** A flow of more states than this takes a while to check: the server does so too, for who opens it next. */
  const large = 50_000;
  const runs = new LiveRuns();
  const session = new Session();
  setFlowContext({ flow, checks, causes, view, session, runs });
  setPlayContext({ flow, session, pictureOf: (level) => groundPicture(flow.document, level) });

  // svelte-ignore state_referenced_locally
  const tour = id.endsWith('lamplighters-round-with-faults') ? new TourStage() : undefined;

  /** Frame, picture and desk come one after another, each in a moment of its own: a large flow opens without a halt. */
  let stage = $state(0);
  onMount(() => {
    const hush = flow.listen();
    const release = holdFocus(page);
    const steps: (() => unknown)[] = [() => shows === 'lane' && laneOf(flow.document), () => (stage = 1), () => (stage = 2)];
    // in good time, so that they are there when the server is not
    for (const load of Object.values(others)) steps.push(() => load().catch(() => {}));
    const next = () => {
      steps.shift()?.();
      if (steps.length > 0) soon = setTimeout(next);
    };
    let soon = setTimeout(next);
    return () => {
      clearTimeout(soon);
      hush();
      release();
      checks.stop();
      causes.stop();
      runs.stop();
    };
  });
  $effect(() => {
    const { document } = flow;
    const soon = setTimeout(() => (flow.drawn = document));
    return () => clearTimeout(soon);
  });
  $effect(() => checks.check(flow.document));
  $effect(() => {
    const { report, of } = checks;
    if (report && of) untrack(() => causes.look(of, report));
  });
  $effect(() => runs.play(flow.document));
  $effect(() => flow.company.look(view.selected));
  // the shelf shows what was found: told once the check and the keeping have both settled
  $effect(() => {
    const { report, of } = checks;
    if (!report || of !== flow.document || flow.keeping !== 'kept') return;
    const [revision, summary] = [flow.revision, summaryOf(of, report)];
    const later = setTimeout(() => {
      if (flow.mayEdit) void sendVerdict(flow.id, revision, summary).catch(() => {});
      if (report.states > large) void sendCheck(flow.id, revision).catch(() => {});
    }, 400);
    return () => clearTimeout(later);
  });

  /** How high the desk is, in pixels; kept for the next visit. */
  const stored = Number(localStorage.getItem('desk') ?? 0);
  let desk = $state(stored >= 120 ? stored : 310);
  let page: HTMLDivElement;

  function resize(to: number) {
    desk = Math.round(Math.min(Math.max(120, to), page.clientHeight - 200));
    localStorage.setItem('desk', String(desk));
  }

  function drag(event: PointerEvent) {
    const bar = event.currentTarget as HTMLElement;
    bar.setPointerCapture(event.pointerId);
    bar.onpointermove = (move) => resize(page.getBoundingClientRect().bottom - move.clientY);
    bar.onpointerup = bar.onpointercancel = () => (bar.onpointermove = null);
  }

  function keys(event: KeyboardEvent) {
    const typing = (event.target as HTMLElement).matches('input, textarea, select');
    // a field of text has an undo of its own
    const undoes = (event.target as HTMLElement).matches('textarea, input:not([type=checkbox], [type=radio])');
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !undoes) {
      event.preventDefault();
      void (event.shiftKey ? flow.redo() : flow.undo());
    } else if (typing || view.dialog) return;
    else if (event.key === 'Escape' && (event.target as HTMLElement).closest('#desk, [popover]')?.id === 'desk') focusLane();
    else if (event.key === '?') view.dialog = { is: 'keys' };
    else if (event.key === '/') {
      event.preventDefault();
      view.dialog = { is: 'find' };
    }
  }

  /** Not while a text is typed or marked: then it is the text that is meant. */
  const ofPlaces = (event: ClipboardEvent) =>
    !(event.target as HTMLElement).matches?.('input, textarea, select') && !getSelection()?.toString();

  function copy(event: ClipboardEvent) {
    if (!ofPlaces(event) || view.selected === undefined) return;
    const ids = Object.keys(flow.document.places).filter((id) => view.all.includes(id));
    event.clipboardData?.setData('text/plain', JSON.stringify(copyPlaces(flow.document, ids)));
    event.preventDefault();
    flow.notice = { bad: false, text: `${ids.length === 1 ? 'One place is' : `${ids.length} places are`} copied.` };
  }

  async function paste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!ofPlaces(event) || !text.includes('crow-lane-places')) return;
    event.preventDefault();
    // most visits paste nothing, and the rules of shape are long
    const reading = await import('@crow-lane/core/document/read').catch(() => undefined);
    if (!reading) {
      flow.notice = { bad: true, text: 'Nothing was pasted: the server cannot be reached to fetch what reads it.' };
      return;
    }
    let pasted;
    try {
      pasted = pastePlaces(flow.document, JSON.parse(text) as Clip);
      const [wrong] = reading.validateChange(apply(flow.document, pasted.patch), pasted.patch);
      if (wrong) throw new Error(`${wrong.pointer}: ${wrong.message}`);
    } catch (error) {
      flow.notice = { bad: true, text: `The clipboard holds no places. ${(error as Error).message}` };
      return;
    }
    const { ids, missing, ...change } = pasted;
    flow.edit(change);
    view.select(ids[0]);
    if (missing.length > 0)
      flow.notice = { bad: true, text: `Pasted. Not in this flow, so it needs rewiring: ${missing.join(', ')}.` };
  }

  // what is only told goes away by itself; what did not happen stays until it is read
  $effect(() => {
    const { notice } = flow;
    if (!notice || notice.bad || notice.act) return;
    const later = setTimeout(() => flow.notice === notice && (flow.notice = undefined), 8000);
    return () => clearTimeout(later);
  });

  function leaving(event: BeforeUnloadEvent) {
    // what waits is kept in the browser, and sent when the flow is opened again
    if (flow.pending.length > 0 && !flow.safe) event.preventDefault();
  }
</script>

{#snippet missing()}
  <p class="missing" role="alert">
    This part of the page could not be fetched. What was edited is kept.
    <button type="button" class="btn btn-sm" onclick={() => location.reload()}>Load the page again</button>
  </p>
{/snippet}

<svelte:head><title>{flow.document.name} · Crow Lane</title></svelte:head>
<svelte:document oncopy={copy} onpaste={paste} />
<svelte:window onkeydown={keys} onbeforeunload={leaving} />
<div class="page" bind:this={page} style:grid-template-rows={hasDesk ? `46px 1fr 6px ${desk}px` : '46px 1fr'}>
  {#if shows === 'lane'}<button type="button" class="skip btn btn-sm" onclick={() => focusLane()}>To the lane</button>{/if}
  <Head {shows}
    >{#if tour}{#await import('$lib/tour/TourButton.svelte') then { default: TourButton }}<TourButton
          stage={tour}
        />{/await}{/if}</Head
  >
  <main>
    <div class="shown">
      {#if stage === 0}{:else if shows === 'lane' && !view.listed}<Lane />{:else}
        {#await others[shows]() then { default: Shown }}<Shown />{:catch}{@render missing()}{/await}
      {/if}
    </div>
    {#if hasDesk}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
      <div
        class="bar"
        role="separator"
        aria-orientation="horizontal"
        aria-label="Height of the desk"
        aria-valuenow={desk}
        tabindex="0"
        onpointerdown={drag}
        onkeydown={(event) => {
          if (event.key === 'ArrowUp' || event.key === 'ArrowDown') resize(desk + (event.key === 'ArrowUp' ? 24 : -24));
        }}
      ></div>
      {#if stage > 1}{#await import('$lib/desk/Desk.svelte') then { default: Desk }}<Desk
          />{:catch}{@render missing()}{/await}{/if}
    {/if}
    <div class="notes" style:bottom="{hasDesk ? desk + 16 : 12}px">
      <Aside />
      {#if flow.keeping === 'waiting'}
        <p class="notice bad" role="status">
          {flow.trouble}
          {flow.pending.length === 1 ? 'One edit waits' : `${flow.pending.length} edits wait`}, kept in this browser.
        </p>
      {/if}
      {#if flow.notice}
        {@const { text, act } = flow.notice}
        <div class="notice" class:bad={flow.notice.bad} role="status">
          {text}
          {#if act}<button
              type="button"
              class="btn btn-xs"
              onclick={() => {
                const { run } = act;
                flow.notice = undefined;
                run();
              }}>{act.label}</button
            >{/if}
          <button type="button" class="btn btn-xs" onclick={() => (flow.notice = undefined)}>Close</button>
        </div>
      {/if}
    </div>
  </main>
  {#if tour}
    {#await import('$lib/tour/Tour.svelte') then { default: Tour }}<Tour stage={tour} />{/await}
  {/if}
</div>
{#if stage > 1}{#await import('$lib/desk/Dialogs.svelte') then { default: Dialogs }}<Dialogs />{/await}{/if}

<style>
  .page {
    display: grid;
    height: 100vh;
    overflow: hidden;
    position: relative;
  }
  /* what is shown, the bar and the desk are lines of the page */
  main {
    display: contents;
  }
  .page > :global(*),
  main > :global(*) {
    min-width: 0;
    min-height: 0;
  }
  .bar {
    background: var(--color-base-content);
    cursor: row-resize;
    touch-action: none;
    border-block: 1px solid var(--color-base-100);
  }
  .missing {
    padding: 20px;
  }
  /* over the picture, which can be moved, and not over the desk */
  .notes {
    position: absolute;
    left: 14px;
    max-width: 460px;
    display: grid;
    gap: 6px;
    z-index: 20;
  }
  .notice {
    padding: 6px 10px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-content);
  }
  .notice.bad {
    background: var(--lost-wash);
    border-color: var(--lost);
  }
</style>
