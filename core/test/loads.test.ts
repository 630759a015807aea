/** What is loaded, against what may be; and which state of a level answers what. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { addAsset, removeAsset, setLimit, setLoad, setUses } from '../src/document/edits/levels.ts';
import { addRule } from '../src/document/edits/rules.ts';
import { apply, together } from '../src/document/patch.ts';
import { read } from '../src/document/read.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { loadRows } from '../src/sheet/loads.ts';
import { ruleForState, stateRows, statesOf } from '../src/sheet/states.ts';
import { flowOf, threeLamps } from './support/flows.ts';

const { quay, loft, title } = threeLamps.places;
const grouped = flowOf({
  ...threeLamps,
  groups: { harbour: { name: 'Harbour' } },
  places: { ...threeLamps.places, quay: { ...quay, group: 'harbour' }, loft: { ...loft, group: 'harbour' }, title }
});
const edited = (...edits: ((now: FlowDocument) => ReturnType<typeof setLoad>)[]) =>
  apply(grouped, together(grouped, '', ...edits).patch);
const loaded = edited(
  (now) => setLoad(now, 'quay', { megabytes: 10.1, seconds: 2 }),
  (now) => setLoad(now, 'loft', { megabytes: 10.2 }),
  (now) => setLoad(now, 'title', { megabytes: 5 }),
  (now) => addAsset(now, 'Map'),
  (now) => setUses(now, { place: 'quay' }, 'map', true),
  (now) => setUses(now, { place: 'title' }, 'map', true),
  (now) => setUses(now, { group: 'harbour' }, 'map', true)
);
const sums = (document: FlowDocument) =>
  Object.fromEntries(loadRows(document).flatMap(({ name, sum }) => (sum.megabytes > 0 ? [[name, sum.megabytes]] : [])));
const limits = (document: FlowDocument) =>
  check(document).checks.filter(({ check: name, outcome }) => name === 'load-limit' && outcome === 'fails');

describe('what is loaded', () => {
  it('counts each shared asset once in a group, once in the whole, and menus too', () => {
    expect(sums(loaded)).to.deep.equal({ 'The whole': 26.3, Harbour: 21.3, Title: 6, 'Quay Street': 11.1, 'Net Loft': 10.2 });
    expect(read(write(loaded)).document).to.deep.equal({ ...loaded, version: 2 });
    expect(sums(apply(loaded, removeAsset(loaded, 'map').patch))['The whole']).to.equal(25.3);
  });

  it('is held against the limit of a place, a group and the whole, and the limit is raised as a fix', () => {
    let document = loaded;
    for (const [part, megabytes] of [
      ['place', 11],
      ['group', 21],
      ['whole', 26]
    ] as const)
      document = apply(document, setLimit(document, part, { megabytes }).patch);
    expect(document.limit).to.deep.equal({ megabytes: 21, place: { megabytes: 11 }, whole: { megabytes: 26 } });
    const found = limits(document);
    expect(found.map(({ message }) => message)).to.deep.equal([
      'All places together load 26.3 MB of at most 26 MB.',
      'The levels of Harbour load 21.3 MB of at most 21 MB.',
      'Quay Street loads 11.1 MB of at most 11 MB.'
    ]);
    for (const verdict of found) document = apply(document, repairsOf(document, verdict)[0]!.patch);
    expect(limits(document)).to.deep.equal([]);
    expect(document.limit).to.deep.equal({ megabytes: 21.3, place: { megabytes: 11.1 }, whole: { megabytes: 26.3 } });
  });

  it('names no asset that is not there', () => {
    const wrong = apply(loaded, setUses(loaded, { place: 'loft' }, 'mop', true).patch);
    const found = check(wrong).checks.find(({ check: name }) => name === 'reference')!;
    expect([found.pointer, found.message]).to.deep.equal([
      '/places/loft/uses/0',
      `${loft.name} uses "mop", and there is no such shared asset.`
    ]);
    expect(repairsOf(wrong, found)[0]!.label).to.equal('Change it to Map');
  });
});

describe('the states of a level', () => {
  const flight = {
    flight: { name: 'Flight', type: 'choice', choices: ['stands', 'bounces', 'falls'], initial: 'stands', scope: 'attempt' }
  };
  const document = flowOf({
    ...threeLamps,
    variables: { ...threeLamps.variables, ...flight },
    places: {
      ...threeLamps.places,
      quay: {
        ...quay,
        rules: [
          ...quay.rules,
          { id: 'jump', when: { press: 'Jump' }, if: "flight = 'stands'", do: [{ set: 'flight', to: "'bounces'" }] },
          {
            id: 'drop',
            when: { press: 'Drop' },
            if: "not (flight = 'falls') and lives > 0",
            do: [{ set: 'flight', to: "'falls'" }]
          },
          { id: 'land', when: { holds: "flight != 'stands' and left(lamp) = 1" }, do: [{ reset: 'flight' }] },
          { id: 'rest', when: { press: 'Drop' }, if: "flight = 'falls' or flight = 'stands'", do: [{ reset: 'flight' }] }
        ]
      }
    }
  });

  it('answer what their conditions do not rule out', () => {
    const [states] = statesOf(document);
    expect(states).to.deep.equal({ level: 'quay', variable: 'flight', choices: ['stands', 'bounces', 'falls'] });
    const told = stateRows(document, states!).map(({ words, answers }) => [
      words,
      ...[...answers.values()].map((rules) => rules.map(({ id }) => id).join())
    ]);
    expect(told).to.deep.equal([
      ['once Lamp × 3 are all collected', 'lit', 'lit', 'lit'],
      ['when Jump is pressed', 'jump', '', ''],
      ['when Drop is pressed', 'drop,rest', 'drop', 'rest'],
      ['once Flight is not stands and Lamp left is 1', '', 'land', 'land'],
      ['when Harbour water is touched', 'slip', 'slip', 'slip']
    ]);
  });

  it('have their blanks filled as another state does it', () => {
    const [states] = statesOf(document);
    const jump = stateRows(document, states!)[1]!;
    const rule = ruleForState(states!, jump, 'falls');
    expect(rule).to.deep.equal({ when: { press: 'Jump' }, do: [{ set: 'flight', to: "'bounces'" }], if: "flight = 'falls'" });
    const filled = apply(document, addRule(document, { place: 'quay' }, rule).patch);
    expect(stateRows(filled, states!)[1]!.answers.get('falls')).to.have.length(1);
    expect(statesOf(grouped)).to.deep.equal([]);
  });
});
