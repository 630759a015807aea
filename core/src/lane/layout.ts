/**
 * The geometry of the lane: a pure function of the document. From top to bottom endings, interludes, a lane
 * for each order and one for levels in none, menus; between these rows gaps in which the routes run. What goes to the
 * same target with the same outcome from the same row shares one trunk. Verticals cross a row only between columns.
 */
import { levelsOf, type FlowDocument, type Id, type MoveWord, type PlaceKind } from '../document/types.ts';
import { edgesOf, groupsOf, isBeside, portsOf, type Edge, type RouteGroup, type Node, type Ports } from './bundles.ts';
import { tracks } from './columns.ts';
import { gapOfTile, measure, xOf } from './measure.ts';
import { movesOf, type MoveOutcome } from './moves.ts';
import { columnsOfPlaces, rowsOf, type PlannedRow, type RowKind } from './rows.ts';

export { measure };

export interface Point {
  x: number;
  y: number;
}

export interface Tile {
  place: Id;
  kind: PlaceKind;
  x: number;
  y: number;
  width: number;
  height: number;
  row: number;
  column: number;
  /** In its order, from 1; undefined for what is in none. */
  number?: number;
}

export interface Row {
  kind: RowKind;
  /** For a lane of levels: its order, undefined for the side lane. */
  order?: Id;
  name: string;
  y: number;
  height: number;
}

/** Levels of one group that stand side by side. */
export interface Stretch {
  group: Id;
  name: string;
  x: number;
  y: number;
  width: number;
}

export interface Feeder {
  /** The place, or "group id" or "flow" for shared rules. */
  from: string;
  rules: Id[];
  points: Point[];
}

export interface Route {
  key: string;
  /** The place it leads to; undefined when it leads to a lane. */
  to: Id | undefined;
  outcome: MoveOutcome;
  over: boolean;
  feeders: Feeder[];
  /** What all feeders share, the last point at the target. Empty when there is nothing to share. */
  trunk: Point[];
  /** Where it ends, and which way it goes there. */
  end: RouteEnd;
  /** For a route to a lane: "next", "again" and so on. */
  word?: MoveWord;
  /** The levels it may lead to where the target depends on play. */
  levels?: Id[];
  /** Where it is a door that leads both ways: the rules of the other side, and where they arrive. */
  back?: { rules: Id[]; end: RouteEnd };
}

/** A point at a place's edge, and which way a route goes there. */
export type RouteEnd = Point & { way: 'up' | 'down' | 'left' | 'right' };

export interface LaneLayout {
  width: number;
  height: number;
  rows: Row[];
  tiles: Map<Id, Tile>;
  stretches: Stretch[];
  routes: Route[];
}

export function layout(document: FlowDocument): LaneLayout {
  const rows = rowsOf(document);
  const moves = movesOf(document);
  const columns = columnsOfPlaces(document, rows, moves);
  const nodes = new Map<string, Node>();
  rows.forEach(({ kind, places }, row) => {
    for (const id of places) nodes.set(id, { key: id, level: kind === 'levels', row, column: columns.get(id)! });
  });
  for (const [key, node] of sharedNodes(document, rows, columns)) nodes.set(key, node);

  const groups = groupsOf(moves, nodes);
  const ports = portsOf(groups);
  const plans = groups.map((group) => planOf(group, ports, rows));

  // each gap is as high as the tracks that its routes need
  const gaps: Map<string, number>[] = [];
  const gapHeights: number[] = [];
  for (let gap = 0; gap <= rows.length; gap++) {
    const spans = plans.flatMap((plan) =>
      plan.runs.filter((run) => run.gap === gap).map((run) => ({ key: run.key, from: run.from, to: run.to }))
    );
    gaps.push(tracks(spans));
    const used = Math.max(-1, ...gaps[gap]!.values()) + 1;
    const outer = gap === 0 || gap === rows.length;
    gapHeights.push(used === 0 ? (outer ? measure.margin : measure.padding) : used * measure.track + 2 * measure.padding);
  }
  let y = 0;
  const placed: Row[] = rows.map(({ kind, order, name }, index) => {
    y += gapHeights[index]!;
    const extra = kind === 'levels' ? measure.above + measure.below : 0;
    const row = { kind, order, name, y, height: measure.heights[kind] + extra };
    y += row.height;
    return row;
  });
  const height = y + gapHeights[rows.length]!;

  const tiles = new Map<Id, Tile>();
  rows.forEach((row, index) => {
    row.places.forEach((id) => {
      const column = columns.get(id)!;
      const levels = row.kind === 'levels';
      tiles.set(id, {
        place: id,
        kind: document.places[id]!.kind,
        x: xOf(column),
        y: placed[index]!.y + (levels ? measure.above : 0),
        width: measure.tile,
        height: measure.heights[row.kind],
        row: index,
        column,
        number: row.order === undefined ? undefined : document.orders[row.order]!.levels.indexOf(id) + 1
      });
    });
  });
  const gapTop = (gap: number) => (gap === 0 ? 0 : placed[gap - 1]!.y + placed[gap - 1]!.height);
  const trackY = (key: string, gap: number) => gapTop(gap) + measure.padding + gaps[gap]!.get(key)! * measure.track;
  const edgeY = (node: Node, edge: Edge) => {
    const tile = tiles.get(node.key);
    if (tile) return edge === 'top' ? tile.y : tile.y + tile.height;
    const row = placed[node.row]!;
    return edge === 'top' ? row.y : row.y + row.height;
  };
  const routes = plans.map((plan) => routeOf(plan, { edgeY, trackY, tiles, rows: placed }));
  const farthest = Math.max(0, ...columns.values());
  return {
    width: xOf(farthest + 1) + measure.margin,
    height,
    rows: placed,
    tiles,
    stretches: stretchesOf(document, rows, columns, placed),
    routes
  };
}

