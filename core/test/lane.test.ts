import { expect } from 'chai';
import fc from 'fast-check';
import { spread, tracks } from '../src/lane/columns.ts';
import { labelsOf } from '../src/lane/labels.ts';
import { layout, measure, type LaneLayout, type Point } from '../src/lane/layout.ts';
import { movesOf } from '../src/lane/moves.ts';
import { addPlace, emptyPlace } from '../src/document/edits/places.ts';
import { apply } from '../src/document/patch.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';
import { seed } from './support/compare.ts';

const round = demo('lamplighters-round');

/** Documents with any places and any plain moves between them. */
const anyDocument = fc
  .record({
    kinds: fc.array(fc.constantFrom('menu', 'level', 'interlude', 'ending'), { minLength: 1, maxLength: 25 }),
    moves: fc.array(fc.record({ from: fc.nat(24), to: fc.nat(24), result: fc.constantFrom(undefined, 'won', 'lost') }), {
      maxLength: 40
    }),
    listed: fc.array(fc.nat(24), { maxLength: 12 }),
    shared: fc.array(fc.nat(24), { maxLength: 3 })
  })
  .map(({ kinds, moves, listed, shared }) => {
    const places: Record<string, any> = {};
    kinds.forEach(
      (kind, n) => (places[`p${n}`] = { name: `Place ${n}`, kind, rules: [], ...(kind === 'ending' ? { outcome: 'won' } : {}) })
    );
    moves.forEach(({ from, to, result }, n) => {
      const place = places[`p${from % kinds.length}`];
      const rule = { id: `r${n}`, when: { press: 'Go' }, go: { place: `p${to % kinds.length}` } };
      place.rules.push(place.kind === 'level' && result ? { ...rule, result } : rule);
    });
    const levels = [...new Set(listed.map((n) => `p${n % kinds.length}`))].filter((id) => places[id].kind === 'level');
    const rules = shared.map((n, index) => ({ id: `s${index}`, when: { press: 'All' }, go: { place: `p${n % kinds.length}` } }));
    return flowOf({
      start: 'p0',
      places,
      rules,
      ...(levels.length > 0 ? { orders: { main: { name: 'Main', draw: 'fixed', levels } } } : {})
    });
  });

function segments(lane: LaneLayout): { from: Point; to: Point; route: string }[] {
  return lane.routes.flatMap((route) =>
    [...route.feeders.map(({ points }) => points), route.trunk].flatMap((points) =>
      points.slice(1).map((to, index) => ({ from: points[index]!, to, route: route.key }))
    )
  );
}

function checkGeometry(document: FlowDocument): void {
  const lane = layout(document);
  const tiles = [...lane.tiles.values()];
  expect(tiles.map(({ place }) => place).sort()).to.deep.equal(Object.keys(document.places).sort());
  for (const a of tiles) {
    expect(a.x >= 0 && a.y >= 0 && a.x + a.width <= lane.width && a.y + a.height <= lane.height, `${a.place} inside`).to.equal(
      true
    );
    for (const b of tiles) {
      const apart = a === b || a.x + a.width < b.x || b.x + b.width < a.x || a.y + a.height < b.y || b.y + b.height < a.y;
      expect(apart, `${a.place} and ${b.place} apart`).to.equal(true);
    }
  }
  for (const { from, to, route } of segments(lane)) {
    expect(from.x === to.x || from.y === to.y, `${route} runs straight`).to.equal(true);
    const [left, right, top, bottom] = [
      Math.min(from.x, to.x),
      Math.max(from.x, to.x),
      Math.min(from.y, to.y),
      Math.max(from.y, to.y)
    ];
    for (const tile of tiles) {
      const crosses = left < tile.x + tile.width && right > tile.x && top < tile.y + tile.height && bottom > tile.y;
      expect(crosses, `${route} crosses ${tile.place}`).to.equal(false);
    }
  }
}

