/** Places and moves as a graph for other programs: DOT (the Graphviz language) and GraphML 1.0. */
import { levelsOfOwner, ruleLists, type FlowDocument, type Id } from '../document/types.ts';
import { movesOf, type MoveOutcome } from '../lane/moves.ts';
import { triggerWords } from '../words/words.ts';
import { escaped } from './junit.ts';

/** A move from one place to another; a rule of several levels is one from each of them, and one to some level one to each. */
export interface Edge {
  from: Id;
  to: Id;
  rule: Id;
  /** What it waits for, in words. */
  words: string;
  outcome: MoveOutcome;
  over: boolean;
}

/** All moves of a flow that lead from one place to another; those back, and to the same level again, do not. */
export function edgesOf(document: FlowDocument): Edge[] {
  const rules = new Map([...ruleLists(document)].flatMap((list) => list.rules.map((rule) => [rule.id, rule] as const)));
  return movesOf(document).flatMap(({ rule, from: owner, to: end, outcome, over }) => {
    const words = triggerWords(document, owner, rules.get(rule)!);
    const froms = 'place' in owner ? [owner.place] : (levelsOfOwner(document, owner) ?? []);
    const tos = 'place' in end ? [end.place] : end.levels;
    return froms.flatMap((from) => tos.map((to): Edge => ({ from, to, rule, words, outcome, over })));
  });
}

const quoted = (text: string): string => `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('\n', '\\n')}"`;

/** The graph in the Graphviz language; kinds, rules and results are attributes that it passes on. */
export function dotOf(document: FlowDocument): string {
  const nodes = Object.entries(document.places).map(
    ([id, { name, kind }]) =>
      `  ${quoted(id)} [label=${quoted(name)} kind=${quoted(kind)} shape=${kind === 'level' ? 'box' : 'ellipse'}${id === document.start ? ' start="true"' : ''}];`
  );
  const edges = edgesOf(document).map(({ from, to, rule, words, outcome, over }) => {
    const attributes = [
      `label=${quoted(words)}`,
      `rule=${quoted(rule)}`,
      ...(outcome === 'plain' ? [] : [`result=${quoted(outcome)}`]),
      ...(over ? ['over="true" style="dashed"'] : [])
    ];
    return `  ${quoted(from)} -> ${quoted(to)} [${attributes.join(' ')}];`;
  });
  return [`digraph ${quoted(document.name)} {`, ...nodes, ...edges, '}', ''].join('\n');
}

const keys = [
  ['name', 'node'],
  ['kind', 'node'],
  ['start', 'node'],
  ['label', 'edge'],
  ['rule', 'edge'],
  ['result', 'edge'],
  ['over', 'edge']
] as const;

export function graphmlOf(document: FlowDocument): string {
  const data = (values: Partial<Record<(typeof keys)[number][0], string>>): string =>
    Object.entries(values)
      .map(([key, value]) => `<data key="${key}">${escaped(value)}</data>`)
      .join('');
  const nodes = Object.entries(document.places).map(
    ([id, { name, kind }]) =>
      `    <node id="${id}">${data({ name, kind, ...(id === document.start && { start: 'true' }) })}</node>`
  );
  const edges = edgesOf(document).map(({ from, to, rule, words, outcome, over }) => {
    const values = { label: words, rule, ...(outcome !== 'plain' && { result: outcome }), ...(over && { over: 'true' }) };
    return `    <edge source="${from}" target="${to}">${data(values)}</edge>`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>
<graphml xmlns="http://graphml.graphdrawing.org/xmlns">
${keys.map(([name, of]) => `  <key id="${name}" for="${of}" attr.name="${name}" attr.type="${name === 'start' || name === 'over' ? 'boolean' : 'string'}"/>`).join('\n')}
  <graph id="flow" edgedefault="directed">
${[...nodes, ...edges].join('\n')}
  </graph>
</graphml>
`;
}
