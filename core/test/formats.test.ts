/** The forms in which a flow is given to others: held to play and to the document. */
import { expect } from 'chai';
import fc from 'fast-check';
import Papa from 'papaparse';
import { flowFormatNames } from '../src/formats/flow-list.ts';
import { writeFlow } from '../src/formats/flow.ts';
import { edgesOf } from '../src/formats/graph.ts';
import { ruleRows, type RuleRow } from '../src/formats/tables.ts';
import { read } from '../src/document/read.ts';
import { ruleLists, type FlowDocument } from '../src/document/types.ts';
import { randomFrom } from '../src/document/random.ts';
import { act, beginTrial, choicesOf } from '../src/trial/trial.ts';
import { seed } from './support/compare.ts';
import { demo, flowOf } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const flows = ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms', 'night-market'].map(demo);
/** Names that would be markup, an end of text, or a formula, elsewhere. */
const odd = flowOf({
  name: 'A "flow" \\ <of> & *names*',
  start: 'one',
  places: {
    one: { name: '=1+1 "one"\\', kind: 'menu', rules: [{ id: 'r', when: { press: 'To <two> & back' }, go: { place: 'two' } }] },
    two: { name: '# two\nlines', kind: 'level', rules: [{ id: 'x', when: { after: 3 }, go: { place: 'one', over: true } }] }
  }
});

/** All moves that a game of some events makes, with the rule that made them. */
function movesPlayed(document: FlowDocument, events: number): { from: string; to: string; rule: string }[] {
  const random = randomFrom(seed);
  let trial = beginTrial(document);
  const found: { from: string; to: string; rule: string }[] = [];
  for (let n = 0; trial && n < events; n++) {
    const choices = choicesOf(trial);
    if (choices.length === 0) break;
    trial = act(trial, choices[Math.floor(random() * choices.length)]!);
    const line = trial.lines.at(-1)!;
    for (const { rule, to, leaving } of line.moves) if (to !== null) found.push({ from: leaving.stack.at(-1)!.place, to, rule });
  }
  return found;
}

describe('a flow as a graph', () => {
  it('has every move that is played', () => {
    let played = 0;
    const holds = (document: FlowDocument) => {
      const edges = new Set(edgesOf(document).map(({ from, to, rule }) => `${from} ${to} ${rule}`));
      for (const { from, to, rule } of movesPlayed(document, 120)) {
        const { go } = [...ruleLists(document)].flatMap(({ rules }) => rules).find(({ id }) => id === rule)!;
        // back, and to the same level again, lead to no other place that could be drawn; a checkpoint and a save know where
        if (go && 'move' in go && ['back', 'again', 'checkpoint', 'load', 'resume'].includes(go.move)) continue;
        // which of several orders is the present one only play knows
        if (go && 'move' in go && go.order === undefined && Object.keys(document.orders).length > 1) continue;
        if (from === to) continue;
        played++;
        expect([...edges], `${from} ${to} ${rule}`).to.include(`${from} ${to} ${rule}`);
      }
    };
    flows.forEach(holds);
    fc.assert(fc.property(randomFlow, holds), { numRuns: randoms(100), seed });
    expect(played).to.be.greaterThan(300);
  });

  it('is written in DOT and GraphML with all places and moves, whatever they are called', () => {
    for (const document of [...flows, odd]) {
      const edges = edgesOf(document).length;
      const dot = writeFlow.dot(document).split('\n');
      expect(
        dot.filter((line) => /^ {2}"[a-z0-9_]+" \[label="(?:[^"\\]|\\.)*" kind="\w+" shape=\w+(?: start="true")?\];$/.test(line))
      ).to.have.length(Object.keys(document.places).length);
      expect(
        dot.filter((line) => /^ {2}"[a-z0-9_]+" -> "[a-z0-9_]+" \[label="(?:[^"\\]|\\.)*" rule="\w+".*\];$/.test(line))
      ).to.have.length(edges);
      expect(dot.length).to.equal(Object.keys(document.places).length + edges + 3);
      const graphml = writeFlow.graphml(document);
      expect(graphml.match(/<node id="/g)).to.have.length(Object.keys(document.places).length);
      expect(graphml.match(/<edge source="/g) ?? []).to.have.length(edges);
      // nothing of a name is markup
      expect(graphml.replaceAll(/<\/?(?:data|node|edge|key|graph|graphml)\b[^<>]*>|<\?xml[^>]*\?>/g, '')).not.to.match(
        /[<>]|&(?!\w+;|#)/
      );
    }
  });
});

describe('a flow as tables', () => {
  it('has each rule in each place in which it is read, in the words of the document', () => {
    for (const document of flows) {
      const rows = writeFlow
        .rules(document)
        .trimEnd()
        .split('\n')
        .map((line) => JSON.parse(line) as RuleRow);
      expect(rows).to.deep.equal(JSON.parse(JSON.stringify(ruleRows(document))));
      const own = [...ruleLists(document)].flatMap(({ rules }) => rules);
      for (const { id, when, if: condition, go } of own) {
        const found = rows.filter(({ rule }) => rule === id);
        for (const row of found) expect([row.when, row.if, row.go]).to.deep.equal([when, condition, go]);
      }
      const { data } = Papa.parse<string[]>(writeFlow.rulescsv(document).trimEnd());
      expect(data.length).to.equal(rows.length + 1);
      expect(JSON.parse(data[1]![3]!)).to.deep.equal(rows[0]!.when);
    }
  });

  it('has a line for each move, and none that a spreadsheet runs', () => {
    const { data } = Papa.parse<string[]>(writeFlow.moves(odd).trimEnd());
    expect(data).to.deep.equal(
      [
        ['From', 'When', 'To', 'Result', 'Opened', 'Rule'],
        [`'=1+1 "one"\\`, 'when To <two> & back is pressed', '# two\nlines', '', '', 'r'],
        ['# two\nlines', 'after 3 s', `'=1+1 "one"\\`, '', 'over', 'x']
      ].map((row) => row)
    );
    for (const document of flows)
      expect(Papa.parse(writeFlow.moves(document).trimEnd()).data.length).to.equal(edgesOf(document).length + 1);
  });
});

describe('a flow in words', () => {
  it('has a heading for each place and a line for each rule, in which nothing is markup', () => {
    for (const document of flows) {
      const text = writeFlow.markdown(document);
      expect(text.match(/^## .* \((?:level|menu|interlude|ending)\)$/gm)).to.have.length(Object.keys(document.places).length);
      const rules = [...ruleLists(document)].flatMap(({ rules: each }) => each);
      expect(text.split('\n').filter((line) => /^- (?:when|once|after|every|on|each|the|“)/i.test(line)).length).to.be.at.least(
        rules.length
      );
    }
    expect(writeFlow.markdown(odd)).to.include('# A "flow" \\\\ \\<of\\> & \\*names\\*\n');
    expect(writeFlow.markdown(odd)).to.include('## \\# two lines (level)');
  });
});

describe('every form of a flow', () => {
  it('is text, ends with a line feed, and its own file reads as it was', () => {
    for (const document of [...flows, odd])
      for (const format of flowFormatNames)
        expect(writeFlow[format](document, { template: '<p>%title%%game%</p>\n', shows: [] }), format).to.match(/\n$/);
    for (const document of flows) expect(read(writeFlow.json(document)).document).to.deep.equal(document);
  });
});
