/**
 * The geometry of the lane: a pure function of the document. From top to bottom endings, screens in between, a lane
 * for each order and one for levels in none, menus; between these rows gaps in which the routes run. What goes to the
 * same target with the same outcome from the same row shares one trunk. Verticals cross a row only between columns.
 */
import { levelsOf, type FlowDocument, type Id, type PlaceKind } from '../document/types.ts';
import { spread, tracks } from './columns.ts';
import { levelsOfOwner, movesOf, type Move, type MoveOutcome } from './moves.ts';

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
  kind: 'endings' | 'between' | 'levels' | 'menus';
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
  end: Point & { way: 'up' | 'down' | 'left' | 'right' };
  /** For a route to a lane: "next", "again" and so on. */
  word?: string;
}

export interface LaneLayout {
  width: number;
  height: number;
  rows: Row[];
  tiles: Map<Id, Tile>;
  stretches: Stretch[];
  routes: Route[];
}

/** Measures in pixels at a zoom of 1. */
export const measure = {
  left: 100,
  pitch: 98,
  tile: 84,
  heights: { endings: 50, between: 50, levels: 78, menus: 52 },
  /** Room in a lane above its tiles, for the names of stretches, and below, for the road's mark. */
  above: 20,
  below: 16,
  track: 8,
  padding: 12,
  margin: 10
} as const;

const gapOfTile = measure.pitch - measure.tile;

interface Node {
  key: string;
  row: number;
  column: number;
}

interface Group {
  key: string;
  to: Node | undefined;
  toPlace: Id | undefined;
  word?: string;
  outcome: MoveOutcome;
  over: boolean;
  row: number;
  sources: Map<string, { node: Node; rules: Id[] }>;
}

type Edge = 'top' | 'bottom';

