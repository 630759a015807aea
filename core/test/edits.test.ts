import { expect } from 'chai';
import fc from 'fast-check';
import { addPiece, addVariable, changePiece, removePiece } from '../src/document/edits/parts.ts';
import {
  addPlace,
  emptyPlace,
  moveLevel,
  pointersTo,
  removePlace,
  renameFlow,
  renamePlace,
  setPlaceField,
  setTags,
  setStart
} from '../src/document/edits/places.ts';
import { addRule, changeRule, likelyRule, moveRule, removeRule, wireRule } from '../src/document/edits/rules.ts';
import { idFrom } from '../src/document/edits/ids.ts';
import { apply, change, Conflict, rebase, together, touches, type Change, type Operation } from '../src/document/patch.ts';
import { pointerTo } from '../src/document/pointer.ts';
import { validate, validateChange } from '../src/document/read.ts';
import { findRule, type FlowDocument, type Level } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { seed } from './support/compare.ts';
import { flowOf, threeLamps } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const document = flowOf(threeLamps);
const text = (value: FlowDocument) => JSON.stringify(value);
const level = (value: FlowDocument, id: string) => value.places[id] as Level;

/** Applies a change, checks the shape of what comes out and that the inverse gives back the very same text. */
function made(before: FlowDocument, { patch, inverse }: Change): FlowDocument {
  const after = apply(before, patch);
  expect(validate(after).errors, 'errors after the change').to.equal(undefined);
  expect(text(apply(after, inverse))).to.equal(text(before));
  expect(text(apply(apply(after, inverse), patch))).to.equal(text(after));
  return after;
}

