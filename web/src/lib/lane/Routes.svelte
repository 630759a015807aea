<script lang="ts">
  import type { Feeder, LaneLayout, Point, Route, RouteEnd } from '@crow-lane/core/lane/layout';
  import { labelsOf } from '@crow-lane/core/lane/labels';

  /** The routes of a lane that are to be seen between two columns of pixels. */
  let {
    lane,
    from,
    to,
    selected,
    unused
  }: {
    lane: LaneLayout;
    from: number;
    to: number;
    selected: string | undefined;
    /** Rules that no recorded run uses, where these are marked. */
    unused: ReadonlySet<string> | undefined;
  } = $props();
  const labels = $derived(new Map(labelsOf(lane.routes).map((label) => [label.key, label])));
  const idle = (rules: string[]) => unused !== undefined && rules.every((rule) => unused.has(rule));

  const crosses = (points: Point[]) =>
    points.length > 0 && Math.max(...points.map(({ x }) => x)) >= from && Math.min(...points.map(({ x }) => x)) <= to;
  const seen = $derived(
    lane.routes.flatMap((route) => {
      // of a feeder only what is its own, where it has company: a hundred lines on one another are drawn as one
      const alone = route.feeders.length === 1;
      const feeders = route.feeders
        .map(({ from, rules, points }) => ({ from, rules, points, own: alone ? points : points.slice(0, 2) }))
        .filter(({ own }) => crosses(own));
      const run = alone ? [] : runOf(route.feeders);
      return feeders.length > 0 || crosses(run) || crosses(route.trunk) ? [{ route, feeders, run }] : [];
    })
  );

  /** The stretch that the feeders of a route share, from the outermost to where the trunk begins. */
  function runOf(feeders: Feeder[]): Point[] {
    const ends = feeders.flatMap(({ points }) => points.slice(1));
    const xs = ends.map(({ x }) => x);
    const y = ends[0]!.y;
    return [
      { x: Math.min(...xs), y },
      { x: Math.max(...xs), y }
    ];
  }

  /** What is far outside is left out of level lines: dashes over thousands of pixels take their time. */
  const clip = (points: Point[]) => points.map(({ x, y }) => ({ x: Math.min(Math.max(x, from - 1600), to + 1600), y }));
  const path = (points: Point[]) =>
    clip(points)
      .map(({ x, y }, index) => `${index ? 'L' : 'M'}${x} ${y}`)
      .join('');
  /** Whether a route has to do with the selected place; everything has when nothing is selected. */
  const near = (route: Route) =>
    selected === undefined || route.to === selected || route.feeders.some(({ from }) => from === selected);
  const lit = (route: Route, from: string) => selected === undefined || from === selected || route.to === selected;
  /** From the selected screen a rail along the lane to every level that play may decide for. */
  const rail = (route: Route) => {
    const tiles = (route.levels ?? []).flatMap((id) => lane.tiles.get(id) ?? []);
    const { x, y, way } = route.end;
    const near = tiles.filter((tile) => lane.rows[tile.row] && Math.abs(edge(tile, way) - y) < 60);
    if (near.length === 0) return '';
    const at = way === 'down' ? y + 5 : y - 5;
    const xs = near.map((tile) => tile.x + tile.width / 2);
    const drops = near.map((tile, n) => `M${xs[n]} ${at}V${edge(tile, way)}`);
    return `M${x} ${y}V${at}M${Math.min(x, ...xs)} ${at}H${Math.max(x, ...xs)}${drops.join('')}`;
  };
  const edge = (tile: { y: number; height: number }, way: RouteEnd['way']) => (way === 'down' ? tile.y : tile.y + tile.height);
  const ends = {
    up: (x: number, y: number) => `translate(${x} ${y}) rotate(0)`,
    down: (x: number, y: number) => `translate(${x} ${y}) rotate(180)`,
    left: (x: number, y: number) => `translate(${x} ${y}) rotate(-90)`,
    right: (x: number, y: number) => `translate(${x} ${y}) rotate(90)`
  };
</script>

