/** Which moves share a route, and where on a tile's edge each route leaves and arrives. */
import type { Id, MoveWord } from '../document/types.ts';
import { measure, xOf, gapOfTile } from './measure.ts';
import type { Move, MoveOutcome } from './moves.ts';

export interface Node {
  key: string;
  /** Whether it is a level, and not a screen or where shared rules begin. */
  level: boolean;
  /** Where shared rules begin: it has no tile that a route could go straight from. */
  shared?: true;
  row: number;
  column: number;
}

export interface RouteGroup {
  key: string;
  to: Node | undefined;
  toPlace: Id | undefined;
  word?: MoveWord;
  /** The levels it may lead to where the target depends on play. */
  levels?: Id[];
  /** The rules of the target's side, where it is a door that leads both ways. */
  back?: Id[];
  outcome: MoveOutcome;
  over: boolean;
  row: number;
  sources: Map<string, { node: Node; rules: Id[] }>;
}

export type Edge = 'top' | 'bottom';

/** Moves with the same target and outcome from the same row become one route. */
export function groupsOf(moves: Move[], nodes: Map<string, Node>): RouteGroup[] {
  const groups = new Map<string, RouteGroup>();
  // a move that only play decides leads to a lane: where there are no levels there is none
  const lanes = [...nodes.values()].some(({ level }) => level);
  for (const { rule, from, to, outcome, over } of moves) {
    const source = nodes.get('place' in from ? from.place : 'group' in from ? `group ${from.group}` : 'flow');
    const target = 'place' in to ? nodes.get(to.place) : undefined;
    if (!source || ('place' in to ? !target || target === source : !lanes)) continue;
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
    if ('levels' in to) group.levels = to.levels;
    const known = group.sources.get(source.key);
    if (known) known.rules.push(rule);
    else group.sources.set(source.key, { node: source, rules: [rule] });
  }
  return paired([...groups.values()]);
}

/** Two levels that lead to each other, neither won nor lost by it, are joined by one door instead of two routes. */
function paired(groups: RouteGroup[]): RouteGroup[] {
  const ways = new Map<string, RouteGroup>();
  for (const group of groups) {
    if (group.outcome !== 'plain' || group.over || !group.to?.level) continue;
    for (const { node } of group.sources.values()) if (node.level) ways.set(`${node.key} ${group.to.key}`, group);
  }
  const doors: RouteGroup[] = [];
  for (const [key, group] of ways) {
    const [from, to] = key.split(' ') as [Id, Id];
    const other = ways.get(`${to} ${from}`);
    const source = group.sources.get(from);
    const back = other?.sources.get(to);
    // each pair is met twice, and made from its left or upper end
    if (!other || !source || !back || !comesFirst(source.node, group.to!)) continue;
    group.sources.delete(from);
    other.sources.delete(to);
    const { row } = source.node;
    doors.push({ ...group, key: `door ${key}`, row, back: back.rules, sources: new Map([[from, source]]) });
  }
  return [...groups.filter(({ sources }) => sources.size > 0), ...doors];
}

function comesFirst(a: Node, b: Node): boolean {
  return a.row < b.row || (a.row === b.row && a.column < b.column);
}

export function isBeside(source: Node, target: Node): boolean {
  return !source.shared && source.row === target.row && target.column === source.column + 1;
}

/** By which edge a route leaves its sources and comes to its target. */
export function edgesOf({ row, to }: RouteGroup): { out: Edge; in: Edge } {
  const target = to?.row;
  if (target === undefined) return row <= 1 ? { out: 'bottom', in: 'top' } : { out: 'top', in: 'bottom' };
  if (target < row) return { out: 'top', in: 'bottom' };
  if (target > row) return { out: 'bottom', in: 'top' };
  // within a row: under it, but the interludes over it, where there is more room
  return row === 1 ? { out: 'top', in: 'top' } : { out: 'bottom', in: 'bottom' };
}

export type Ports = (group: RouteGroup, node: Node, way: 'in' | 'out') => number;

/** Spreads what leaves and enters over a tile's edge, so that no two share a port. */
export function portsOf(groups: RouteGroup[]): Ports {
  const byEdge = new Map<string, { name: string; toward: number; outcome: MoveOutcome }[]>();
  const add = (node: Node, edge: Edge, name: string, toward: number, outcome: MoveOutcome) => {
    const key = `${node.key} ${edge}`;
    if (!byEdge.has(key)) byEdge.set(key, []);
    byEdge.get(key)!.push({ name, toward, outcome });
  };
  const mean = (group: RouteGroup) =>
    [...group.sources.values()].reduce((sum, { node }) => sum + node.column, 0) / group.sources.size;
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