describe('edits', () => {
  it('add a level behind another, in its order', () => {
    const change = addPlace(document, emptyPlace('level', 'Rope Walk'), { behind: 'quay' });
    const after = made(document, change);
    expect(change.id).to.equal('rope_walk');
    expect(after.orders.main!.levels).to.deep.equal(['quay', 'rope_walk', 'loft']);
    expect(change.label).to.equal('Add the level Rope Walk');
  });

  it('begin an order with the first level of a flow', () => {
    const empty = flowOf({ places: { title: { name: 'Title', kind: 'menu' } } });
    const after = made(empty, addPlace(empty, emptyPlace('level', 'Quay')));
    expect(Object.values(after.orders)).to.deep.equal([{ name: 'Main round', draw: 'fixed', levels: ['quay'] }]);
  });

  it('make ids that are new and none of the words', () => {
    expect(idFrom('Quay Street', {}, 'place')).to.equal('quay_street');
    expect(idFrom('Quay', document.places, 'place')).to.equal('quay_2');
    expect(idFrom('Not', {}, 'place')).to.equal('place');
    expect(idFrom('12 Ångström—Straße', {}, 'place')).to.equal('angstrom_stra_e');
    expect(idFrom('波止場', {}, 'place')).to.equal('place');
    expect(idFrom('x'.repeat(80), {}, 'place')).to.have.length(34);
  });

  it('delete a place, take it out of its order and put everything back where it stood', () => {
    const after = made(document, removePlace(document, 'quay'));
    expect(after.orders.main!.levels).to.deep.equal(['loft']);
    expect(after.places).not.to.have.property('quay');
    const both = made(after, removePlace(after, 'loft'));
    expect(both.orders).to.deep.equal({});
  });

  it('say what points to a place', () => {
    expect(pointersTo(document, 'title')).to.deep.equal([
      { what: 'start' },
      { what: 'rule', id: 'home' },
      { what: 'rule', id: 'home2' }
    ]);
    expect(pointersTo(document, 'aglow').map(({ id }) => id)).to.deep.equal(['lit', 'lit2']);
    expect(pointersTo(document, 'quay')).to.deep.equal([{ what: 'order', id: 'main' }]);
  });

  it('take levels out of drawn rows too', () => {
    const drawn = flowOf({
      ...threeLamps,
      orders: { main: { name: 'R', draw: 'table', levels: ['quay', 'loft'], rows: [['quay'], ['loft', 'quay']] } }
    });
    const after = made(drawn, removePlace(drawn, 'quay'));
    expect(after.orders.main).to.deep.include({ levels: ['loft'], rows: [['loft']] });
  });

  it('change rules part by part', () => {
    const { rule } = findRule(document, 'slip')!;
    const { id: _id, ...parts } = rule;
    const after = made(document, changeRule(document, 'slip', { ...parts, if: 'lives > 0', do: undefined }));
    expect(findRule(after, 'slip')!.rule).to.deep.equal({
      id: 'slip',
      when: rule.when,
      if: 'lives > 0',
      go: rule.go,
      result: 'lost'
    });
    expect(made(document, changeRule(document, 'slip', parts))).to.deep.equal(document);
  });

  it('move, add and delete rules', () => {
    const moved = made(document, moveRule(document, 'retry', 0));
    expect(moved.places.splash!.rules.map(({ id }) => id)).to.deep.equal(['retry', 'over']);
    const { id, ...added } = addRule(document, { place: 'splash' }, { when: { press: 'Skip' }, go: { move: 'again' } }, 1);
    expect(made(document, added).places.splash!.rules.map((rule) => rule.id)).to.deep.equal(['over', id, 'retry']);
    expect(made(document, removeRule(document, 'slip')).rules).to.deep.equal([]);
  });

  it('change pieces, values, names and the start', () => {
    const counted = changePiece(document, 'quay', 'lamp', { count: 7 });
    expect(counted.label).to.equal('Quay Street: Lamp 3 → 7');
    expect(level(made(document, counted), 'quay').pieces.lamp!.count).to.equal(7);
    expect(level(made(document, removePiece(document, 'quay', 'water')), 'quay').pieces).to.have.all.keys('lamp');
    expect(level(made(document, addPiece(document, 'loft', { name: 'Lamp', kind: 'pickup' })), 'loft').pieces).to.have.all.keys(
      'lamp',
      'lamp_2'
    );
    const oil = addVariable(document, { name: 'Oil', type: 'number', initial: 0, min: 0, max: 9, scope: 'run' });
    expect(made(document, oil).variables).to.have.property('oil');
    expect(made(document, renamePlace(document, 'quay', 'Pier')).places.quay!.name).to.equal('Pier');
    expect(made(document, renameFlow(document, 'Round')).name).to.equal('Round');
    expect(made(document, setStart(document, 'splash')).start).to.equal('splash');
    expect(level(made(document, setPlaceField(document, 'quay', 'goal', 'leave')), 'quay').goal).to.equal('leave');
    expect(made(document, moveLevel(document, 'main', 'loft', 0)).orders.main!.levels).to.deep.equal(['loft', 'quay']);
  });

  it('offer a way to win or lose like that of the other levels', () => {
    expect(likelyRule(document, 'loft', 'won')).to.deep.equal({
      when: { holds: 'left(lamp) = 0' },
      go: { move: 'next', else: { place: 'aglow' } },
      result: 'won'
    });
    expect(likelyRule(document, 'quay', 'lost')).to.deep.equal({
      when: { touch: 'water' },
      go: { place: 'splash' },
      result: 'lost'
    });
    const alone = flowOf({ start: 'a', places: { a: { name: 'A', kind: 'level' } } });
    expect(likelyRule(alone, 'a', 'won')).to.deep.equal({ when: { press: 'Win' }, go: { move: 'next' }, result: 'won' });
    expect(likelyRule(alone, 'a', 'lost')).to.deep.equal({ when: { press: 'Lose' }, go: { move: 'again' }, result: 'lost' });
  });

  it('are one when made together', () => {
    const both = together(
      document,
      'Two',
      (now) => renamePlace(now, 'quay', 'Pier'),
      (now) => changePiece(now, 'quay', 'lamp', { count: 9 })
    );
    expect(level(made(document, both), 'quay')).to.deep.include({ name: 'Pier' });
  });

  it('wire what is likeliest for the two kinds', () => {
    const bare = apply(document, removeRule(document, 'lit').patch);
    expect(wireRule(bare, 'quay', 'loft')).to.deep.equal({
      when: { holds: 'left(lamp) = 0' },
      go: { move: 'next', else: { place: 'loft' } },
      result: 'won'
    });
    expect(wireRule(bare, 'quay', 'aglow')).to.deep.equal({
      when: { holds: 'left(lamp) = 0' },
      go: { place: 'aglow' },
      result: 'won'
    });
    // who can be won already gets a plain way out
    expect(wireRule(document, 'quay', 'aglow')).to.deep.equal({ when: { press: 'The town aglow' }, go: { place: 'aglow' } });
    expect(wireRule(document, 'splash', 'dark').when).to.deep.equal({ press: 'Lights out' });
    expect(wireRule(document, 'quay', 'dark')).to.deep.equal({ when: { touch: 'water' }, go: { place: 'dark' }, result: 'lost' });
    expect(wireRule(document, 'title', 'loft')).to.deep.equal({ when: { press: 'Net Loft' }, go: { place: 'loft' } });
    expect(wireRule(document, 'loft', 'title')).to.deep.include({ go: { place: 'title', over: true } });
  });
});

