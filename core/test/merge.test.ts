/** Merging two versions of a flow: what the edits of two people come to, whichever of them is told first. */
import { expect } from 'chai';
import { changePiece, removePiece } from '../src/document/edits/parts.ts';
import { setPatrol, setPlan } from '../src/document/edits/plan.ts';
import { addPlace, emptyPlace, moveLevel, removePlace, renamePlace, setTags } from '../src/document/edits/places.ts';
import { addRule, changeRule, moveRule, removeRule } from '../src/document/edits/rules.ts';
import { addNumber, setNumber } from '../src/document/edits/lists.ts';
import { merge } from '../src/document/merge.ts';
import { apply, Conflict, rebase, type Change } from '../src/document/patch.ts';
import { validate } from '../src/document/read.ts';
import type { FlowDocument, Id, Level, Plan } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { stamped, withPatrol } from '../src/plan/draw.ts';
import { demo } from './support/flows.ts';
import { long } from './support/everyday.ts';

const base = demo('lamplighters-round');
const planOf = (document: FlowDocument, id: Id) => (document.places[id] as Level).plan!;
const drawn = (id: Id, run: (plan: Plan) => Plan) => (now: FlowDocument) => setPlan(now, id, run(planOf(now, id)), 'draw');

/** What one person does. */
const edits: Record<string, (now: FlowDocument) => Change> = {
  'renames a place': (now) => renamePlace(now, 'quay', 'Quay'),
  'renames it otherwise': (now) => renamePlace(now, 'quay', 'The quay'),
  'renames another': (now) => renamePlace(now, 'nets', 'Lofts'),
  'tags it': (now) => setTags(now, 'quay', ['first']),
  'adds a menu': (now) => addPlace(now, emptyPlace('menu', 'Credits roll')),
  'removes a level': (now) => removePlace(now, 'chapel'),
  'changes a piece of that level': (now) => changePiece(now, 'chapel', 'lamp', { count: 5 }),
  'removes a piece': (now) => removePiece(now, 'tar', 'moth'),
  'changes that piece': (now) => changePiece(now, 'tar', 'moth', { name: 'Hawk moth' }),
  'adds a rule': (now) => addRule(now, { place: 'title' }, { when: { press: 'Extras' }, go: { place: 'options' } }),
  'adds another rule there': (now) => addRule(now, { place: 'title' }, { when: { press: 'More' }, go: { place: 'map' } }),
  'changes a rule': (now) => changeRule(now, 'w_quay', { ...ruleOf(now, 'quay', 'w_quay'), note: 'All of them.' }),
  'changes it otherwise': (now) => changeRule(now, 'w_quay', { ...ruleOf(now, 'quay', 'w_quay'), note: 'Each one.' }),
  'removes that rule': (now) => removeRule(now, 'w_quay'),
  'moves a rule': (now) => moveRule(now, now.places.title!.rules[0]!.id, 2),
  'moves a level': (now) => moveLevel(now, 'round', 'quay', 3),
  'moves it elsewhere': (now) => moveLevel(now, 'round', 'quay', 6),
  'moves another level': (now) => moveLevel(now, 'round', 'light', 0),
  'sets a number': (now) => setNumber(now, 'gust_pause', 2),
  'adds a number': (now) => addNumber(now, { name: 'Pace', value: 3 }),
  'draws in a plan': drawn('rope', (plan) => stamped(plan, [[3, 3]], { ground: '#' })),
  'draws elsewhere in its row': drawn('rope', (plan) => stamped(plan, [[20, 3]], { ground: '#' })),
  'draws the same cell otherwise': drawn('rope', (plan) => stamped(plan, [[3, 3]], { ground: '|' })),
  'places a lamp': drawn('rope', (plan) => stamped(plan, [[5, 2]], { piece: 'lamp' })),
  'places another lamp': drawn('rope', (plan) => stamped(plan, [[8, 2]], { piece: 'lamp' })),
  'draws a patrol': drawn('quay', (plan) => withPatrol(plan, 'water', [[1, 1], [5, 1]], 'back')), // prettier-ignore
  'slows a patrol': (now) => setPatrol(now, 'rope', 'gust_patrol', { speed: 1 }, 'slower')
};
const ruleOf = (document: FlowDocument, place: Id, id: Id) => document.places[place]!.rules.find((rule) => rule.id === id)!;

