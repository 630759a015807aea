<script lang="ts">
  import {
    BarController,
    BarElement,
    CategoryScale,
    Chart,
    Legend,
    LinearScale,
    LineController,
    LineElement,
    PointElement,
    Tooltip
  } from 'chart.js';
  import { resolve } from '$app/paths';
  import type { Id } from '@crow-lane/core/document/types';
  import { fillEstimates, timeRows } from '@crow-lane/core/sheet/times';
  import { bestWords, spare } from '@crow-lane/core/words/times';
  import { flowContext } from '$lib/flow/context.ts';
  import { onTheme } from '$lib/parts/plan-canvas.ts';

  /** How long levels take at the least, beside the time that is given: a jump in how demanding they are is seen. */
  const { flow, checks, runs } = flowContext();
  /** By level, of recorded runs the quickest. */
  let recorded: Record<Id, number> = $state.raw({});
  $effect(() => {
    const { document } = flow;
    let isLate = false;
    const later = setTimeout(async () => {
      const found = await runs.times(document);
      if (found && !isLate) recorded = found;
    }, 300);
    return () => {
      isLate = true;
      clearTimeout(later);
    };
  });
  const rows = $derived(timeRows(flow.document, checks.report?.times ?? {}, recorded));
  const without = $derived(
    Object.entries(flow.document.places).filter(([id, { kind }]) => kind === 'level' && !rows.some(({ level }) => level === id))
  );
  let canvas: HTMLCanvasElement | undefined = $state();
  let theme = $state(0);
  Chart.register(
    BarController,
    BarElement,
    CategoryScale,
    Legend,
    LinearScale,
    LineController,
    LineElement,
    PointElement,
    Tooltip
  );
  $effect(() => onTheme(() => theme++));

  $effect(() => {
    void theme;
    if (!canvas || rows.length === 0) return;
    const colour = (name: string) => getComputedStyle(canvas!).getPropertyValue(name);
    const ink = colour('--color-base-content');
    const grid = { color: colour('--color-base-300') };
    const font = { family: getComputedStyle(canvas).fontFamily };
    const line = (
      label: string,
      data: (number | null)[],
      name: string,
      pointStyle: 'rectRot' | 'triangle' | 'circle' | 'rect',
      axis = 'y'
    ) => ({
      type: 'line' as const,
      label,
      data,
      yAxisID: axis,
      borderColor: colour(name),
      backgroundColor: colour(name),
      pointStyle,
      pointRadius: 6,
      borderWidth: 1.5
    });
    const chart = new Chart<'bar' | 'line', (number | null)[]>(canvas, {
      type: 'bar',
      data: {
        labels: rows.map(({ name }) => name),
        datasets: [
          {
            type: 'bar',
            label: 'best time',
            data: rows.map(({ figures }) => figures.most ?? figures.least ?? null),
            backgroundColor: colour('--plain'),
            yAxisID: 'y',
            order: 1,
            maxBarThickness: 46
          },
          {
            ...line(
              'time given',
              rows.map(({ figures }) => figures.limit ?? null),
              '--lost',
              'rectRot'
            ),
            showLine: false
          },
          {
            ...line(
              'expected to take',
              rows.map(({ estimate }) => estimate ?? null),
              '--won',
              'triangle'
            ),
            showLine: false
          },
          {
            ...line(
              'recorded runs',
              rows.map(({ recorded: took }) => took ?? null),
              '--color-base-content',
              'rect'
            ),
            showLine: false
          },
          line(
            'pieces',
            rows.map(({ pieces }) => pieces),
            '--color-accent',
            'circle',
            'pieces'
          )
        ]
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        font,
        plugins: { legend: { labels: { color: ink, font, usePointStyle: true } } },
        scales: {
          x: { grid, ticks: { color: ink, font } },
          y: {
            grid,
            beginAtZero: true,
            grace: '8%',
            title: { display: true, text: 'seconds', color: ink },
            ticks: { color: ink }
          },
          pieces: {
            beginAtZero: true,
            position: 'right',
            grid: { drawOnChartArea: false },
            title: { display: true, text: 'pieces', color: ink },
            ticks: { color: ink, precision: 0 }
          }
        }
      }
    });
    return () => chart.destroy();
  });
  const fillable = $derived(rows.filter(({ figures }) => figures.most !== undefined));
</script>

<div class="sheetpart">
  {#if rows.length === 0}
    <p>
      {checks.report
        ? 'No times are known yet: they follow from a level’s plan and the rule that wins it. Select a level on the lane and press g to draw one.'
        : 'Being worked out…'}
    </p>
  {:else}
    <div class="chart" role="img" aria-label="Best times, times given and pieces, level by level">
      <canvas bind:this={canvas}></canvas>
    </div>
    <table>
      <thead>
        <tr>
          <th scope="col">Level</th><th scope="col">Best (s)</th><th scope="col">Given (s)</th><th scope="col">To spare</th>
          <th scope="col">Takes (s)</th><th scope="col">Recorded (s)</th><th scope="col">Pieces</th>
        </tr>
      </thead>
      <tbody>
        {#each rows as { level, name, figures, pieces, estimate, recorded: took } (level)}
          {@const { most, limit } = figures}
          <tr data-times={level}>
            <th scope="row"
              ><a href="{resolve('/flows/[id]/[[view=view]]', { id: flow.id, view: 'plan' })}?level={level}">{name}</a></th
            >
            <td>{bestWords(figures)}</td>
            <td>{limit ?? ''}</td>
            <td class:lost={limit !== undefined && (figures.least ?? 0) >= limit}
              >{limit === undefined || figures.least === undefined
                ? ''
                : figures.least >= limit
                  ? 'too little'
                  : most !== undefined && most < limit
                    ? spare(most, limit)
                    : 'not settled'}</td
            >
            <td>{estimate ?? ''}</td>
            <td data-recorded>{took === undefined ? '' : Number(took.toFixed(2))}</td>
            <td>{pieces}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p>
      <button
        type="button"
        class="btn btn-xs"
        disabled={fillable.length === 0}
        onclick={() => flow.edit(fillEstimates(flow.document, fillable))}>Fill “Takes (s)” with the best times</button
      >
    </p>
    <p class="dim">
      A best time is that of the shortest route over the plan to a win: a cell at a time, without waiting. What a win asks besides
      pieces and places is left out. A recorded run takes as long as what it does takes at the least, one after another.{#if without.length > 0}{' '}Without
        a plan or a win that it can tell: {without.map(([, { name }]) => name).join(', ')}.{/if}
    </p>
  {/if}
</div>

<style>
  .chart {
    position: relative;
    max-width: 980px;
    height: 260px;
  }
  table {
    margin: 10px 0;
    border-collapse: collapse;
  }
  th,
  td {
    padding: 2px 14px 2px 0;
    text-align: right;
    border-bottom: 1px solid var(--color-base-300);
  }
  th:first-child {
    text-align: left;
    font-weight: 600;
  }
  a {
    display: inline-block;
    min-height: 24px;
    line-height: 24px;
    text-decoration: underline dotted;
  }
</style>