describe('patches', () => {
  it('leave the document as it is', () => {
    const before = text(document);
    apply(document, renamePlace(document, 'quay', 'Pier').patch);
    expect(text(document)).to.equal(before);
  });

  it('share with the document all that they leave as it is, and nothing that they change', () => {
    const [, ...others] = Object.keys(document.places);
    const renamed = apply(document, [{ op: 'replace', path: `/places/${Object.keys(document.places)[0]!}/name`, value: 'Dusk' }]);
    expect(renamed.orders).to.equal(document.orders);
    for (const id of others) expect(renamed.places[id]).to.equal(document.places[id]);
    expect(renamed.places).to.not.equal(document.places);
    // a value that stands in a patch is nobody else's
    const value = { name: 'Oil', type: 'flag' as const, initial: false, scope: 'run' as const };
    const added = apply(document, [
      { op: 'add', path: '/variables/more_oil', value },
      { op: 'replace', path: '/variables/more_oil/initial', value: true }
    ]);
    expect(value.initial).to.equal(false);
    expect(added.variables.more_oil!.initial).to.equal(true);
    expect(document.variables).to.not.have.property('more_oil');
  });

  it('test what they replace, take away and stand behind, and nothing that is refused by itself', () => {
    const opsOf = (operation: Operation) => change(document, '', [operation]).patch.map(({ op, path }) => `${op} ${path}`);
    const rule = { id: 'x', when: { arrive: true } };
    expect(opsOf({ op: 'replace', path: '/name', value: 'N' })).to.deep.equal(['test /name', 'replace /name']);
    expect(opsOf({ op: 'remove', path: '/variables/lives' })).to.deep.equal(['test /variables/lives', 'remove /variables/lives']);
    expect(opsOf({ op: 'add', path: '/rules/1', value: rule })).to.deep.equal(['test /rules/0/id', 'add /rules/1']);
    expect(opsOf({ op: 'add', path: '/rules/0', value: rule })).to.deep.equal(['add /rules/0']);
    expect(opsOf({ op: 'add', path: '/signals/new', value: { name: 'New' } })).to.deep.equal(['add /signals/new']);
    expect(() => apply(document, [{ op: 'add', path: '/places/quay', value: {} }])).to.throw(Conflict);
    expect(() => apply(document, [{ op: 'remove', path: '/places/nowhere' }])).to.throw(Conflict);
  });

  it('of different parts both apply', () => {
    const mine = changePiece(document, 'quay', 'lamp', { count: 5 }).patch;
    const theirs = apply(document, renamePlace(document, 'quay', 'Pier').patch);
    const both = apply(theirs, rebase(mine, theirs));
    expect(level(both, 'quay').name).to.equal('Pier');
    expect(level(both, 'quay').pieces.lamp!.count).to.equal(5);
  });

  it('of the same part are refused', () => {
    const mine = renamePlace(document, 'quay', 'Mole').patch;
    const theirs = apply(document, renamePlace(document, 'quay', 'Pier').patch);
    expect(() => rebase(mine, theirs))
      .to.throw(Conflict)
      .with.property('pointer', '/places/quay/name');
  });

  it('find a rule again that has moved in its list', () => {
    const { rule } = findRule(document, 'retry')!;
    const mine = changeRule(document, 'retry', { when: { after: 5 }, go: rule.go }).patch;
    const theirs = apply(document, removeRule(document, 'over').patch);
    const after = apply(theirs, rebase(mine, theirs));
    expect(findRule(after, 'retry')!.rule.when).to.deep.equal({ after: 5 });
    const removal = removeRule(document, 'retry').patch;
    const inserted = apply(
      document,
      addRule(document, { place: 'splash' }, { when: { press: 'Skip' }, go: { move: 'again' } }, 0).patch
    );
    expect(findRule(apply(inserted, rebase(removal, inserted)), 'retry')).to.equal(undefined);
    expect(() => rebase(mine, apply(document, removal))).to.throw(Conflict);
  });

  it('put a level behind the one it was meant for, wherever that is by now', () => {
    const mine = addPlace(document, emptyPlace('level', 'Rope Walk'), { behind: 'quay' }).patch;
    const theirs = apply(document, moveLevel(document, 'main', 'quay', 1).patch);
    expect(apply(theirs, rebase(mine, theirs)).orders.main!.levels).to.deep.equal(['loft', 'quay', 'rope_walk']);
  });

  it('put a level first, also where others have taken one out of its order', () => {
    const order = { order: { name: 'Main', draw: 'fixed', levels: ['one', 'two', 'three', 'four'] } };
    const before = { ...document, orders: order } as unknown as FlowDocument;
    const first = change(before, 'first', [
      { op: 'remove', path: '/orders/order/levels/3' },
      { op: 'add', path: '/orders/order/levels/0', value: 'four' }
    ]);
    const without = apply(before, change(before, 'out', [{ op: 'remove', path: '/orders/order/levels/1' }]).patch);
    const both = apply(without, rebase(first.patch, without));
    expect(both.orders.order!.levels).to.deep.equal(['four', 'one', 'three']);
  });

  it('never put one thing on top of another', () => {
    const mine = addPlace(document, emptyPlace('menu', 'Options')).patch;
    const theirs = apply(document, addPlace(document, emptyPlace('menu', 'Options')).patch);
    expect(() => rebase(mine, theirs)).to.throw(Conflict);
  });

  it('undo is refused when what was made has been changed since', () => {
    const added = addPlace(document, emptyPlace('menu', 'Options'));
    const after = apply(document, added.patch);
    const changed = apply(after, renamePlace(after, 'options', 'Choices').patch);
    expect(() => rebase(added.inverse, changed)).to.throw(Conflict);
    const elsewhere = apply(after, renamePlace(after, 'quay', 'Pier').patch);
    expect(apply(elsewhere, rebase(added.inverse, elsewhere)).places).not.to.have.property('options');
  });

  it('have inverses that give back the same text, whatever the operations', () => {
    const names = fc.constantFrom('a', 'b', 'c', 'd', 'e');
    const operation = fc.record({
      kind: fc.constantFrom('add', 'remove', 'replace', 'push', 'cut', 'last'),
      name: names,
      value: fc.integer()
    });
    fc.assert(
      fc.property(fc.array(operation, { maxLength: 12 }), (operations) => {
        const start = { map: { a: 1, c: 2, b: 3 } as Record<string, number>, list: [1, 2, 3] };
        let now = start;
        const changes: Change[] = [];
        for (const { kind, name, value } of operations) {
          const there = name in now.map;
          const path = `/map/${name}`;
          const index = Math.abs(value) % (now.list.length + 1);
          const step =
            kind === 'push'
              ? ({ op: 'add', path: `/list/${index}`, value } as const)
              : kind === 'cut' && index < now.list.length
                ? ({ op: 'remove', path: `/list/${index}` } as const)
                : kind === 'last' && there
                  ? ({ op: 'move', from: path, path } as const)
                  : kind === 'add' && !there
                    ? ({ op: 'add', path, value } as const)
                    : kind === 'remove' && there
                      ? ({ op: 'remove', path } as const)
                      : kind === 'replace' && there
                        ? ({ op: 'replace', path, value } as const)
                        : undefined;
          if (!step) continue;
          const made = change(now, 'step', [step]);
          changes.push(made);
          now = apply(now, made.patch);
        }
        for (const { inverse } of changes.reverse()) now = apply(now, inverse);
        expect(JSON.stringify(now)).to.equal(JSON.stringify(start));
      })
    );
  });

  it('keep a written file the same after do and undo', () => {
    const edit = removePlace(document, 'splash');
    expect(write(apply(apply(document, edit.patch), edit.inverse))).to.equal(write(document));
  });
});

