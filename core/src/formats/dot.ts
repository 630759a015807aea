/** Reads a graph in the Graphviz language (DOT) as a flow to go on with: nodes become places, edges moves, the rest is listed. */
import { parse, type ASTNode, type AttributeASTNode, type EdgeASTNode } from '@ts-graphviz/ast';
import { cut } from '../document/cut.ts';
import { kindSaid } from '../document/edits/places.ts';
import { idFrom } from '../document/edits/ids.ts';
import { filled } from '../document/fill.ts';
import { mostPlaces, mostRules } from '../document/schema.ts';
import type { FlowDocument, Id, Place, PlaceKind, Rule } from '../document/types.ts';
import { placeKinds } from '../vocabulary/places.ts';
import type { LeftOut, ReadFlow } from './left-out.ts';

/** A longer text is no graph that anybody has drawn. In UTF-16 units. */
const longest = 2_000_000;
const mostLeftOut = 200;

/** Never throws: whatever is wrong is in `errors`. `name` is that of a graph without one. */
export function readDot(text: string, name: string): ReadFlow {
  const wrong = (message: string, at: { line: number; column: number } = { line: 1, column: 1 }): ReadFlow => ({
    errors: [{ pointer: '', message, line: at.line, column: at.column }]
  });
  if (text.length > longest) return wrong(`is longer than ${longest / 1e6} million characters, which no graph of places is`);
  let graph;
  try {
    graph = parse(text).children.find((each) => each.type === 'Graph');
  } catch (error) {
    const { message, cause } = error as Error & { cause?: { location?: { start: { line: number; column: number } } } };
    return wrong(`this is not DOT: ${cut(message, 200)}`, cause?.location?.start);
  }
  const maker = new Maker(graph?.directed ?? true);
  for (const part of graph?.children ?? []) maker.take(part);
  const [crowded] = [...maker.nodes].find(([, { moves }]) => moves > mostRules) ?? [];
  if (crowded !== undefined)
    return wrong(`more than ${mostRules} edges lead away from ${cut(crowded, 80)}; a place has at most so many rules`);
  if (maker.nodes.size === 0) return wrong('the graph has no nodes');
  if (maker.nodes.size > mostPlaces) return wrong(`has ${maker.nodes.size} nodes; a flow has at most ${mostPlaces} places`);
  return { document: maker.flow(cut(graph?.id?.value ?? name, 80) || 'Flow'), left: maker.left };
}

interface Node {
  name: string;
  /** How many edges lead away from it; beyond what a place can have they are only counted. */
  moves: number;
  kind?: PlaceKind;
  start: boolean;
}

class Maker {
  readonly nodes = new Map<string, Node>();
  readonly left: LeftOut[] = [];
  private readonly moves: { from: string; to: string; label: string; result: Rule['result']; over: boolean }[] = [];

  constructor(private readonly directed: boolean) {}

  leave(what: string, { location }: Pick<ASTNode, 'location'>): void {
    if (this.left.length < mostLeftOut) this.left.push({ what, line: location?.start.line ?? 1 });
  }

  take(part: ASTNode): void {
    switch (part.type) {
      case 'Node': {
        const { label, kind, start } = this.said(part.children, ['label', 'kind', 'start', 'shape']);
        const node = this.node(part.id.value);
        if (label !== undefined) node.name = named(label, part.id.value);
        if (kind !== undefined && Object.hasOwn(placeKinds, kind)) node.kind = kind as PlaceKind;
        else if (kind !== undefined) this.leave(`kind=${kind}`, part);
        node.start ||= start === 'true';
        break;
      }
      case 'Edge':
        this.edge(part);
        break;
      case 'Subgraph':
        this.leave(`subgraph ${part.id?.value ?? ''} (its contents are imported)`.replace('  ', ' '), part);
        for (const inner of part.children) this.take(inner);
        break;
      case 'Attribute':
        this.leave(`${part.key.value}=${part.value.value}`, part);
        break;
      case 'AttributeList':
        this.leave(`default attributes of ${part.kind.toLowerCase()}s`, part);
        break;
    }
  }

