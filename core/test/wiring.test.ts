/** What is wired from a place without saying more, and what many levels at once become. */
import { expect } from 'chai';
import { addLevels } from '../src/document/edits/levels.ts';
import { likelyKind } from '../src/document/edits/places.ts';
import { wireMove, wireRule } from '../src/document/edits/rules.ts';
import { apply } from '../src/document/patch.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { readCsv } from '../src/formats/levels-csv.ts';
import { flowOf } from './support/flows.ts';

const press = (id: string, label: string, go: object) => ({ id, when: { press: label }, go });
const flow = flowOf({
  orders: { main: { name: 'Main', draw: 'fixed', levels: ['one'] } },
  places: {
    title: { name: 'Title', kind: 'menu', rules: [press('begin', 'Begin', { move: 'first' })] },
    one: { name: 'One', kind: 'level', pieces: { lamp: { name: 'Lamp', kind: 'pickup' } }, rules: [] },
    splash: { name: 'Splash', kind: 'interlude', rules: [] },
    over: { name: 'Game over', kind: 'interlude', rules: [press('again', 'Again', { move: 'again' })] },
    end: { name: 'The end', kind: 'ending', outcome: 'won', rules: [] }
  }
});

describe('a move wired from a place', () => {
  it('wins a level that nothing wins yet, and says where to go after the last', () => {
    expect(wireMove(flow, 'one', 'next')).to.deep.equal({
      when: { holds: 'left(lamp) = 0' },
      go: { move: 'next', else: { place: 'end' } },
      result: 'won'
    });
  });

  it('is a button by its usual name, or happens by itself where there are no buttons', () => {
    expect(wireMove(flow, 'title', 'resume')).to.deep.equal({ when: { press: 'Continue' }, go: { move: 'resume' } });
    expect(wireMove(flow, 'one', 'again')).to.deep.equal({ when: { press: 'Start again' }, go: { move: 'again' } });
    expect(wireMove(flow, 'splash', 'first')).to.deep.equal({ when: { after: 2 }, go: { move: 'first' } });
    expect(wireMove(flow, 'over', 'back')).to.deep.equal({ when: { press: 'Back' }, go: { move: 'back' } });
  });

  it('wins nothing in a room that is left', () => {
    const hub = structuredClone(flow);
    (hub.places.one as { goal?: string }).goal = 'leave';
    expect(wireRule(hub, 'one', 'end')).to.deep.equal({ when: { press: 'The end' }, go: { place: 'end' } });
    expect(wireMove(hub, 'one', 'next')).to.not.have.property('result');
  });

  it('makes another button where there are some, never a time beside them', () => {
    expect(wireRule(flow, 'over', 'title')).to.deep.equal({ when: { press: 'Title' }, go: { place: 'title' } });
    expect(wireRule(flow, 'splash', 'title')).to.deep.equal({ when: { after: 2 }, go: { place: 'title' } });
  });
});

describe('the kind of a new place', () => {
  it('follows from its name, else from where it is reached', () => {
    const kinds = ['Pause menu', 'Game over', 'The end', 'Cellar'].map((name) => likelyKind(flow, name, 'one'));
    expect(kinds).to.deep.equal(['menu', 'interlude', 'ending', 'interlude']);
    expect(likelyKind(flow, 'Cellar', 'title')).to.equal('level');
  });
});

describe('many levels in a flow without an order', () => {
  const empty = flowOf({ places: { title: { name: 'Title', kind: 'menu', rules: [] } } });
  const orders = ({ orders: all }: FlowDocument) => Object.values(all).map(({ levels }) => levels.length);

  it('all belong to the order that the first one begins', () => {
    expect(orders(apply(empty, addLevels(empty, undefined, 30, 'Level {n}').patch))).to.deep.equal([30]);
  });

  it('likewise as copies of a level in no order', () => {
    const one = flowOf({
      places: {
        title: { name: 'Title', kind: 'menu', rules: [] },
        model: { name: 'Model', kind: 'level', pieces: {}, rules: [] }
      }
    });
    const made = apply(one, addLevels(one, undefined, 3, 'Copy {n}', 'model').patch);
    expect(orders(made).reduce((sum, each) => sum + each, 0)).to.be.oneOf([0, 3]);
  });

  it('likewise from a file', () => {
    const read = readCsv(empty, 'Name\r\nOne\r\nTwo\r\nThree\r\n', undefined);
    if ('error' in read) throw new Error(read.error);
    const { orders: made, places } = apply(empty, read.change.patch);
    expect(Object.values(made)[0]!.levels.map((id) => places[id]!.name)).to.deep.equal(['One', 'Two', 'Three']);
  });
});
