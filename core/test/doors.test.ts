/** Doors as one thing: read from the rules of two levels, made, named and deleted together, and judged one by one. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { doorsOf } from '../src/document/doors.ts';
import {
  addDoor,
  addOtherSide,
  arriveAtDoor,
  doorName,
  removeDoor,
  renameExit,
  type NewDoor
} from '../src/document/edits/doors.ts';
import { apply, type Change } from '../src/document/patch.ts';
import type { FlowDocument, Id, Level } from '../src/document/types.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { demo, flowOf } from './support/flows.ts';

const exit = (name: string) => ({ name, kind: 'exit' });
const room = (name: string, rules: object[] = [], more: object = {}) => ({ name, kind: 'level', goal: 'leave', rules, ...more });
const through = (id: string, piece: string, place: string, entry?: string) => ({
  id,
  when: { touch: piece },
  go: { place, ...(entry && { entry }) }
});

/** Three rooms without a door, begun in the first. */
const rooms = (more: Record<string, object> = {}) =>
  flowOf({
    start: 'title',
    places: {
      title: { name: 'Title', kind: 'menu', rules: [{ id: 'in', when: { press: 'In' }, go: { place: 'one' } }] },
      one: room('One'),
      two: room('Two'),
      three: room('Three'),
      ...more
    }
  });
const level = (document: FlowDocument, id: Id) => document.places[id] as Level;
const done = (document: FlowDocument, change: Change) => {
  const after = apply(document, change.patch);
  expect(apply(after, change.inverse)).to.deep.equal(document);
  return after;
};
const withDoor = (document: FlowDocument, door: Partial<NewDoor> = {}) => {
  const made = addDoor(document, { from: 'one', to: 'two', here: 'To Two', there: 'To One', ...door });
  return { after: done(document, made), id: made.id };
};
const told = (document: FlowDocument, subject: Id) =>
  check(document).checks.find((each) => each.check === 'way-back' && each.subject === subject)!;

