<script lang="ts">
  import { onDestroy } from 'svelte';
  import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
  import { pieceName, placeName } from '@crow-lane/core/words/words';
  import { kindsIn, type Walks, type Weights } from '@crow-lane/core/trial/walks';
  import { flowContext } from '$lib/flow/context.ts';
  import Dialog from '$lib/parts/Dialog.svelte';

  /** Many games played at random: how they end, and how long they are. */
  let { onclose }: { onclose: () => void } = $props();
  const { flow, runs } = flowContext();
  let open = true;
  onDestroy(() => {
    open = false;
    runs.forget();
  });
  let games = $state(1000);
  let most = $state(500);
  let seed = $state(1);
  /** How likely each kind of event is beside the others; what is not said is 1. */
  let weights: Weights = $state({});
  const kinds = $derived(
    kindsIn(flow.document).map((kind) => {
      const [what, id] = kind.split(/ (.*)/s);
      const words =
        what === 'time'
          ? 'time passes'
          : what === 'press'
            ? kind
            : what === 'choose'
              ? `choose ${placeName(flow.document, id!)}`
              : `${what} ${pieceName(flow.document, { flow: true }, id!)}`;
      return { kind, words };
    })
  );
  let walks: Walks | undefined = $state.raw();
  let playing = $state(false);
  let canvas: HTMLCanvasElement | undefined = $state();
  Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

  async function play(event: SubmitEvent) {
    event.preventDefault();
    playing = true;
    const done = await runs.walks(flow.document, { games, most, seed, weights: $state.snapshot(weights) });
    if (!open) return;
    playing = false;
    walks = done.walks;
    if (!walks) flow.notice = { bad: true, text: `The games could not be played. ${done.failed ?? ''}` };
  }

  /** Twelve heaps of lengths, from the shortest game to the longest. */
  const heaps = $derived.by(() => {
    if (!walks || walks.lengths.length === 0) return [];
    const low = Math.min(...walks.lengths);
    const wide = Math.max(1, Math.ceil((Math.max(...walks.lengths) - low + 1) / 12));
    const found = Array.from({ length: 12 }, (_, n) => ({
      label: wide === 1 ? `${low + n}` : `${low + n * wide}–${low + (n + 1) * wide - 1}`,
      games: 0
    }));
    for (const length of walks.lengths) found[Math.floor((length - low) / wide)]!.games++;
    return found;
  });
  $effect(() => {
    if (!canvas || heaps.length === 0) return;
    const colour = (name: string) => getComputedStyle(canvas!).getPropertyValue(name);
    const chart = new Chart(canvas, {
      type: 'bar',
      data: {
        labels: heaps.map(({ label }) => label),
        datasets: [{ data: heaps.map((each) => each.games), backgroundColor: colour('--plain') }]
      },
      options: {
        animation: false,
        responsive: false,
        scales: {
          x: {
            title: { display: true, text: 'events in a game', color: colour('--color-base-content') },
            ticks: { color: colour('--color-base-content') }
          },
          y: {
            title: { display: true, text: 'games', color: colour('--color-base-content') },
            ticks: { color: colour('--color-base-content') }
          }
        }
      }
    });
    return () => chart.destroy();
  });
  const share = (count: number) => `${((100 * count) / walks!.games).toFixed(1)} %`;
</script>

<Dialog title="Games played at random" {onclose}>
  <form onsubmit={play}>
    <label><input class="input input-xs" type="number" min="1" max="100000" data-first bind:value={games} /> games</label>
    <label>of at most <input class="input input-xs" type="number" min="1" max="100000" bind:value={most} /> events</label>
    <label>seed <input class="input input-xs" type="number" bind:value={seed} /></label>
    <button class="btn btn-xs btn-primary" disabled={playing}>{playing ? 'playing…' : 'Play them'}</button>
    <details class="weights">
      <summary>How likely each event is{Object.values(weights).some((weight) => weight !== 1) ? ' (weighed)' : ''}</summary>
      {#each kinds as { kind, words } (kind)}
        <label
          >{words}
          <input
            class="input input-xs"
            type="number"
            min="0"
            max="1000"
            step="any"
            value={weights[kind] ?? 1}
            onchange={(event) => (weights[kind] = Math.max(0, Number(event.currentTarget.value) || 0))}
          /></label
        >
      {/each}
      <p class="dim">1 is as likely as any other, 2 twice as likely, 0 never.</p>
    </details>
  </form>
  {#if walks}
    <table>
      <tbody>
        {#each Object.entries(walks.endings).sort((a, b) => b[1] - a[1]) as [ending, count] (ending)}
          <tr><th scope="row">{placeName(flow.document, ending)}</th><td>{share(count)}</td><td>{count}</td></tr>
        {/each}
        {#if walks.unended > 0}<tr
            ><th scope="row">not ended in time</th><td>{share(walks.unended)}</td><td>{walks.unended}</td></tr
          >{/if}
      </tbody>
    </table>
    <div role="img" aria-label="How many events games have">
      <canvas bind:this={canvas} width="440" height="200"></canvas>
    </div>
    <details>
      <summary>Places, by how many games come there</summary>
      <table>
        <tbody>
          {#each Object.keys(flow.document.places).sort((a, b) => (walks!.places[b] ?? 0) - (walks!.places[a] ?? 0)) as place (place)}
            <tr><th scope="row">{placeName(flow.document, place)}</th><td>{share(walks.places[place] ?? 0)}</td></tr>
          {/each}
        </tbody>
      </table>
    </details>
  {/if}
</Dialog>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    margin-bottom: 10px;
  }
  input {
    width: 84px;
  }
  .weights {
    flex-basis: 100%;
  }
  .weights label {
    display: flex;
    justify-content: space-between;
    padding: 1px 0;
    font-size: 12px;
  }
  th {
    text-align: left;
    padding-right: 16px;
  }
  td {
    text-align: right;
    padding-right: 12px;
    font-variant-numeric: tabular-nums;
  }
  canvas {
    margin-top: 10px;
  }
</style>