describe('lane: geometry', () => {
  it('lays out the round with the order of play from left to right', () => {
    const lane = layout(round);
    expect(lane.rows.map(({ kind }) => kind)).to.deep.equal(['endings', 'between', 'levels', 'menus']);
    const levels = round.orders.round!.levels.map((id) => lane.tiles.get(id)!);
    expect(levels.map(({ number }) => number)).to.deep.equal(levels.map((_, n) => n + 1));
    levels.slice(1).forEach((tile, n) => expect(tile.x).to.be.greaterThan(levels[n]!.x));
    expect(lane.stretches.map(({ name }) => name)).to.deep.equal(['Harbour', 'Old town', 'The hill']);
    checkGeometry(round);
  });

  it('never puts tiles on each other nor routes across tiles', () => {
    fc.assert(fc.property(anyDocument, checkGeometry), { numRuns: 150, seed });
  });

  it('joins what goes to one target with one outcome into one trunk', () => {
    const lane = layout(round);
    const wins = lane.routes.filter(({ to, outcome }) => to === 'complete' && outcome === 'won');
    expect(wins).to.have.length(1);
    expect(wins[0]!.feeders).to.have.length(12);
  });

  it('draws a rule of all levels or of a group once', () => {
    const lane = layout(round);
    // one street has a rule of its own besides
    const lost = lane.routes.filter(({ to }) => to === 'overboard');
    expect(lost.flatMap(({ feeders }) => feeders.map(({ from }) => from)).sort()).to.deep.equal(['flow', 'group harbour', 'tar']);
  });

  it('keeps levels and menus where they are, and the rest beside it, when a last level is added', () => {
    const before = layout(round);
    const after = layout(apply(round, addPlace(round, emptyPlace('level', 'Breakwater'), { behind: 'light' }).patch));
    for (const [id, tile] of before.tiles) {
      const { x } = after.tiles.get(id)!;
      if (tile.kind === 'level' || tile.kind === 'menu') expect(x, id).to.equal(tile.x);
      else expect(Math.abs(x - tile.x), id).to.be.at.most(measure.pitch);
    }
  });

  it('has a lane for levels in no order, and rows even in an empty flow', () => {
    const side = layout(apply(round, { ...addPlace(round, emptyPlace('level', 'Cellar')) }.patch));
    expect(side.rows.filter(({ kind }) => kind === 'levels').map(({ name }) => name)).to.deep.equal([
      'Main round',
      'In no order'
    ]);
    const empty = layout(flowOf({ places: {} }));
    expect(empty.rows).to.have.length(4);
    expect(empty.tiles.size).to.equal(0);
  });

  it('lays out 2,000 places', () => {
    const places: Record<string, unknown> = { title: { name: 'Title', kind: 'menu' } };
    for (let n = 0; n < 2000; n++)
      places[`l${n}`] = {
        name: `L${n}`,
        kind: 'level',
        rules: [{ id: `w${n}`, when: { press: 'Win' }, go: { move: 'next' }, result: 'won' }]
      };
    const levels = Object.keys(places).slice(1);
    const lane = layout(flowOf({ places, orders: { main: { name: 'Main', draw: 'fixed', levels } } }));
    expect(lane.routes).to.have.length(1999);
  });
});

describe('lane: moves', () => {
  const ends = (document: FlowDocument) =>
    movesOf(document).map(({ rule, from, to }) => [rule, Object.values(from)[0], 'place' in to ? to.place : to.word]);
  it('follow relative moves to what they resolve to', () => {
    expect(ends(flowOf(threeLamps))).to.deep.equal([
      ['begin', 'title', 'quay'],
      ['lit', 'quay', 'loft'],
      ['lit2', 'loft', 'aglow'],
      ['over', 'splash', 'dark'],
      ['retry', 'splash', 'again'],
      ['home', 'aglow', 'title'],
      ['home2', 'dark', 'title'],
      ['slip', true, 'splash']
    ]);
  });

  it('lead a shared "next" from each level to its neighbour, and the last to the otherwise', () => {
    const document = flowOf({
      ...threeLamps,
      rules: [{ id: 'on', when: { press: 'Next' }, go: { move: 'next', else: { place: 'aglow' } }, result: 'won' }]
    });
    expect(ends(document).filter(([rule]) => rule === 'on')).to.deep.equal([
      ['on', 'quay', 'loft'],
      ['on', 'loft', 'aglow']
    ]);
  });

  it('leave out targets that name nothing', () => {
    const document = flowOf({
      places: {
        title: {
          name: 'T',
          kind: 'menu',
          rules: [
            { id: 'x', when: { press: 'X' }, go: { place: 'gone' } },
            { id: 'y', when: { press: 'Y' }, go: { move: 'back' } }
          ]
        }
      }
    });
    expect(movesOf(document)).to.deep.equal([]);
  });
});

