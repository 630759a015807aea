import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { copyPlaces, duplicatePlace, pastePlaces } from '../src/document/edits/copies.ts';
import {
  accept,
  addEntry,
  addGroup,
  addOrder,
  addSignal,
  changeEntry,
  removeEntry,
  removeListed,
  renameListed,
  setDraw,
  setExpects,
  setListed,
  unaccept
} from '../src/document/edits/lists.ts';
import { hidingRules } from '../src/check/rule-checks.ts';
import { prepare } from '../src/play/flow.ts';
import { alikeRules, giveRule } from '../src/document/edits/share.ts';
import { setPlaceField } from '../src/document/edits/places.ts';
import { apply, type Change } from '../src/document/patch.ts';
import { validate } from '../src/document/read.ts';
import { findRule, type FlowDocument, type Level } from '../src/document/types.ts';
import { flowOf, threeLamps } from './support/flows.ts';

const document = flowOf(threeLamps);
const level = (value: FlowDocument, id: string) => value.places[id] as Level;

/** Applies a change; its shape must be right and its inverse give back the very same text. */
function made(before: FlowDocument, { patch, inverse }: Change): FlowDocument {
  const after = apply(before, patch);
  expect(validate(after).errors).to.equal(undefined);
  expect(JSON.stringify(apply(after, inverse))).to.equal(JSON.stringify(before));
  return after;
}

describe('edits of lists', () => {
  it('add, change and delete entries', () => {
    const added = addEntry(document, 'quay', { name: 'Ferry steps' });
    const after = made(document, added);
    expect(level(after, 'quay').entries).to.deep.equal({ ferry_steps: { name: 'Ferry steps' } });
    const facing = made(after, changeEntry(after, 'quay', 'ferry_steps', { facing: 'left' }));
    expect(level(facing, 'quay').entries.ferry_steps).to.deep.equal({ name: 'Ferry steps', facing: 'left' });
    const back = made(facing, changeEntry(facing, 'quay', 'ferry_steps', { facing: undefined }));
    expect(level(back, 'quay').entries.ferry_steps).to.deep.equal({ name: 'Ferry steps' });
    expect(level(made(back, removeEntry(back, 'quay', 'ferry_steps')), 'quay').entries).to.deep.equal({});
  });

  it('add, rename and delete signals and groups; the levels of a deleted group are in none', () => {
    const bell = addSignal(document, 'Bell');
    const rung = made(document, bell);
    expect(made(rung, renameListed(rung, 'signals', bell.id, 'Horn')).signals).to.deep.equal({ bell: { name: 'Horn' } });
    expect(made(rung, removeListed(rung, 'signals', bell.id)).signals).to.deep.equal({});
    const harbour = addGroup(document, 'Harbour');
    const grouped = made(document, harbour);
    const inside = made(grouped, setPlaceField(grouped, 'quay', 'group', harbour.id));
    const without = made(inside, removeListed(inside, 'groups', harbour.id));
    expect(level(without, 'quay')).to.not.have.property('group');
  });

  it('say how an order is played, and which levels are in it', () => {
    const table = made(document, setDraw(document, 'main', 'table'));
    expect(table.orders.main).to.deep.equal({ name: 'Round', draw: 'table', levels: ['quay', 'loft'], rows: [['quay', 'loft']] });
    expect(made(table, setDraw(table, 'main', 'bag')).orders.main).to.deep.equal({
      name: 'Round',
      draw: 'bag',
      levels: ['quay', 'loft']
    });
    const out = made(document, setListed(document, 'main', 'quay', false));
    expect(out.orders.main!.levels).to.deep.equal(['loft']);
    expect(made(out, setListed(out, 'main', 'quay', true)).orders.main!.levels).to.deep.equal(['loft', 'quay']);
    expect(setListed(out, 'main', 'loft', false).patch, 'the last level stays').to.deep.equal([]);
    expect(setListed(document, 'main', 'loft', true).patch, 'it is there already').to.deep.equal([]);
    const second = addOrder(document, 'Night', 'loft');
    expect(made(document, second).orders.night).to.deep.equal({ name: 'Night', draw: 'fixed', levels: ['loft'] });
  });

  it('expect something of a place, and the check says whether it holds', () => {
    const after = made(document, setExpects(document, 'quay', ['lives > 0', 'lives > 1']));
    const said = check(after).checks.filter(({ check: name }) => name === 'expectation');
    expect(said.map(({ outcome }) => outcome)).to.deep.equal(['fails', 'fails']);
  });

  it('accept a finding with a reason, change the reason, and take it back', () => {
    const accepted = made(document, accept(document, 'fresh-start', 'begin', 'It is meant.'));
    expect(check(accepted).checks.find(({ check: name }) => name === 'fresh-start')!.accepted).to.equal('It is meant.');
    const again = made(accepted, accept(accepted, 'fresh-start', 'begin', 'Really.'));
    expect(again.accepted).to.deep.equal([{ check: 'fresh-start', subject: 'begin', reason: 'Really.' }]);
    expect(made(again, unaccept(again, 0)).accepted).to.deep.equal([]);
  });

  it('give a rule to all levels, and back', () => {
    const shared = made(document, giveRule(document, 'lit', { flow: true }));
    expect(findRule(shared, 'lit')!.owner).to.deep.equal({ flow: true });
    const back = made(shared, giveRule(shared, 'lit', { place: 'quay' }));
    expect(findRule(back, 'lit')!.owner).to.deep.equal({ place: 'quay' });
  });

  it('give a rule to all levels in place of those like it, and know those that hide it', () => {
    const rule = (id: string, more: object = {}) => ({ id, when: { touch: 'gate' }, go: { move: 'next' as const }, ...more });
    const level = (...rules: object[]) => ({ name: 'L', kind: 'level', pieces: { gate: { name: 'Gate', kind: 'exit' } }, rules });
    const flow = flowOf({
      groups: { g: { name: 'G', rules: [rule('grouped', { note: 'said otherwise' })] } },
      places: {
        title: { name: 'Title', kind: 'menu', rules: [] },
        a: level(rule('mine')),
        b: level(rule('twin')),
        c: level(rule('elsewhere', { go: { place: 'title' } })),
        d: level(rule('asked', { if: 'true', go: { place: 'title' } }), rule('stays', { go: undefined }))
      }
    });
    const mine = findRule(flow, 'mine')!.rule;
    expect(alikeRules(flow, mine, { flow: true })).to.deep.equal(['twin', 'grouped']);
    expect(alikeRules(flow, mine, { group: 'g' })).to.deep.equal([]);
    expect(alikeRules(flow, mine, { place: 'a' })).to.deep.equal([]);
    const shared = made(flow, giveRule(flow, 'mine', { flow: true }, ['twin', 'grouped']));
    expect(shared.rules.map(({ id }) => id)).to.deep.equal(['mine']);
    const hiding = hidingRules(prepare(shared))
      .get('mine')!
      .flatMap(({ by }) => by?.id ?? []);
    expect(hiding).to.deep.equal(['elsewhere']);
    expect([...Object.values(shared.places), ...Object.values(shared.groups)].flatMap(({ rules }) => rules)).to.have.length(3);
  });
});