describe('edits: tags, and who touched what', () => {
  it('gives each tag once, and takes all away', () => {
    const document = flowOf(threeLamps);
    const tagged = apply(document, setTags(document, 'quay', [' dark', 'water', 'dark', '']).patch);
    expect(tagged.places.quay!.tags).to.deep.equal(['dark', 'water']);
    expect(setTags(tagged, 'quay', ['dark', 'water']).patch).to.deep.equal([]);
    expect(apply(tagged, setTags(tagged, 'quay', []).patch)).to.deep.equal(document);
  });

  it('knows what of a document a patch changes', () => {
    const patch = [
      { op: 'test' as const, path: '/name', value: 'x' },
      { op: 'replace' as const, path: '/places/quay/name', value: 'Pier' }
    ];
    expect(touches(patch, '/places/quay/name')).to.equal(true);
    expect(touches(patch, '/places/quay')).to.equal(true);
    expect(touches(patch, '/places/quay/name/0')).to.equal(true);
    expect(touches(patch, '/places/quayside')).to.equal(false);
    expect(touches(patch, '/name')).to.equal(false);
  });
});

/** All pointers into a value, its own first. */
function pointersInto(value: unknown, at = ''): string[] {
  if (typeof value !== 'object' || value === null) return [at];
  return [at, ...Object.entries(value).flatMap(([key, part]) => pointersInto(part, `${at}${pointerTo([key])}`))];
}

