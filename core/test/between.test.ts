import { expect } from 'chai';
import fc from 'fast-check';
import { insertPlace } from '../src/document/edits/between.ts';
import { addPlace, emptyPlace, moveLevel } from '../src/document/edits/places.ts';
import { addRule } from '../src/document/edits/rules.ts';
import { apply, together } from '../src/document/patch.ts';
import { findRule, type FlowDocument } from '../src/document/types.ts';
import { layout } from '../src/lane/layout.ts';
import { movesOf } from '../src/lane/moves.ts';
import { check } from '../src/check/check.ts';
import { readBefore, rulesReadIn } from '../src/play/reading.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';
import { seed } from './support/compare.ts';

const round = demo('lamplighters-round');
const flow = flowOf(threeLamps);

/** A flow with one more place in the way of some rules. */
function withPlace(document: FlowDocument, kind: 'interlude' | 'menu' | 'level', rules: string[], to: string | undefined) {
  const added = addPlace(document, emptyPlace(kind, 'Shop'));
  const now = apply(document, added.patch);
  const put = insertPlace(now, rules, to, added.id);
  return { now, put, after: apply(now, put.patch), id: added.id };
}

/** Two rooms and a cellar, each a level that is left by its doors. */
const rooms = () => {
  const level = (name: string, rules: object[]) => ({ name, kind: 'level', goal: 'leave', rules });
  return flowOf({
    start: 'hall',
    places: {
      hall: level('Hall', [
        { id: 'in', when: { press: 'In' }, go: { place: 'room' } },
        { id: 'down', when: { press: 'Down' }, go: { place: 'cellar' } }
      ]),
      room: level('Room', [{ id: 'out', when: { press: 'Out' }, go: { place: 'hall' } }]),
      cellar: { ...level('Cellar', []), pieces: { hatch: { name: 'Hatch', kind: 'exit' } } }
    }
  });
};

describe('a place put into a way', () => {
  it('stands between a relative move and what it leads to', async () => {
    const { after, now, put, id } = withPlace(flow, 'interlude', ['lit'], 'loft');
    expect(findRule(after, 'lit')!.rule).to.deep.include({ go: { place: id }, result: 'won' });
    expect(after.places[id]!.rules.map(({ when, go }) => ({ when, go }))).to.deep.equal([
      { when: { after: 2 }, go: { move: 'next', else: { place: 'aglow' } } }
    ]);
    const { checks } = await check(after);
    const failing = checks.filter(({ outcome, severity }) => outcome === 'fails' && severity === 'error');
    expect(failing).to.deep.equal([]);
    expect(apply(after, put.inverse)).to.deep.equal(now);
  });

  it('takes only the otherwise where that is what leads there', () => {
    const { after, id } = withPlace(flow, 'interlude', ['lit2'], 'aglow');
    expect(findRule(after, 'lit2')!.rule.go).to.deep.equal({ move: 'next', else: { place: id } });
    expect(after.places[id]!.rules[0]!.go).to.deep.equal({ place: 'aglow' });
  });

  it('serves all rules of a trunk and leads on once', () => {
    const { after, id } = withPlace(flow, 'menu', ['home', 'home2'], 'title');
    for (const rule of ['home', 'home2']) expect(findRule(after, rule)!.rule.go).to.deep.equal({ place: id });
    expect(after.places[id]!.rules.map(({ go }) => go)).to.deep.equal([{ place: 'title' }]);
    const again = insertPlace(after, ['over'], 'title', id);
    expect(apply(after, again.patch).places[id]!.rules).to.have.length(1);
  });

  it('leaves everything as it is where no rule leads on', () => {
    expect(insertPlace(flow, ['gone'], 'title', 'splash').patch).to.deep.equal([]);
  });
});

describe('doors', () => {
  it('are drawn as one route with two ends, and a door with one side as it is', () => {
    const { routes } = layout(rooms());
    const door = routes.find(({ back }) => back)!;
    expect(door.back!.rules.length + door.feeders[0]!.rules.length).to.equal(2);
    expect(routes.filter(({ feeders, to }) => [to, feeders[0]!.from].includes('room'))).to.have.length(1);
    expect(routes.filter(({ to }) => to === 'cellar').map(({ back }) => back)).to.deep.equal([undefined]);
  });
});

