import { expect } from 'chai';
import { read, positions, validate, type ReadError } from '../src/document/read.ts';
import { write } from '../src/document/write.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { demo, documentFrom, flowOf, threeLamps } from './support/flows.ts';

const whole = { format: 'crow-lane', version: 1, ...threeLamps };
const errorsOf = (value: unknown): ReadError[] => {
  const { errors } = validate(value);
  expect(errors, 'errors').to.be.an('array');
  return errors!;
};
/** The document of the example with one thing replaced. */
const spoiled = (spoil: (document: any) => void) => {
  const copy = structuredClone(whole);
  spoil(copy);
  return copy;
};

describe('document: reading', () => {
  it('takes the smallest document and fills in what may be left out', () => {
    const document = flowOf({ places: { title: { name: 'Title', kind: 'menu' } } });
    expect(document.variables).to.deep.equal({});
    expect(document.rules).to.deep.equal([]);
    expect(document.places.title).to.deep.equal({ name: 'Title', kind: 'menu', rules: [], expects: [] });
  });

  it('gives all errors at once, each with its pointer, line and column', () => {
    const text = `{
  "format": "crow-lane", "version": 1, "name": "",
  "start": "Title",
  "places": {
    "title": { "name": "Title", "kind": "menu", "goal": "win" },
    "end": { "name": "End", "kind": "ending" }
  },
  "colour": 3
}`;
    const { errors } = read(text);
    expect(errors!.map(({ pointer, line }) => [pointer, line])).to.have.deep.members([
      ['/name', 2],
      ['/start', 3],
      ['/places/title/goal', 5],
      ['/places/end/outcome', 6],
      ['/colour', 8]
    ]);
    expect(errors!.find(({ pointer }) => pointer === '/name')!.column).to.equal(48);
    expect(errors!.find(({ pointer }) => pointer === '/colour')!.message).to.include('not known');
  });

  it('says where a text stops being JSON', () => {
    const { errors } = read('{\n  "format": "crow-lane",\n  "version" 1\n}');
    expect(errors).to.have.length(1);
    expect(errors![0]).to.include({ pointer: '', line: 3, column: 13 });
    for (const text of ['', '   ', '{', '[1,]', '{"a":1,}', '// no\n{}', 'nonsense', '"\u0000"'])
      expect(read(text).errors, text).to.have.length.above(0);
  });

  it('refuses doubled keys instead of dropping one', () => {
    const { errors } = read('{ "format": "crow-lane", "version": 1, "name": "A", "start": "t", "places": {}, "name": "B" }');
    expect(errors).to.have.length(1);
    expect(errors![0]).to.include({ pointer: '/name', line: 1 });
    expect(errors![0]!.message).to.include('twice');
  });

  it('refuses other files and newer versions in one sentence', () => {
    expect(errorsOf([])[0]!.message).to.include('JSON object');
    expect(errorsOf({ nodes: [], edges: [] })).to.have.length(1);
    expect(errorsOf({ ...whole, version: 3 })[0]!.message).to.include('newer');
    expect(errorsOf({ ...whole, version: 0 })[0]!.pointer).to.equal('/version');
  });

  it('survives hostile texts', () => {
    expect(read('['.repeat(200_000)).errors![0]!.message).to.include('nested');
    expect(read(`{"a":"${'['.repeat(100)}"}`).errors![0]!.pointer).to.equal('/format');
    const proto = read(JSON.stringify(whole).replace('"places":{', '"places":{"__proto__":{"name":"X","kind":"menu"},'));
    expect(
      proto.errors!.some(({ pointer, message }) => pointer === '/places/__proto__' && message.includes('not known'))
    ).to.equal(true);
    expect(({} as { kind?: string }).kind).to.equal(undefined);
  });

  it('stops after 200 errors and says how much was not looked at', () => {
    const places = Object.fromEntries(Array.from({ length: 500 }, (_, n) => [`p${n}`, { name: '', kind: 'menu' }]));
    const errors = errorsOf({ ...whole, places });
    expect(errors).to.have.length(201);
    expect(errors.at(-1)!.message).to.equal(
      'only the first 200 errors are listed; 300 more parts of the document were not looked at'
    );
    const strange = Object.fromEntries(Array.from({ length: 500 }, (_, n) => [`k${n}`, n]));
    expect(errorsOf({ ...whole, ...strange })).to.have.length(201);
    // of a part that is large by itself only the first error is told
    const rules = Array.from({ length: 9000 }, (_, n) => ({ id: n }));
    const [first, ...others] = errorsOf({ ...whole, places: { a: { name: 'A', kind: 'menu', rules } } });
    expect([first!.pointer, others]).to.deep.equal(['/places/a/rules/0/id', []]);
  });

  it('says of each error in a list or map where it stands in the whole', () => {
    const text = JSON.stringify(
      { ...whole, rules: [threeLamps.rules[0], { id: 'x' }, { id: 1, when: { arrive: true } }] },
      null,
      2
    );
    const { errors } = read(text);
    expect(errors!.map(({ pointer }) => pointer)).to.deep.equal(['/rules/1/when', '/rules/2/id']);
    const line = text.split('\n').findIndex((each) => each.includes('"id": 1')) + 1;
    expect(errors![1]).to.include({ line });
    expect(errors![0]!.line).to.equal(text.split('\n').findIndex((each) => each.includes('"id": "x"')));
  });

  it('refuses what no database keeps, with its place: half a character, nesting without end', () => {
    const half = read(JSON.stringify(whole).replace('Quay Street', 'Quay \\ud83d'));
    expect(half.errors).to.have.length(1);
    expect(half.errors![0]).to.include({ pointer: '/places/quay/name', line: 1 });
    expect(half.errors![0]!.message).to.include('half a character');
    const key = read(JSON.stringify(whole).replace('"kind":"menu"', '"kind":"menu","look":{"\\udc00":1}'));
    expect(key.errors![0]!.pointer).to.match(/^\/places\/title\/look\//);
    const deep = errorsOf({
      ...whole,
      places: { a: { name: 'A', kind: 'menu', look: JSON.parse('['.repeat(70) + ']'.repeat(70)) } }
    });
    expect(deep[0]!.message).to.include('nested');
    const pair = read(JSON.stringify(whole).replace('Quay Street', 'Quay \u{1f3ee}'));
    expect(pair.document!.places.quay!.name).to.equal('Quay \u{1f3ee}');
  });

  const faults: [string, string, (document: any) => void][] = [
    ['a place of unknown kind', '/places/title/kind', (d) => (d.places.title.kind = 'room')],
    ['an id with a capital', '/places', (d) => (d.places.Quay = d.places.quay)],
    ['an id that is a word of the language', '/variables', (d) => (d.variables.left = d.variables.lives)],
    ['a name of 81 characters', '/name', (d) => (d.name = 'x'.repeat(81))],
    ['two triggers', '/places/title/rules/0/when', (d) => (d.places.title.rules[0].when = { press: 'A', arrive: true })],
    ['no trigger', '/places/title/rules/0/when', (d) => (d.places.title.rules[0].when = {})],
    ['a key without a press', '/places/title/rules/0/when', (d) => (d.places.title.rules[0].when = { arrive: true, key: 'A' })],
    ['a deadline of nothing', '/places/splash/rules/1/when/after', (d) => (d.places.splash.rules[1].when.after = 0)],
    ['two effects in one', '/rules/0/do/0', (d) => (d.rules[0].do[0].reset = 'lives')],
    ['set without to', '/rules/0/do/0', (d) => (d.rules[0].do = [{ set: 'lives' }])],
    ['removing half a piece', '/rules/0/do/0/by', (d) => (d.rules[0].do = [{ remove: 'lamp', by: 0.5 }])],
    ['a target that is both', '/rules/0/go', (d) => (d.rules[0].go = { place: 'splash', move: 'next' })],
    ['an order with "again"', '/rules/0/go', (d) => (d.rules[0].go = { move: 'again', order: 'main' })],
    ['an entry with "resume"', '/rules/0/go', (d) => (d.rules[0].go = { move: 'resume', entry: 'door' })],
    [
      'an else inside an else',
      '/rules/0/go/else/else',
      (d) => (d.rules[0].go = { move: 'next', else: { move: 'next', else: { place: 'dark' } } })
    ],
    ['"chosen" without choosing', '/rules/0', (d) => (d.rules[0].go = { move: 'chosen' })],
    ['a result that goes nowhere', '/rules/0', (d) => delete d.rules[0].go],
    ['a result that goes back', '/rules/0', (d) => (d.rules[0].go = { move: 'next', else: { move: 'back' } })],
    ['a result in a menu', '/places/title/rules/0', (d) => (d.places.title.rules[0].result = 'won')],
    ['an initial value out of range', '/variables/lives', (d) => (d.variables.lives.initial = 3)],
    ['a fractional number', '/variables/lives/min', (d) => (d.variables.lives.min = 0.5)],
    ['a number written as text', '/variables/lives/max', (d) => (d.variables.lives.max = '2')],
    [
      'a choice of one',
      '/variables/hat/choices',
      (d) => (d.variables.hat = { name: 'Hat', type: 'choice', choices: ['red'], initial: 'red', scope: 'run' })
    ],
    ['a level twice in an order', '/orders/main/levels/2', (d) => d.orders.main.levels.push('quay')],
    ['an order of nothing', '/orders/main/levels', (d) => (d.orders.main.levels = [])],
    ['a table without rows', '/orders/main/rows', (d) => (d.orders.main.draw = 'table')],
    ['rows without a table', '/orders/main/rows', (d) => (d.orders.main.rows = [['quay']])],
    ['pieces in a menu', '/places/title/pieces', (d) => (d.places.title.pieces = {})],
    ['progress on a lamp', '/places/quay/pieces/lamp/progress', (d) => (d.places.quay.pieces.lamp.progress = 5)],
    ['a rule id used twice', '/places/loft/rules/0/id', (d) => (d.places.loft.rules[0].id = 'lit')],
    ['a list where a map belongs', '/variables', (d) => (d.variables = [])],
    ['a map where a list belongs', '/rules', (d) => (d.rules = {})],
    ['a text where a map belongs', '/orders', (d) => (d.orders = 'main')],
    ['an unknown effect', '/rules/0/do/0/play', (d) => (d.rules[0].do = [{ play: 'bell' }])],
    ['a condition of a megabyte', '/places/splash/rules/0/if', (d) => (d.places.splash.rules[0].if = 'x'.repeat(1_000_000))]
  ];
  for (const [what, pointer, spoil] of faults) {
    it(`refuses ${what}`, () => {
      expect(errorsOf(spoiled(spoil)).map((error) => error.pointer)).to.include(pointer);
    });
  }
});

describe('document: writing', () => {
  it('gives a text that reads back to the same document, and the same text again', () => {
    const document = flowOf(threeLamps);
    const text = write(document);
    const again = read(text).document!;
    expect(again).to.deep.equal(document);
    expect(write(again)).to.equal(text);
    expect(text.endsWith('}\n')).to.equal(true);
  });

  it('does not depend on the order in which keys were set, but keeps the order of places', () => {
    const document = flowOf(threeLamps);
    const { places, ...rest } = document;
    const turned = { places, ...Object.fromEntries(Object.entries(rest).reverse()) } as typeof document;
    expect(write(turned)).to.equal(write(document));
    const reversed = { ...document, places: Object.fromEntries(Object.entries(places).reverse()) };
    expect(Object.keys(read(write(reversed)).document!.places)).to.deep.equal(Object.keys(places).reverse());
  });

  it('leaves out what is empty and changes few lines for a small change', () => {
    const document = flowOf(threeLamps);
    expect(write(document)).not.to.include('accepted').and.not.to.include('"expects"');
    const lines = write(document).split('\n');
    const changed = structuredClone(document);
    changed.places.quay!.name = 'Quay Road';
    const others = write(changed).split('\n');
    expect(others).to.have.length(lines.length);
    expect(others.filter((line, n) => line !== lines[n])).to.have.length(1);
  });

  it('gives equal documents the same text, in whatever order their keys came', () => {
    const turned = (value: unknown, own = false): unknown => {
      if (Array.isArray(value)) return value.map((each) => turned(each));
      if (typeof value !== 'object' || value === null) return value;
      // the keys of maps are ids, whose order is the display order
      const entries = Object.entries(value).map(([key, part]) => [key, turned(part, maps.has(key))] as const);
      return Object.fromEntries(own ? entries : entries.reverse());
    };
    const maps = new Set([
      'variables',
      'signals',
      'orders',
      'groups',
      'places',
      'entries',
      'pieces',
      'spots',
      'passages',
      'at',
      'runs',
      'values',
      'things',
      'links',
      'areas',
      'patrols',
      'numbers',
      'reads',
      'abilities'
    ]);
    for (const name of ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms', 'night-market']) {
      const document = demo(name);
      const steps = [
        { press: 'Go', draws: [{ order: 'main', row: 1 }], then: { in: 'title', rules: ['r'], values: { lives: 1 } } },
        { choose: 'quay', rule: 'r', then: { in: 'quay' }, expects: ['lives = 1'] },
        { start: true as const, then: { in: 'title' } }
      ];
      const whole = { ...document, runs: { once: { name: 'Once', bug: 'why', steps } } };
      expect(write(turned(whole) as FlowDocument), name).to.equal(write(whole));
    }
  });

  it('keeps the designer’s own data as it is', () => {
    const look = { zebra: [], ant: { place: 1, name: {} } };
    const document = flowOf({ places: { title: { name: 'Title', kind: 'menu', look } } });
    expect(JSON.stringify(read(write(document)).document!.places.title!.look)).to.equal(JSON.stringify(look));
  });

  it('knows the line of each thing', () => {
    const text = write(flowOf(threeLamps));
    const at = positions(text);
    const line = text.split('\n').findIndex((each) => each.includes('"quay": {')) + 1;
    expect(at('/places/quay')!.line).to.equal(line);
    expect(at('/places/quay/nothing')!.line).to.equal(line);
    expect(positions('no json')('/a')).to.equal(undefined);
  });

  it('says version 2 where all() or count() is used, whatever it says itself, and 1 where no longer', () => {
    const asking = (holds: string, version: number) =>
      documentFrom(JSON.stringify({ ...whole, version, rules: [{ id: 'r', when: { holds } }] }));
    for (const version of [1, 2]) {
      expect(write(asking('all(lamp)', version))).to.contain('"version": 2');
      expect(write(asking('left(lamp) = 0', version))).to.contain('"version": 1');
      expect(asking('all(lamp)', version).version).to.equal(2);
    }
    expect(write(asking('all > 1', 1))).to.contain('"version": 1');
  });
});
