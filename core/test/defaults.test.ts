/** What an edit takes for granted where nothing more is said. */
import { expect } from 'chai';
import { addLevels, joinGroupAround, nextName } from '../src/document/edits/levels.ts';
import { changeKind } from '../src/document/edits/kinds.ts';
import { setDraw, setListed } from '../src/document/edits/lists.ts';
import { likelyPieceKind } from '../src/document/edits/parts.ts';
import { freeControl, wireRule } from '../src/document/edits/rules.ts';
import { apply, type Change } from '../src/document/patch.ts';
import { validate } from '../src/document/read.ts';
import type { FlowDocument, Level, TableOrder } from '../src/document/types.ts';
import { fit } from '../src/play/fit.ts';
import { write } from '../src/document/write.ts';
import { flowOf, threeLamps } from './support/flows.ts';

const flow = flowOf(threeLamps);
/** The document after an edit: it has to be one, and its inverse has to lead back. */
function after(document: FlowDocument, { patch, inverse }: Change): FlowDocument {
  const made = apply(document, patch);
  expect(validate(JSON.parse(write(made))).errors, 'errors after the edit').to.equal(undefined);
  expect(write(apply(made, inverse))).to.equal(write(document));
  return made;
}
const sharing = flowOf({
  ...threeLamps,
  rules: [
    ...threeLamps.rules,
    { id: 'reach', when: { touch: 'flag' }, if: 'left(lamp) = 0', go: { move: 'next', else: { place: 'aglow' } }, result: 'won' }
  ],
  places: {
    ...threeLamps.places,
    quay: {
      ...threeLamps.places.quay,
      rules: [],
      pieces: { ...threeLamps.places.quay.pieces, flag: { name: 'Flag', kind: 'exit' } }
    }
  }
});

describe('defaults', () => {
  it('leave winning to the rule that levels share: new levels get its pieces and no rule of their own', () => {
    const { ids, ...change } = addLevels(sharing, 'main', 2, 'Street {n}');
    const made = after(sharing, change);
    for (const id of ids) {
      expect(made.places[id]!.rules).to.deep.equal([]);
      expect((made.places[id] as Level).pieces).to.deep.equal({
        flag: { name: 'Flag', kind: 'exit' },
        lamp: (sharing.places.loft as Level).pieces.lamp
      });
    }
    expect(fit(made).misfits).to.deep.equal(fit(sharing).misfits);
    // without such a rule each has its own
    const own = addLevels(flow, 'main', 1, 'Street {n}');
    expect(after(flow, own).places[own.ids[0]!]!.rules.map(({ result }) => result)).to.deep.equal(['won']);
  });

  it('do not take a pull for the win where a shared rule wins already', () => {
    expect(wireRule(sharing, 'quay', 'aglow').result).to.equal(undefined);
    expect(wireRule({ ...sharing, rules: [] }, 'quay', 'aglow').result).to.equal('won');
    // the shared rule speaks of a flag that is not there
    const { flag: _flag, ...pieces } = (sharing.places.quay as Level).pieces;
    const bare = { ...sharing, places: { ...sharing.places, quay: { ...sharing.places.quay, pieces } as Level } };
    expect(wireRule(bare, 'quay', 'aglow').result).to.equal('won');
  });

  it('name a new control after none that there is', () => {
    expect(freeControl(flow)).to.equal('Pause');
    const pausing = flowOf({
      ...threeLamps,
      rules: [
        { id: 'pause', when: { press: 'Pause' } },
        { id: 'other', when: { press: 'Control 1' } }
      ]
    });
    expect(freeControl(pausing)).to.equal('Control 2');
  });

  it('name the next level as the others are, and let it join the group that it stands in the middle of', () => {
    const { ids, ...change } = addLevels(flowOf({ ...threeLamps, orders: {} }), undefined, 3, 'Street {n}');
    const streets = after(flowOf({ ...threeLamps, orders: {} }), change);
    const [order] = Object.keys(streets.orders) as [string];
    expect(nextName(streets, order)).to.equal('Street 4');
    expect(nextName(flow, 'main')).to.equal(undefined);
    const grouped = flowOf({
      ...JSON.parse(write(streets)),
      groups: { old: { name: 'Old town' } },
      places: Object.fromEntries(
        Object.entries(streets.places).map(([id, place]) => [
          id,
          id === ids[0] || id === ids[2] ? { ...place, group: 'old' } : place
        ])
      )
    });
    expect((after(grouped, joinGroupAround(grouped, ids[1]!)).places[ids[1]!] as Level).group).to.equal('old');
    expect(joinGroupAround(grouped, ids[2]!).patch).to.deep.equal([]);
  });

  it('guess the kind of a piece: as elsewhere, as rules use it, as it is called', () => {
    const using = flowOf({ ...threeLamps, rules: [...threeLamps.rules, { id: 'hit', when: { defeat: 'moth' } }] });
    const guessed = ['harbour water', 'Moth', 'Old door', 'Spikes', 'Guard', 'Lever', 'Shrine', 'Hero', 'Coin'];
    expect(guessed.map((name) => likelyPieceKind(using, name))).to.deep.equal([
      'hazard',
      'foe',
      'exit',
      'hazard',
      'foe',
      'switch',
      'checkpoint',
      'player',
      'pickup'
    ]);
  });

  it('shuffle a new level into every row instead of putting it last in all', () => {
    let table = after(flow, setDraw(flow, 'main', 'table'));
    const rows = Array.from({ length: 12 }, () => ['quay', 'loft']);
    table = flowOf({ ...JSON.parse(write(table)), orders: { main: { ...table.orders.main, rows } } });
    const { ids, ...change } = addLevels(table, undefined, 1, 'Pier');
    const made = after(table, change);
    const listed = after(made, setListed(made, 'main', ids[0]!, true)).orders.main as TableOrder;
    const places = listed.rows.map((row) => row.indexOf(ids[0]!));
    expect(new Set(places)).to.deep.equal(new Set([0, 1, 2]));
    expect(listed.rows.every((row) => row.length === 3 && row.indexOf('quay') < row.indexOf('loft'))).to.equal(true);
  });
});