describe('lane: columns and tracks', () => {
  it('gives each the column it wishes when nobody else does', () => {
    expect([
      ...spread([
        { id: 'a', wish: 3 },
        { id: 'b', wish: 0.4 },
        { id: 'c', wish: 7 }
      ])
    ]).to.deep.equal([
      ['b', 0],
      ['a', 3],
      ['c', 7]
    ]);
  });

  it('spreads a crowd around what it wishes, none twice', () => {
    const columns = spread(['a', 'b', 'c'].map((id) => ({ id, wish: 5 })));
    expect([...columns.values()]).to.deep.equal([4, 5, 6]);
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 20, noNaN: true }), { maxLength: 30 }), (wishes) => {
        const found = [...spread(wishes.map((wish, n) => ({ id: `p${n}`, wish }))).values()];
        expect(new Set(found).size).to.equal(wishes.length);
        expect(found.every((column) => column >= 0)).to.equal(true);
      })
    );
  });

  it('never puts two spans that meet on one track', () => {
    const span = fc.tuple(fc.nat(50), fc.nat(20));
    fc.assert(
      fc.property(fc.array(span, { maxLength: 30 }), (list) => {
        const spans = list.map(([from, length], n) => ({ key: `s${n}`, from, to: from + length }));
        const found = tracks(spans);
        for (const a of spans)
          for (const b of spans)
            if (a !== b && found.get(a.key) === found.get(b.key)) expect(a.to < b.from || b.to < a.from).to.equal(true);
      })
    );
  });
});

describe('a flow without levels', () => {
  it('has no way to a lane, whatever its rules say', () => {
    const rules = [
      { id: 'on', when: { press: 'On' }, go: { move: 'next', else: { place: 'end' } } },
      { id: 'again', when: { press: 'Again' }, go: { move: 'again' } },
      { id: 'load', when: { press: 'Load' }, go: { move: 'load' } }
    ];
    const end = { name: 'End', kind: 'ending', outcome: 'won', rules: [] };
    const lane = layout(flowOf({ places: { title: { name: 'Title', kind: 'menu', rules }, end } }));
    expect(lane.routes.map(({ to }) => to)).to.deep.equal(['end']);
  });
});

describe('a rule of a group', () => {
  it('leads to the neighbour of its first level as to any other', () => {
    const level = (name: string) => ({ name, kind: 'level', group: 'old', rules: [] });
    const document = flowOf({
      start: 'one',
      groups: { old: { name: 'Old town', rules: [{ id: 'skip', when: { press: 'Skip' }, go: { place: 'two' } }] } },
      orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two'] } },
      places: { one: level('One'), two: level('Two') }
    });
    const [route] = layout(document).routes;
    expect(route!.feeders.map(({ from }) => from)).to.deep.equal(['group old']);
    expect(route!.end.way).not.to.equal('right');
  });
});

describe('the words at the ends of routes', () => {
  const boxes = (document: FlowDocument) =>
    labelsOf(layout(document).routes).map(({ words, x, y, anchor }) => {
      const wide = words.length * 5.6;
      const left = anchor === 'start' ? x : x - wide;
      return { words, left, right: left + wide, y };
    });

  it('stand on no other word', () => {
    for (const name of ['lamplighters-round', 'night-market', 'lamplighters-round-with-faults']) {
      const document = demo(name);
      const placed = boxes(document);
      expect(placed.length, name).to.equal(layout(document).routes.filter(({ word }) => word).length);
      expect(placed.length, name).to.be.greaterThan(2);
      for (const [at, one] of placed.entries())
        for (const other of placed.slice(at + 1))
          expect(
            one.y !== other.y || one.right <= other.left || other.right <= one.left,
            `${name}: ${one.words} and ${other.words}`
          ).to.equal(true);
    }
  });

  it('change the side where a line goes through them', () => {
    const end = { x: 100, y: 50, way: 'down' as const };
    const base = { to: undefined, outcome: 'plain' as const, over: false, trunk: [], end, word: 'again' as const };
    const way = [{ x: 100, y: 0 }, end];
    const route = { ...base, key: 'a', feeders: [{ from: 'p', rules: ['r'], points: way }] };
    expect(labelsOf([route])).to.deep.equal([{ key: 'a', words: 'again', x: 104, y: 46, anchor: 'start' }]);
    const through = [
      { x: 115, y: 0 },
      { x: 115, y: 80 }
    ];
    const other = { ...base, word: undefined, key: 'b', feeders: [{ from: 'q', rules: ['s'], points: through }] };
    expect(labelsOf([route, other])[0]).to.include({ x: 96, anchor: 'end' });
  });
});