export function layout(document: FlowDocument): LaneLayout {
  const rows = rowsOf(document);
  const moves = movesOf(document);
  const columns = columnsOf(document, rows, moves);
  const nodes = new Map<string, Node>();
  rows.forEach((row, index) => row.places.forEach((id) => nodes.set(id, { key: id, row: index, column: columns.get(id)! })));
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

function xOf(column: number): number {
  return measure.left + column * measure.pitch;
}

interface PlannedRow {
  kind: Row['kind'];
  order?: Id;
  name: string;
  places: Id[];
}

/** The rows from top to bottom. A level stands in the lane of the first order that lists it. */
function rowsOf(document: FlowDocument): PlannedRow[] {
  const of = (kind: PlaceKind) => Object.keys(document.places).filter((id) => document.places[id]!.kind === kind);
  const levels = new Set(of('level'));
  const lanes: PlannedRow[] = Object.entries(document.orders).map(([order, { name, levels: listed }]) => {
    const places = listed.filter((id) => levels.delete(id));
    return { kind: 'levels', order, name, places };
  });
  const used = lanes.filter(({ places }) => places.length > 0);
  if (levels.size > 0 || used.length === 0)
    used.push({ kind: 'levels', name: used.length > 0 ? 'In no order' : 'Levels', places: [...levels] });
  return [
    { kind: 'endings', name: 'Endings', places: of('ending') },
    { kind: 'between', name: 'In between', places: of('interlude') },
    ...used,
    { kind: 'menus', name: 'Menus', places: of('menu') }
  ];
}

function columnsOf(document: FlowDocument, rows: PlannedRow[], moves: Move[]): Map<Id, number> {
  const columns = new Map<Id, number>();
  for (const row of rows)
    if (row.kind === 'levels' || row.kind === 'menus') row.places.forEach((id, index) => columns.set(id, index));
  const neighbours = new Map<Id, Set<Id>>();
  const join = (a: Id, b: Id) => {
    if (!neighbours.has(a)) neighbours.set(a, new Set());
    neighbours.get(a)!.add(b);
  };
  for (const { from, to } of moves) {
    if (!('place' in to)) continue;
    for (const source of 'place' in from ? [from.place] : (levelsOfOwner(document, from) ?? [])) {
      join(to.place, source);
      join(source, to.place);
    }
  }
  const known = (id: Id, ...kinds: PlaceKind[]) =>
    [...(neighbours.get(id) ?? [])].filter(
      (other) => columns.has(other) && (kinds.length === 0 || kinds.includes(document.places[other]!.kind))
    );
  const mean = (ids: Id[]) => ids.reduce((sum, id) => sum + columns.get(id)!, 0) / ids.length;
  const wish = (id: Id) => {
    const levels = known(id, 'level');
    const near = levels.length > 0 ? levels : known(id);
    return near.length > 0 ? mean(near) : 0;
  };
  for (const kind of ['between', 'endings'] as const) {
    const { places } = rows.find((row) => row.kind === kind)!;
    for (const [id, column] of spread(places.map((id) => ({ id, wish: wish(id) })))) columns.set(id, column);
  }
  return columns;
}

/** Shared rules start at the head of the first lane, a group's at the left end of its first stretch. */
function sharedNodes(document: FlowDocument, rows: PlannedRow[], columns: Map<Id, number>): [string, Node][] {
  const first = rows.findIndex(({ kind }) => kind === 'levels');
  const nodes: [string, Node][] = [['flow', { key: 'flow', row: first, column: -1 }]];
  for (const group of Object.keys(document.groups)) {
    const members = levelsOf(document).filter(([, level]) => level.group === group);
    const row = rows.findIndex(({ kind, places }) => kind === 'levels' && members.some(([id]) => places.includes(id)));
    if (row < 0) continue;
    const column = Math.min(...members.filter(([id]) => rows[row]!.places.includes(id)).map(([id]) => columns.get(id)!));
    nodes.push([`group ${group}`, { key: `group ${group}`, row, column }]);
  }
  return nodes;
}

/** Moves with the same target and outcome from the same row become one route. */
function groupsOf(moves: Move[], nodes: Map<string, Node>): Group[] {
  const groups = new Map<string, Group>();
  for (const { rule, from, to, outcome, over } of moves) {
    const source = nodes.get('place' in from ? from.place : 'group' in from ? `group ${from.group}` : 'flow');
    const target = 'place' in to ? nodes.get(to.place) : undefined;
    if (!source || ('place' in to && (!target || target === source))) continue;
    const word = 'place' in to ? undefined : to.word;
    const beside = target && isBeside(source, target);
    // toward a lane and toward the neighbour nothing is shared
    const key = [
      target ? target.key : `${word} from ${source.key}`,
      outcome,
      over ? 'over' : '',
      source.row,
      beside ? source.key : ''
    ].join(' ');
    let group = groups.get(key);
    if (!group)
      groups.set(
        key,
        (group = { key, to: target, toPlace: target?.key, word, outcome, over, row: source.row, sources: new Map() })
      );
    const known = group.sources.get(source.key);
    if (known) known.rules.push(rule);
    else group.sources.set(source.key, { node: source, rules: [rule] });
  }
  return [...groups.values()];
}

function isBeside(source: Node, target: Node): boolean {
  return source.row === target.row && target.column === source.column + 1 && source.column >= 0;
}

/** By which edge a route leaves its sources and comes to its target. */
function edgesOf({ row, to }: Group): { out: Edge; in: Edge } {
  const target = to?.row;
  if (target === undefined) return row <= 1 ? { out: 'bottom', in: 'top' } : { out: 'top', in: 'bottom' };
  if (target < row) return { out: 'top', in: 'bottom' };
  if (target > row) return { out: 'bottom', in: 'top' };
  // within a row: under it, but the screens in between over it, where there is more room
  return row === 1 ? { out: 'top', in: 'top' } : { out: 'bottom', in: 'bottom' };
}

type Ports = (group: Group, node: Node, way: 'in' | 'out') => number;

/** Spreads what leaves and enters over a tile's edge, so that no two share a port. */
function portsOf(groups: Group[]): Ports {
  const byEdge = new Map<string, { name: string; toward: number; outcome: MoveOutcome }[]>();
  const add = (node: Node, edge: Edge, name: string, toward: number, outcome: MoveOutcome) => {
    const key = `${node.key} ${edge}`;
    if (!byEdge.has(key)) byEdge.set(key, []);
    byEdge.get(key)!.push({ name, toward, outcome });
  };
  const mean = (group: Group) => [...group.sources.values()].reduce((sum, { node }) => sum + node.column, 0) / group.sources.size;
  for (const group of groups) {
    const edges = edgesOf(group);
    for (const { node } of group.sources.values()) {
      if (group.to && isBeside(node, group.to)) continue;
      add(node, edges.out, `out ${group.key}`, group.to?.column ?? node.column, group.outcome);
    }
    if (group.to && ![...group.sources.values()].some(({ node }) => isBeside(node, group.to!))) {
      add(group.to, edges.in, `in ${group.key}`, mean(group), group.outcome);
    }
  }
  const places = new Map<string, number>();
  const order: MoveOutcome[] = ['lost', 'plain', 'won'];
  for (const [key, list] of byEdge) {
    list.sort((a, b) => order.indexOf(a.outcome) - order.indexOf(b.outcome) || a.toward - b.toward || (a.name < b.name ? -1 : 1));
    list.forEach(({ name }, index) => places.set(`${key} ${name}`, (index + 1) / (list.length + 1)));
  }
  return (group, node, way) => {
    const edges = edgesOf(group);
    const share = places.get(`${node.key} ${way === 'out' ? edges.out : edges.in} ${way} ${group.key}`) ?? 0.5;
    if (node.key === 'flow') return measure.left - gapOfTile - 2 - 14 * (1 - share);
    if (node.key.startsWith('group ')) return xOf(node.column) - gapOfTile + 2 + share * (gapOfTile - 4);
    // what leaves upward and what comes from above stand a little apart, so that verticals in one gap do not meet
    const edge = way === 'out' ? edges.out : edges.in;
    return xOf(node.column) + measure.tile * share + (edge === 'top' ? 2.5 : -2.5);
  };
}

interface Run {
  key: string;
  gap: number;
  from: number;
  to: number;
}

interface Plan {
  group: Group;
  ports: Ports;
  edges: { out: Edge; in: Edge };
  runs: Run[];
  /** The x of the vertical that crosses the rows between; undefined when there are none. */
  channel?: number;
}

/** Which gaps a route runs along, and how far. */
function planOf(group: Group, ports: Ports, rows: PlannedRow[]): Plan {
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
function channelNear(group: Group, starts: number[], end: number, rows: number): number {
  const mean = starts.reduce((sum, x) => sum + x, 0) / starts.length;
  const column = group.to!.column + (mean > end ? 1 : 0);
  const place = { lost: 0.25, plain: 0.5, won: 0.75 }[group.outcome] + ((group.row * 7) % rows) * 0.02;
  return xOf(column) - gapOfTile + gapOfTile * Math.min(place, 0.9);
}

function isDirect(group: Group): boolean {
  return [...group.sources.values()].some(({ node }) => group.to && isBeside(node, group.to));
}

interface Places {
  edgeY(node: Node, edge: Edge): number;
  trackY(key: string, gap: number): number;
  tiles: Map<Id, Tile>;
  rows: Row[];
}

function routeOf({ group, ports, edges, runs, channel }: Plan, { edgeY, trackY, tiles, rows }: Places): Route {
  const base = { key: group.key, to: group.toPlace, outcome: group.outcome, over: group.over, word: group.word };
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
    return { ...base, feeders: [{ from: node.key, rules, points }], trunk: [], end: { x: to.x, y, way: 'right' } };
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
  return { ...base, feeders, trunk, end: { ...end, way } };
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