describe('the kind of a place', () => {
  const flowWithTargets = flowOf({
    ...threeLamps,
    places: {
      ...threeLamps.places,
      quay: { ...threeLamps.places.quay, entries: { gate: { name: 'Gate' } } },
      map: {
        name: 'Map',
        kind: 'menu',
        message: 'Where to?',
        tags: ['new'],
        rules: [
          { id: 'm1', when: { press: 'Quay' }, go: { place: 'quay', entry: 'gate' } },
          { id: 'm2', when: { press: 'Title' }, go: { place: 'title', over: true } }
        ]
      }
    }
  });

  it('is changed in place: what the new kind has not goes, names and rules stay', () => {
    const menu = after(flowWithTargets, changeKind(flowWithTargets, 'quay', 'menu'));
    expect(menu.places.quay).to.deep.equal({
      name: 'Quay Street',
      kind: 'menu',
      rules: threeLamps.places.quay.rules.map(({ result: _result, ...rule }) => rule),
      expects: []
    });
    expect(menu.orders.main!.levels).to.deep.equal(['loft']);
    expect(menu.places.map!.rules[0]!.go).to.deep.equal({ place: 'quay' });
    const level = after(flowWithTargets, changeKind(flowWithTargets, 'title', 'level'));
    expect(level.orders.main!.levels).to.deep.equal(['quay', 'loft', 'title']);
    expect(level.places.map!.rules[1]!.go).to.deep.equal({ place: 'title' });
    expect(level.places.map!.rules[0]!.go).to.deep.equal({ place: 'quay', entry: 'gate' });
  });

  it('can become any other and back, with its texts', () => {
    for (const kind of ['level', 'interlude', 'ending'] as const) {
      const made = after(flowWithTargets, changeKind(flowWithTargets, 'map', kind));
      expect(made.places.map).to.include({ kind, message: 'Where to?' });
      expect(made.places.map!.tags).to.deep.equal(['new']);
      const back = after(made, changeKind(made, 'map', 'menu'));
      expect(back.places.map).to.deep.equal(flowWithTargets.places.map);
    }
    expect(changeKind(flow, 'quay', 'level').patch).to.deep.equal([]);
  });
});