  private node(id: string): Node {
    const found = this.nodes.get(id) ?? { name: named(id, id), start: false, moves: 0 };
    this.nodes.set(id, found);
    return found;
  }

  /** The values of attributes that are understood; `shape` and its like follow from them, and others are left out. */
  private said(parts: ASTNode[], known: string[]): Record<string, string | undefined> {
    const attributes = parts.filter((part): part is AttributeASTNode => part.type === 'Attribute');
    for (const each of attributes) if (!known.includes(each.key.value)) this.leave(`${each.key.value}=${each.value.value}`, each);
    return Object.fromEntries(attributes.map(({ key, value }) => [key.value, value.value]));
  }

  private edge(edge: EdgeASTNode): void {
    const { label = '', result, over } = this.said(edge.children, ['label', 'rule', 'result', 'over', 'style']);
    const ends = edge.targets.map((target) => (target.type === 'NodeRef' ? [target] : target.children).map(({ id }) => id.value));
    for (const id of ends.flat()) this.node(id);
    const outcome = result === 'won' || result === 'lost' ? result : undefined;
    const move = (from: string, to: string) => {
      if (++this.node(from).moves <= mostRules) this.moves.push({ from, to, label, result: outcome, over: over === 'true' });
    };
    ends.slice(1).forEach((tos, n) => {
      for (const from of ends[n]!)
        for (const to of tos) {
          // with more than a place can have nothing is made of the graph
          if (this.node(from).moves > mostRules) break;
          move(from, to);
          if (!this.directed) move(to, from);
        }
    });
  }

  flow(name: string): FlowDocument {
    const ids = new Map<string, Id>();
    const places: Record<Id, Place> = {};
    const further = this.moves.filter(({ from, to }) => from !== to);
    const entered = new Set(further.map(({ to }) => to));
    const first = [...this.nodes].find(([, { start }]) => start) ?? [...this.nodes].find(([id]) => !entered.has(id));
    const start = (first ?? [...this.nodes][0]!)[0];
    const leading = new Set(further.map(({ from }) => from));
    for (const [node, { name: called, kind = likely(called, node === start, leading.has(node)) }] of this.nodes) {
      const id = idFrom(node, places, 'place');
      ids.set(node, id);
      places[id] = placeOf(kind, called);
    }
    const labels = new Map<Place, Map<string, number>>();
    this.moves.forEach(({ from, to, label, result, over }, n) => {
      const [here, there] = [places[ids.get(from)!]!, places[ids.get(to)!]!];
      const taken = labels.get(here) ?? new Map<string, number>();
      labels.set(here, taken);
      const opens = over && placeKinds[there.kind].over;
      here.rules.push({
        id: `r${n + 1}`,
        when: { press: freeLabel(taken, named(label, `To ${there.name}`)) },
        go: { place: ids.get(to)!, ...(opens && { over: true as const }) },
        ...(result && here.kind === 'level' && { result })
      });
    });
    return filled({ format: 'crow-lane', version: 1, name, start: ids.get(start)!, places } as FlowDocument);
  }
}

/** Its name says of which kind a place is; else it is an ending where nothing leads on, a menu where play begins, and a level. */
const likely = (name: string, isStart: boolean, leads: boolean): PlaceKind =>
  kindSaid(name) ?? (isStart ? 'menu' : leads ? 'level' : 'ending');

const placeOf = (kind: PlaceKind, name: string): Place =>
  ({ name, kind, rules: [], expects: [], ...(kind === 'ending' && { outcome: 'won' }) }) as unknown as Place;

/** A text as a name: on one line, of 80 characters at most. */
const named = (text: string, otherwise: string): string =>
  cut(text.replaceAll(/\\[nlr]|\s+/g, ' ').trim(), 80) || cut(otherwise, 80) || 'Place';

/** Two moves by one button would be the first alone: of each label it is known how many there are. */
function freeLabel(taken: Map<string, number>, label: string): string {
  for (let n = taken.get(label) ?? 0; ; n++) {
    const free = n === 0 ? label : `${cut(label, 74)} ${n + 1}`;
    taken.set(label, n + 1);
    if (n > 0 && taken.has(free)) continue;
    if (n > 0) taken.set(free, 1);
    return free;
  }
}