describe('a door', () => {
  it('is made with an exit, an entry, a facing and a look on both sides, each leading to the other', () => {
    const by = { style: 'fade', out: 0.5, in: 0.5 } as const;
    const { after } = withDoor(rooms(), { facingHere: 'left', facingThere: 'right', by });
    const [one, two] = [level(after, 'one'), level(after, 'two')];
    expect(Object.values(one.pieces)).to.deep.equal([exit('To Two')]);
    expect(Object.values(two.pieces)).to.deep.equal([exit('To One')]);
    // who comes from the title still arrives where the level begins
    expect(Object.values(one.entries)).to.deep.equal([{ name: 'Start' }, { name: 'To Two', facing: 'left' }]);
    expect(Object.values(two.entries)).to.deep.equal([{ name: 'To One', facing: 'right' }]);
    const [door] = doorsOf(after, 'one');
    expect(door!.side).to.deep.include({ exit: 'to_two', to: 'two', entry: 'to_one', through: [] });
    expect(door!.other).to.deep.include({ exit: 'to_one', to: 'one', entry: 'to_two' });
    expect([door!.side.rule.by, door!.other!.rule.by]).to.deep.equal([by, by]);
    for (const id of ['one', 'two']) expect(told(after, id).outcome).to.equal('holds');
  });

  it('uses the exit and the entry of its name that nothing has yet', () => {
    const document = rooms({ two: room('Two', [], { pieces: { hatch: exit('Hatch') }, entries: { h: { name: 'hatch' } } }) });
    const { after } = withDoor(document, { there: 'Hatch' });
    expect(Object.keys(level(after, 'two').pieces)).to.deep.equal(['hatch']);
    expect(Object.keys(level(after, 'two').entries)).to.deep.equal(['h']);
  });

  it('is renamed with the entry where it stands, and stays the same door', () => {
    const { after } = withDoor(withDoor(rooms()).after, { here: 'Gate', there: 'Gate' });
    const renamed = done(after, renameExit(after, 'one', 'gate', 'Iron gate'));
    expect(level(renamed, 'one').entries.gate!.name).to.equal('Iron gate');
    expect(doorsOf(renamed, 'one').map(({ other }) => other!.exit)).to.deep.equal(['to_one', 'gate']);
  });

  it('is deleted with both its sides, or on one of them, and what others use stays', () => {
    const before = rooms();
    const { after, id } = withDoor(before);
    const gone = done(after, removeDoor(after, id));
    for (const each of ['one', 'two']) expect(level(gone, each)).to.deep.include({ pieces: {}, rules: [] });
    expect(Object.values(level(gone, 'one').entries)).to.deep.equal([{ name: 'Start' }]);
    const oneWay = done(after, removeDoor(after, doorsOf(after, 'one')[0]!.other!.rule.id, 'this side'));
    expect(doorsOf(oneWay, 'one')).to.have.length(1);
    expect(level(oneWay, 'two').pieces).to.deep.equal({});
    expect(told(oneWay, 'one').message).to.equal('To Two of One leads to Two with no way back.');

    const shared = structuredClone(after);
    shared.places.title!.rules[0]!.go = { place: 'two', entry: 'to_one' };
    expect(Object.keys(level(done(shared, removeDoor(shared, id)), 'two').entries)).to.deep.equal(['to_one']);
  });

  it('can lead one way only, and gets its other side with the look that it has', () => {
    const by = { style: 'slide', out: 0.3, in: 0.3 } as const;
    const { after, id } = withDoor(rooms(), { oneWay: true, by });
    expect(told(after, 'two').outcome).to.equal('holds');
    const [fix] = repairsOf(after, told(after, 'one'));
    expect(fix!.label).to.equal('Make the other side: from Two to One');
    const mended = done(after, addOtherSide(after, id));
    const [door] = doorsOf(mended, 'one');
    expect(door!.other!.rule.by).to.deep.equal(by);
    expect(door).to.not.have.property('wrong');
    expect(told(mended, 'one').outcome).to.equal('holds');
  });

  it('without an entry gets one on both sides with its other side', () => {
    const document = rooms({ one: room('One', [through('a', 'gate', 'two')], { pieces: { gate: exit('Gate') } }) });
    const after = done(document, addOtherSide(document, 'a'));
    const [door] = doorsOf(after, 'one');
    expect(door!.side.entry).to.equal('to_one');
    expect(door!.other).to.deep.include({ exit: 'to_one', entry: 'gate' });
  });

  it('that is a button is answered by the exit that is free, or by a button', () => {
    const button = { id: 'a', when: { press: 'Down' }, go: { place: 'two' } };
    const one = room('One', [button]);
    const plain = rooms({ one });
    expect(level(done(plain, addOtherSide(plain, 'a')), 'two').rules[0]).to.deep.include({ when: { press: 'One' } });
    const hatch = rooms({ one, two: room('Two', [], { pieces: { hatch: exit('Hatch') } }) });
    expect(level(done(hatch, addOtherSide(hatch, 'a')), 'two').rules[0]).to.deep.include({ when: { touch: 'hatch' } });
  });
});