/** The same whatever the order of keys: maps are compared as maps. */
const sorted = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(sorted)
    : typeof value === 'object' && value !== null
      ? Object.fromEntries(
          Object.entries(value)
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([key, part]) => [key, sorted(part)])
        )
      : value;

describe('merging two versions', () => {
  long('comes to what the edits of two people come to, where these fit together', () => {
    const seen = { fitting: 0, conflicts: 0 };
    const moves = ['moves a level', 'moves it elsewhere'];
    for (const [one, mine] of Object.entries(edits))
      for (const [other, their] of Object.entries(edits)) {
        // of two moves of one level the later edit counts, and nobody is the later one here
        if (one === other || (moves.includes(one) && moves.includes(other))) continue;
        const ours = apply(base, mine(base).patch);
        const change = their(base);
        const { document, conflicts } = merge(base, ours, apply(base, change.patch));
        expect(validate(document).errors, `${one}, ${other}`).to.equal(undefined);
        let both: FlowDocument | undefined;
        try {
          both = apply(ours, rebase(change.patch, ours));
        } catch (error) {
          expect(error).to.be.instanceOf(Conflict);
        }
        if (both) {
          seen.fitting++;
          expect(conflicts, `${one}, ${other}`).to.deep.equal([]);
          expect(sorted(document), `${one}, ${other}`).to.deep.equal(sorted(both));
        } else if (conflicts.length > 0) seen.conflicts++;
      }
    expect(seen.fitting).to.be.greaterThan(500);
    expect(seen.conflicts).to.be.at.least(8);
  }).timeout(120_000);

  const clash = (one: string, other: string) =>
    merge(base, apply(base, edits[one]!(base).patch), apply(base, edits[other]!(base).patch));

  it('tells what both have changed, and keeps ours', () => {
    const { document, conflicts } = clash('renames a place', 'renames it otherwise');
    expect(conflicts).to.deep.equal([{ pointer: '/places/quay/name', base: 'Quay Street', ours: 'Quay', theirs: 'The quay' }]);
    expect(document.places.quay!.name).to.equal('Quay');
    expect(clash('removes a piece', 'changes that piece').conflicts.map(({ pointer }) => pointer)).to.deep.equal([
      '/places/tar/pieces/moth'
    ]);
    expect(clash('changes a rule', 'removes that rule').conflicts[0]!.theirs).to.equal(undefined);
    expect(clash('draws in a plan', 'draws the same cell otherwise').conflicts.map(({ pointer }) => pointer)).to.deep.equal([
      '/places/rope/plan/rows/3'
    ]);
    expect(clash('moves a level', 'moves it elsewhere').conflicts.map(({ pointer }) => pointer)).to.deep.equal([
      '/orders/round/levels'
    ]);
  });

  it('changes nothing where nobody has, and takes what only one has done', () => {
    expect(write(merge(base, base, base).document)).to.equal(write(base));
    const ours = apply(base, edits['adds a rule']!(base).patch);
    expect(write(merge(base, ours, base).document)).to.equal(write(ours));
    expect(write(merge(base, base, ours).document)).to.equal(write(ours));
  });

  it('does not make one thing of two that were added under one id', () => {
    const added = (name: string, kind: 'menu' | 'level') => {
      const change = addPlace(base, emptyPlace(kind, name));
      return apply(base, change.patch);
    };
    const { document, conflicts } = merge(base, added('Attic', 'menu'), added('Attic', 'level'));
    expect(conflicts.map(({ pointer }) => pointer)).to.deep.equal(['/places/attic']);
    expect(document.places.attic!.kind).to.equal('menu');
  });
});
