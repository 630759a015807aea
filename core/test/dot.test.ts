/** Graphs in the Graphviz language read as flows, and tables of levels. */
import { expect } from 'chai';
import fc from 'fast-check';
import { check } from '../src/check/check.ts';
import { validate } from '../src/document/read.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { sourceOf } from '../src/formats/flow-list.ts';
import { dotOf, edgesOf } from '../src/formats/graph.ts';
import { readFlow } from '../src/formats/read-flow.ts';
import { seed } from './support/compare.ts';
import { demo } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const taken = (text: string, name = 'Drawn') => {
  const found = readFlow.dot(text, name);
  if (found.errors) throw new Error(JSON.stringify(found.errors));
  expect(validate(JSON.parse(write(found.document))).errors).to.equal(undefined);
  return found;
};
const kinds = ({ places }: FlowDocument) => Object.fromEntries(Object.entries(places).map(([id, { kind }]) => [id, kind]));

describe('a graph in DOT', () => {
  it('becomes places and moves that can be played and checked', () => {
    const { document, left } = taken(`digraph "Two lamps" {
      title [label="Title"];
      quay [label="Quay\\nStreet" kind=level];
      title -> quay [label="Begin"];
      quay -> loft -> aglow [label="Lit" result=won];
      quay -> "Game over" [result=lost];
      "Game over" -> title;
    }`);
    expect(document.name).to.equal('Two lamps');
    expect(document.start).to.equal('title');
    expect(kinds(document)).to.deep.equal({
      title: 'menu',
      quay: 'level',
      loft: 'level',
      aglow: 'ending',
      game_over: 'interlude'
    });
    expect(document.places.quay!.name).to.equal('Quay Street');
    expect(document.places.quay!.rules).to.deep.equal([
      { id: 'r2', when: { press: 'Lit' }, go: { place: 'loft' }, result: 'won' },
      { id: 'r4', when: { press: 'To Game over' }, go: { place: 'game_over' }, result: 'lost' }
    ]);
    expect(left).to.deep.equal([]);
    const report = check(document);
    for (const { check: name, outcome, subject } of report.checks)
      if (name === 'place-reached') expect(outcome, subject).to.equal('holds');
  });

  it('lists what a flow has no place for, with its line', () => {
    const { left, document } = taken(`digraph {
      rankdir=LR;
      node [fontsize=10];
      a [label="A" color=red kind=castle];
      subgraph cluster_x { label="Harbour"; b }
      a -> {b c} [weight=3];
    }`);
    expect(left).to.deep.equal([
      { what: 'rankdir=LR', line: 2 },
      { what: 'default attributes of nodes', line: 3 },
      { what: 'color=red', line: 4 },
      { what: 'kind=castle', line: 4 },
      { what: 'subgraph cluster_x (its contents are imported)', line: 5 },
      { what: 'label=Harbour', line: 5 },
      { what: 'weight=3', line: 6 }
    ]);
    expect(Object.keys(document.places)).to.deep.equal(['a', 'b', 'c']);
    expect(document.places.a!.rules.map(({ go }) => go)).to.deep.equal([{ place: 'b' }, { place: 'c' }]);
    expect(document.name).to.equal('Drawn');
  });

  it('leads both ways where it has no directions, and a button of a place leads to one', () => {
    const { document } = taken('graph { a -- b [label="Door"]; a -- c [label="Door"] }');
    expect(document.places.b!.rules.map(({ go }) => go)).to.deep.equal([{ place: 'a' }]);
    expect(document.places.a!.rules.map(({ when }) => when)).to.deep.equal([{ press: 'Door' }, { press: 'Door 2' }]);
  });

  it('of a flow has the same places and moves', () => {
    let moves = 0;
    const holds = (document: FlowDocument) => {
      const { document: again } = taken(dotOf(document));
      expect(kinds(again)).to.deep.equal(kinds(document));
      expect(Object.values(again.places).map(({ name }) => name)).to.deep.equal(
        Object.values(document.places).map(({ name }) => name.replaceAll(/\s+/g, ' ').trim())
      );
      if (document.places[document.start]) expect(again.start).to.equal(document.start);
      const pairs = (of: FlowDocument) => edgesOf(of).map(({ from, to }) => `${from} ${to}`);
      expect(pairs(again).sort()).to.deep.equal(pairs(document).sort());
      moves += pairs(document).length;
    };
    ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms', 'night-market'].map(demo).forEach(holds);
    fc.assert(fc.property(randomFlow, holds), { numRuns: randoms(100), seed });
    expect(moves).to.be.greaterThan(500);
  });

  it('is refused with its line where it is none, and nothing is half read', () => {
    const wrong = (text: string) => {
      const { errors, document } = readFlow.dot(text, 'x');
      expect(document).to.equal(undefined);
      return errors!.map(({ line, message }) => `${line} ${message}`)[0]!;
    };
    expect(wrong('digraph {\n a -> }')).to.match(/^2 this is not DOT: /);
    expect(wrong('{"format": "crow-lane"}')).to.match(/^1 this is not DOT: /);
    expect(wrong('digraph { a }\ndigraph { b }')).to.match(/^2 this is not DOT: /);
    expect(wrong('')).to.match(/^1 this is not DOT: /);
    expect(wrong('digraph {}')).to.match(/^1 the graph has no nodes/);
    expect(wrong(`digraph { ${'a'.repeat(2_000_001)} }`)).to.match(/^1 is longer than 2 million/);
    const many = Array.from({ length: 9000 }, (_, n) => `n${n}`).join(' ');
    expect(wrong(`digraph { a -> { ${many} } }`)).to.equal(
      '1 more than 2000 edges lead away from a; a place has at most so many rules'
    );
    expect(wrong(`digraph { { ${many} } -> { ${many} } }`)).to.match(/^1 more than 2000 edges lead away from n0/);
    expect(wrong(`digraph { ${Array.from({ length: 10_001 }, (_, n) => `n${n};`).join('')} }`)).to.match(/has 10001 nodes/);
    const whole = dotOf(demo('ferry-rooms'));
    fc.assert(
      fc.property(fc.string(), fc.nat(), (text, at) => {
        const place = at % whole.length;
        const { errors, document } = readFlow.dot(whole.slice(0, place) + text + whole.slice(place), 'x');
        if (document) expect(validate(JSON.parse(write(document))).errors).to.equal(undefined);
        else expect(errors).to.have.length(1);
      }),
      { numRuns: randoms(200), seed }
    );
  });
});

describe('other sources of a flow', () => {
  it('are told by the names of their files', () => {
    expect(['a.crow.json', 'a.dot', 'A.GV', 'levels.csv', 'levels.TSV', 'notes'].map(sourceOf)).to.deep.equal([
      'json',
      'dot',
      'dot',
      'levels',
      'levels',
      'json'
    ]);
  });

  it('tables of levels become a flow, with what could not be taken', () => {
    const { document, left } = readFlow.levels('Name,Lamp\nQuay,3\n,2\n', 'Harbour') as Extract<
      ReturnType<typeof readFlow.levels>,
      { document: FlowDocument }
    >;
    expect(document.name).to.equal('Harbour');
    expect(Object.values(document.places).map(({ name }) => name)).to.deep.equal(['Title', 'Quay']);
    expect(left).to.deep.equal([{ line: 3, what: 'It has no name.' }]);
    expect(readFlow.levels('', 'x').errors).to.have.length(1);
    expect(readFlow.json('{', 'x').errors).to.have.length(1);
  });
});