describe('several doors between two rooms', () => {
  /** A front and a back door in each of two rooms; as `back` says, they lead to these entries of the first. */
  const two = (back: [string, string][]) =>
    rooms({
      one: room('One', [through('f', 'front', 'two', 'front'), through('b', 'back', 'two', 'back')], {
        pieces: { front: exit('Front'), back: exit('Back') },
        entries: { front: { name: 'Front' }, back: { name: 'Back' } }
      }),
      two: room(
        'Two',
        back.map(([piece, entry]) => through(`r_${piece}`, piece, 'one', entry)),
        { pieces: { front: exit('Front'), back: exit('Back') }, entries: { front: { name: 'Front' }, back: { name: 'Back' } } }
      )
    });
  const pairs = (document: FlowDocument) => doorsOf(document, 'one').map(({ other }) => other?.rule.id);

  it('are told apart by where each leads, in whatever order they stand', () => {
    const document = two([
      ['back', 'back'],
      ['front', 'front']
    ]);
    expect(pairs(document)).to.deep.equal(['r_front', 'r_back']);
    expect(told(document, 'one').outcome).to.equal('holds');
  });

  it('are judged one by one: one without another side is one-way', () => {
    const document = two([['front', 'front']]);
    expect(pairs(document)).to.deep.equal(['r_front', undefined]);
    expect(told(document, 'one').message).to.equal('Back of One leads to Two with no way back.');
    const after = done(document, repairsOf(document, told(document, 'one'))[0]!);
    expect(pairs(after)).to.have.length(2).and.not.include(undefined);
    expect(told(after, 'one').outcome).to.equal('holds');
    expect(level(after, 'two').rules.at(-1)).to.deep.include({ when: { touch: 'back' }, go: { place: 'one', entry: 'back' } });
  });

  it('whose way back arrives at the other door are told so, with the door it is', () => {
    const document = two([
      ['front', 'back'],
      ['back', 'back']
    ]);
    expect(told(document, 'one').message).to.equal('The way back from Two through Front arrives at Back.');
    const [fix] = repairsOf(document, told(document, 'one'));
    expect(fix!.label).to.equal('Arrive at the same door: from Two');
    const after = done(document, arriveAtDoor(document, 'f'));
    expect(apply(document, fix!.patch)).to.deep.equal(after);
    expect(told(after, 'one').outcome).to.equal('holds');
  });
});

describe('what is behind a door', () => {
  it('is seen through a loading screen, not through one where the player chooses', () => {
    const loading = (rules: object[]) => ({ name: 'Loading', kind: 'interlude', rules });
    const on = { id: 'on', when: { after: 1 }, go: { place: 'two', entry: 'door' } };
    const document = (rules: object[]) =>
      rooms({
        one: room('One', [through('a', 'gate', 'load')], { pieces: { gate: exit('Gate') } }),
        two: room('Two', [], { entries: { door: { name: 'Door' } } }),
        load: loading(rules)
      });
    expect(doorsOf(document([on]), 'one')[0]!.side).to.deep.include({ to: 'two', entry: 'door', through: ['load'] });
    expect(doorsOf(document([on, { id: 'other', when: { press: 'Other' }, go: { place: 'three' } }]), 'one')).to.deep.equal([]);
    expect(doorsOf(document([{ id: 'self', when: { after: 1 }, go: { place: 'load' } }]), 'one')).to.deep.equal([]);
    const after = done(document([on]), addOtherSide(document([on]), 'a'));
    expect(doorsOf(after, 'one')[0]!.other).to.deep.include({ to: 'one', entry: 'gate' });
  });

  it('may lead back by what a room shares with others, which is not deleted with it', () => {
    const document = rooms({
      one: room('One', [through('a', 'gate', 'two')], { pieces: { gate: exit('Gate') } }),
      two: room('Two', [], { group: 'g' })
    });
    document.groups = { g: { name: 'G', rules: [{ id: 'home', when: { press: 'Home' }, go: { place: 'one' } }] } };
    expect(told(document, 'one').outcome).to.equal('holds');
    expect(done(document, removeDoor(document, 'a')).groups.g!.rules).to.have.length(1);
    expect(doorsOf(document, 'one')[0]!.other).to.have.property('shared', true);
  });

  it('is known of every door of the rooms of the ferry', () => {
    const ferry = demo('ferry-rooms');
    const doors = Object.keys(ferry.places).flatMap((id) => (ferry.places[id]!.kind === 'level' ? doorsOf(ferry, id) : []));
    expect(doors.length).to.be.greaterThan(7);
    expect(doors.filter(({ other, wrong }) => !other || wrong)).to.deep.equal([]);
  });
});

describe('the name of a door', () => {
  it('is that of the level behind it, numbered where there is such a door', () => {
    const { after } = withDoor(rooms());
    expect([doorName(after, 'one', 'Two'), doorName(after, 'one', 'Three')]).to.deep.equal(['To Two 2', 'To Three']);
    expect(doorName(after, undefined, 'x'.repeat(80))).to.have.length(73);
  });
});