describe('relative moves from screens', () => {
  it('say the levels they may lead to', () => {
    const ends = (document: FlowDocument, id: string) =>
      movesOf(document).flatMap(({ rule, to }) => (rule === id ? ['place' in to ? to.place : to.levels] : []));
    expect(ends(flow, 'retry')).to.deep.equal([['quay', 'loft']]);
    const { after, id } = withPlace(flow, 'interlude', ['lit', 'lit2'], 'loft');
    const [on] = after.places[id]!.rules;
    // from quay there is loft, from loft nothing but the otherwise
    expect(ends(after, on!.id)).to.deep.equal(['loft', 'aglow']);
    const orders = { main: { name: 'R', draw: 'bag', levels: ['quay', 'loft'] } };
    expect(ends(flowOf({ ...threeLamps, orders }), 'begin')).to.deep.equal([['quay', 'loft']]);
    const rows = [['loft', 'quay'], ['quay']];
    const table = flowOf({ ...threeLamps, orders: { main: { name: 'R', draw: 'table', levels: ['quay', 'loft'], rows } } });
    expect(ends(table, 'begin')).to.deep.equal([['quay', 'loft']]);
    expect(ends(table, 'lit')).to.deep.equal(['aglow']);
  });
});

describe('lane: stability', () => {
  it('moving a level along its order shifts no place of another row by more than it must', () => {
    const levels = round.orders.round!.levels;
    fc.assert(
      fc.property(fc.nat(levels.length - 1), fc.nat(levels.length - 1), (from, to) => {
        const before = layout(round);
        const after = layout(apply(round, moveLevel(round, 'round', levels[from]!, to).patch));
        for (const [id, tile] of before.tiles) {
          const now = after.tiles.get(id)!;
          expect(now.row, id).to.equal(tile.row);
          if (tile.kind === 'menu') expect(now.column, id).to.equal(tile.column);
          if (tile.kind === 'level') {
            const [low, high] = [Math.min(from, to), Math.max(from, to)];
            const at = levels.indexOf(id);
            // those outside the part that was moved over stay, those inside make room by one
            if (at < low || at > high) expect(now.column, id).to.equal(tile.column);
            else if (at !== from) expect(Math.abs(now.column - tile.column), id).to.equal(from === to ? 0 : 1);
          }
        }
      }),
      { numRuns: 60, seed }
    );
  });

  it('a rule more between two places leaves every level and menu where it is', () => {
    const before = layout(round);
    const made = together(round, 'Two', () =>
      addRule(round, { place: 'quay' }, { when: { press: 'Leap' }, go: { place: 'light' } })
    );
    const after = layout(apply(round, made.patch));
    for (const [id, tile] of before.tiles)
      if (tile.kind === 'level' || tile.kind === 'menu') expect(after.tiles.get(id)!.x, id).to.equal(tile.x);
  });
});

describe('the rules read in a place', () => {
  it('are its own, its group’s and the flow’s, without those about pieces it lacks', () => {
    expect(rulesReadIn(flow, 'quay').map(({ rule, shared }) => [rule.id, shared])).to.deep.equal([
      ['lit', false],
      ['slip', true]
    ]);
    expect(rulesReadIn(flow, 'loft').map(({ rule }) => rule.id)).to.deep.equal(['lit2']);
    expect(rulesReadIn(flow, 'splash').map(({ rule }) => rule.id)).to.deep.equal(['over', 'retry']);
    const named = flowOf({
      ...threeLamps,
      rules: [{ id: 'low', when: { press: 'X' }, if: 'left(water) = 1 and left(lamp) > 0', go: { place: 'splash' } }]
    });
    expect(rulesReadIn(named, 'loft').map(({ rule }) => rule.id)).to.deep.equal(['lit2']);
  });

  it('stand before the next on the same trigger', () => {
    const rules = [
      { id: 'a', when: { press: 'X' } },
      { id: 'b', when: { press: 'Y' } },
      { id: 'c', when: { press: 'X' } },
      { id: 'd', when: { arrive: true as const } },
      { id: 'e', when: { arrive: true as const } }
    ];
    expect(rules.map((_, index) => readBefore(rules, index)?.id)).to.deep.equal([
      'c',
      undefined,
      undefined,
      undefined,
      undefined
    ]);
  });
});