/** Shared rules start at the head of the first lane, a group's at the left end of its first stretch. */
function sharedNodes(document: FlowDocument, rows: PlannedRow[], columns: Map<Id, number>): [string, Node][] {
  const first = rows.findIndex(({ kind }) => kind === 'levels');
  const nodes: [string, Node][] = [['flow', { key: 'flow', level: false, shared: true, row: first, column: -1 }]];
  for (const group of Object.keys(document.groups)) {
    const members = levelsOf(document).filter(([, level]) => level.group === group);
    const row = rows.findIndex(({ kind, places }) => kind === 'levels' && members.some(([id]) => places.includes(id)));
    if (row < 0) continue;
    const column = Math.min(...members.filter(([id]) => rows[row]!.places.includes(id)).map(([id]) => columns.get(id)!));
    nodes.push([`group ${group}`, { key: `group ${group}`, level: false, shared: true, row, column }]);
  }
  return nodes;
}

interface Run {
  key: string;
  gap: number;
  from: number;
  to: number;
}

interface Plan {
  group: RouteGroup;
  ports: Ports;
  edges: { out: Edge; in: Edge };
  runs: Run[];
  /** The x of the vertical that crosses the rows between; undefined when there are none. */
  channel?: number;
}

/** Which gaps a route runs along, and how far. */
function planOf(group: RouteGroup, ports: Ports, rows: PlannedRow[]): Plan {
  const edges = edgesOf(group);
  const plan: Plan = { group, ports, edges, runs: [] };
  if (!group.to || isDirect(group)) return plan;
  const starts = [...group.sources.values()].map(({ node }) => ports(group, node, 'out'));
  const end = ports(group, group.to, 'in');
  const near = edges.out === 'top' ? group.row : group.row + 1;
  const far = edges.in === 'top' ? group.to.row : group.to.row + 1;
  if (near === far) {
    plan.runs.push({ key: group.key, gap: near, from: Math.min(...starts, end), to: Math.max(...starts, end) });
    return plan;
  }
  plan.channel = channelNear(group, starts, end, rows.length);
  plan.runs.push({
    key: `${group.key} near`,
    gap: near,
    from: Math.min(...starts, plan.channel),
    to: Math.max(...starts, plan.channel)
  });
  plan.runs.push({ key: `${group.key} far`, gap: far, from: Math.min(end, plan.channel), to: Math.max(end, plan.channel) });
  return plan;
}