{#snippet end({ way, x, y }: RouteEnd, route: Route)}
  <g transform={ends[way](x, y)}>
    {#if route.outcome === 'won'}<path class="end" d="M-5 7 0 0 5 7Z" />
    {:else if route.outcome === 'lost'}<path class="bar" d="M-6 1.5H6" />
    {:else}<path class="notch" d="M-4 6 0 1 4 6" />{/if}
  </g>
{/snippet}

<svg class="routes" width={lane.width} height={lane.height} aria-hidden="true">
  {#each seen as { route, feeders, run } (route.key)}
    <g
      class="route {route.outcome}"
      class:over={route.over}
      class:away={!near(route)}
      class:beside={route.end.way === 'right'}
      class:idle={idle(route.feeders.flatMap(({ rules }) => rules))}
    >
      {#each feeders as feeder (feeder.from)}
        <path
          class="feeder"
          class:idle={idle(feeder.rules)}
          class:away={!lit(route, feeder.from)}
          class:thick={selected !== undefined && near(route) && lit(route, feeder.from)}
          d={path(selected !== undefined && lit(route, feeder.from) && route.to !== selected ? feeder.points : feeder.own)}
        />
        {#if feeder.from === 'flow' || feeder.from.startsWith('group ')}
          <circle class="shared" cx={feeder.points[0]!.x} cy={feeder.points[0]!.y} r="3.2"
            ><title>a rule of {feeder.from === 'flow' ? 'all levels' : 'a group'}</title></circle
          >
        {/if}
      {/each}
      {#if run.length > 0}<path class="feeder" class:away={selected !== undefined && route.to !== selected} d={path(run)} />{/if}
      {#if route.trunk.length > 0}<path class="trunk" d={path(route.trunk)} />{/if}
      {@render end(route.end, route)}
      {#if route.back}{@render end(route.back.end, route)}{/if}
      {#if route.levels && selected !== undefined && route.feeders.some(({ from }) => from === selected)}
        <path class="rail" d={rail(route)} />
      {/if}
    </g>
  {/each}
  {#each seen as { route } (route.key)}
    {@const label = labels.get(route.key)}
    {#if label}
      <text x={label.x} y={label.y} text-anchor={label.anchor} class:away={!near(route)}>{label.words}</text>
    {/if}
  {/each}
</svg>

<style>
  .routes {
    position: absolute;
    left: 0;
    top: 0;
    overflow: visible;
    pointer-events: none;
  }
  .route {
    transition: opacity 150ms;
  }
  path {
    fill: none;
    stroke-width: 1.6;
    stroke-linejoin: round;
  }
  .won path {
    stroke: var(--won);
  }
  .lost path {
    stroke: var(--lost);
    stroke-dasharray: 5 3;
  }
  .plain path {
    stroke: var(--plain);
  }
  .over path {
    stroke-dasharray: 1.5 3;
    stroke-linecap: round;
  }
  .trunk {
    stroke-width: 2.4;
  }
  .feeder {
    opacity: 0.75;
  }
  .idle path,
  path.idle {
    stroke: var(--dim);
    stroke-width: 1;
    opacity: 0.45;
  }
  .feeder.thick {
    stroke-width: 2.6;
    opacity: 1;
  }
  .beside .feeder {
    stroke: var(--road-mark);
    stroke-width: 3;
  }
  path.end {
    fill: var(--won);
    stroke: none;
  }
  path.bar {
    stroke-width: 3.4;
    stroke-dasharray: none;
  }
  path.notch {
    stroke-width: 1.8;
    stroke-dasharray: none;
  }
  .shared {
    fill: var(--color-base-200);
    stroke: currentColor;
    stroke-width: 1.6;
  }
  .won .shared {
    stroke: var(--won);
  }
  .lost .shared {
    stroke: var(--lost);
  }
  .plain .shared {
    stroke: var(--plain);
  }
  path.rail {
    stroke: var(--color-accent);
    stroke-width: 2;
    stroke-dasharray: none;
  }
  text {
    font-size: 10px;
    fill: var(--dim);
    /* lines that go through it end before it */
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 4px;
    stroke-linejoin: round;
  }
  .away {
    opacity: 0.13;
  }
</style>