describe('copies', () => {
  it('stand beside the original and are independent of it', () => {
    const copy = duplicatePlace(document, 'quay');
    const after = made(document, copy);
    expect(copy.label).to.equal('Duplicate Quay Street');
    expect(copy.ids).to.deep.equal(['quay_2']);
    expect(after.orders.main!.levels).to.deep.equal(['quay', 'quay_2', 'loft']);
    const [theirs, ours] = [level(after, 'quay'), level(after, 'quay_2')];
    expect(ours.name).to.equal('Quay Street 2');
    expect(ours.rules[0]!.id).to.not.equal(theirs.rules[0]!.id);
    expect({ ...ours.rules[0]!, id: '' }).to.deep.equal({ ...theirs.rules[0]!, id: '' });
    expect(
      check(after).checks.filter(({ check: name, outcome }) => name === 'level-completable' && outcome === 'holds')
    ).to.have.length(3);
  });

  it('lead to each other where the originals do', () => {
    const copy = pastePlaces(document, copyPlaces(document, ['splash', 'dark']));
    const after = made(document, copy);
    expect(copy.missing).to.deep.equal([]);
    expect(after.places.splash_2!.rules[0]!.go).to.deep.equal({ place: 'dark_2' });
    expect(after.places.dark_2!.rules[0]!.go).to.deep.equal({ place: 'title' });
  });

  it('bring the values they read to another flow, and what is not there is listed', () => {
    const other = flowOf({ places: { home: { name: 'Home', kind: 'menu' } }, start: 'home' });
    const copy = pastePlaces(other, copyPlaces(document, ['splash', 'quay']));
    const after = made(other, copy);
    expect(Object.keys(after.variables)).to.deep.equal(['lives']);
    expect(copy.missing).to.have.members(['dark', 'aglow']);
    expect(after.orders).to.deep.equal({});
  });
});