describe('the errors of an edit', () => {
  it('are those of the whole document after it', () => {
    const value = fc.constantFrom<unknown>(
      null,
      7,
      -1,
      '',
      'title',
      'Not an id',
      true,
      [],
      {},
      { place: 'title' },
      { name: 'More' },
      [{ id: 'again', when: { press: 'A' } }]
    );
    const edit = fc.record({ at: fc.nat(), kind: fc.constantFrom('replace', 'remove', 'add', 'move'), to: fc.nat(), value });
    let wrong = 0;
    fc.assert(
      fc.property(randomFlow, edit, (random, { at, kind, to, value: set }) => {
        // as it is when it has been read: no two parts are one
        const flow = JSON.parse(JSON.stringify(random)) as FlowDocument;
        fc.pre(!validate(flow).errors);
        const pointers = pointersInto(flow).slice(1);
        const path = pointers[at % pointers.length]!;
        const parent = path.slice(0, path.lastIndexOf('/'));
        const operation = (
          kind === 'move'
            ? { op: 'move', from: path, path: `${pointers[to % pointers.length]!}x` }
            : { op: kind, path: kind === 'add' ? `${parent}/${/\/\d+$/.test(path) ? '-' : 'more'}` : path, value: set }
        ) as Operation;
        let after;
        try {
          after = apply(flow, [operation]);
        } catch {
          return;
        }
        const { errors = [] } = validate(after);
        // what ends the reading of a whole file is told alone there
        if (typeof after.places !== 'object' || after.places === null) return;
        if (errors.length > 0) wrong++;
        expect(validateChange(after, [operation]), JSON.stringify(operation)).to.deep.equal(errors);
      }),
      { numRuns: randoms(400), seed }
    );
    expect(wrong).to.be.greaterThan(randoms(40, 15));
  });
});