/** The gap between two columns beside the target, on the side from which most sources come; a little apart for each outcome. */
function channelNear(group: RouteGroup, starts: number[], end: number, rows: number): number {
  const mean = starts.reduce((sum, x) => sum + x, 0) / starts.length;
  const column = group.to!.column + (mean > end ? 1 : 0);
  const place = { lost: 0.25, plain: 0.5, won: 0.75 }[group.outcome] + ((group.row * 7) % rows) * 0.02;
  return xOf(column) - gapOfTile + gapOfTile * Math.min(place, 0.9);
}

function isDirect(group: RouteGroup): boolean {
  return [...group.sources.values()].some(({ node }) => group.to && isBeside(node, group.to));
}

interface Places {
  edgeY(node: Node, edge: Edge): number;
  trackY(key: string, gap: number): number;
  tiles: Map<Id, Tile>;
  rows: Row[];
}

function routeOf({ group, ports, edges, runs, channel }: Plan, { edgeY, trackY, tiles, rows }: Places): Route {
  const { key, toPlace, outcome, over, word, levels } = group;
  const base = { key, to: toPlace, outcome, over, word, levels };
  const back = (at: Point, way: RouteEnd['way']) => (group.back ? { back: { rules: group.back, end: { ...at, way } } } : {});
  const sources = [...group.sources.values()];
  if (!group.to) {
    // straight to the nearest lane
    const { node, rules } = sources[0]!;
    const x = ports(group, node, 'out');
    const lanes = rows.map((row, index) => ({ row, index })).filter(({ row }) => row.kind === 'levels');
    const lane = edges.out === 'bottom' ? lanes[0]!.row : lanes.at(-1)!.row;
    const y = edges.out === 'bottom' ? lane.y : lane.y + lane.height;
    const points = [
      { x, y: edgeY(node, edges.out) },
      { x, y }
    ];
    return {
      ...base,
      feeders: [{ from: node.key, rules, points }],
      trunk: [],
      end: { x, y, way: edges.out === 'bottom' ? 'down' : 'up' }
    };
  }
  if (runs.length === 0) {
    const { node, rules } = sources[0]!;
    const [from, to] = [tiles.get(node.key)!, tiles.get(group.to.key)!];
    const y = from.y + from.height / 2;
    const points = [
      { x: from.x + from.width, y },
      { x: to.x, y }
    ];
    const end = { x: to.x, y, way: 'right' as const };
    return { ...base, feeders: [{ from: node.key, rules, points }], trunk: [], end, ...back(points[0]!, 'left') };
  }
  const near = runs[0]!;
  const nearY = trackY(near.key, near.gap);
  const end = { x: ports(group, group.to, 'in'), y: edgeY(group.to, edges.in) };
  const way = edges.in === 'bottom' ? ('up' as const) : ('down' as const);
  const join = channel ?? end.x;
  const feeders = sources.map(({ node, rules }) => {
    const x = ports(group, node, 'out');
    return {
      from: node.key,
      rules,
      points: [
        { x, y: edgeY(node, edges.out) },
        { x, y: nearY },
        { x: join, y: nearY }
      ]
    };
  });
  const far = runs[1];
  const farY = far ? trackY(far.key, far.gap) : nearY;
  const trunk = far ? [{ x: join, y: nearY }, { x: join, y: farY }, { x: end.x, y: farY }, end] : [{ x: join, y: nearY }, end];
  const start = feeders[0]!.points[0]!;
  return { ...base, feeders, trunk, end: { ...end, way }, ...back(start, edges.out === 'bottom' ? 'up' : 'down') };
}

function stretchesOf(document: FlowDocument, rows: PlannedRow[], columns: Map<Id, number>, placed: Row[]): Stretch[] {
  const stretches: Stretch[] = [];
  rows.forEach((row, index) => {
    if (row.kind !== 'levels') return;
    let open: (Stretch & { last: number }) | undefined;
    for (const id of row.places) {
      const group = (document.places[id] as { group?: Id }).group;
      const column = columns.get(id)!;
      if (open && group === open.group && column === open.last + 1) {
        open.last = column;
        open.width += measure.pitch;
        continue;
      }
      open = undefined;
      if (group === undefined || !Object.hasOwn(document.groups, group)) continue;
      open = {
        group,
        name: document.groups[group]!.name,
        x: xOf(column),
        y: placed[index]!.y,
        width: measure.tile,
        last: column
      };
      stretches.push(open);
    }
  });
  return stretches.map(({ group, name, x, y, width }) => ({ group, name, x, y, width }));
}
