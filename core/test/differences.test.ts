import { expect } from 'chai';
import { accept, addEntry, addSignal } from '../src/document/edits/lists.ts';
import { addPiece, changePiece, changeVariable } from '../src/document/edits/parts.ts';
import { addPlace, emptyPlace, moveLevel, removePlace, renamePlace, setStart } from '../src/document/edits/places.ts';
import { addRule, changeRule, moveRule, removeRule } from '../src/document/edits/rules.ts';
import { removePlan, setPatrol, setPlan } from '../src/document/edits/plan.ts';
import { resized, stamped, withPatrol } from '../src/plan/draw.ts';
import { apply, type Change } from '../src/document/patch.ts';
import type { FlowDocument, Level, NumberVariable, Plan } from '../src/document/types.ts';
import { differences } from '../src/words/differences.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';

const document = flowOf(threeLamps);
const said = (make: (now: FlowDocument) => Change, before = document) =>
  differences(before, apply(before, make(before).patch)).map(({ is, text, place }) => `${is} ${place ?? ''}: ${text}`);

describe('differences', () => {
  it('are none between equal documents', () => {
    expect(differences(document, structuredClone(document))).to.deep.equal([]);
  });

  it('are none where a rule is written anew with the same words, and a change where only its number is another', () => {
    const again = structuredClone(document);
    for (const rule of again.places.quay!.rules) rule.id = `${rule.id}_again`;
    expect(differences(document, again)).to.deep.equal([]);
    const level = (count: number) =>
      flowOf({
        ...threeLamps,
        rules: [{ id: `all_${count}`, when: { holds: `taken(lamp) >= ${count}` }, do: [{ begin: 'run' }] }]
      });
    expect(differences(level(3), level(5)).map(({ is, text }) => `${is}: ${text}`)).to.deep.equal([
      'changed: The rule “once Lamp × 5 are collected” in every level: once Lamp × 3 are all collected → once Lamp × 5 are collected.'
    ]);
  });

  const cases: [string, (now: FlowDocument) => Change, string[]][] = [
    ['a count', (now) => changePiece(now, 'quay', 'lamp', { count: 7 }), ['changed quay: Quay Street, Lamp: count 3 → 7.']],
    ['a name', (now) => renamePlace(now, 'quay', 'Pier'), ['changed quay: Pier: name Quay Street → Pier.']],
    ['a start', (now) => setStart(now, 'aglow'), ['changed aglow: Play begins at The town aglow, not at Title.']],
    [
      'an added level',
      (now) => addPlace(now, emptyPlace('level', 'Pier'), { behind: 'quay' }),
      ['added pier: Pier.', 'changed : The order Round: levels Quay Street, Net Loft → Quay Street, Pier, Net Loft.']
    ],
    ['a deleted place', (now) => removePlace(now, 'dark'), ['removed dark: Lights out.']],
    [
      'an order',
      (now) => moveLevel(now, 'main', 'loft', 0),
      ['changed : The order Round: levels Quay Street, Net Loft → Net Loft, Quay Street.']
    ],
    [
      'a piece',
      (now) => addPiece(now, 'loft', { name: 'Moth', kind: 'foe', count: 2 }),
      ['added loft: Net Loft: the piece Moth (2).']
    ],
    ['an entry', (now) => addEntry(now, 'loft', { name: 'Stairs' }), ['added loft: Net Loft: the entry Stairs.']],
    ['a signal', (now) => addSignal(now, 'Bell'), ['added : The signal Bell.']],
    [
      'a value',
      (now) => changeVariable(now, 'lives', { ...(now.variables.lives as NumberVariable), max: 5 }),
      ['changed : The value Lives: max 2 → 5.']
    ],
    ['a deleted rule', (now) => removeRule(now, 'home'), ['removed aglow: The rule “when Title is pressed” in The town aglow.']],
    [
      'an added rule',
      (now) => addRule(now, { flow: true }, { when: { press: 'Pause' } }),
      ['added : The rule “when Pause is pressed” in every level.']
    ],
    [
      'a changed rule',
      (now) => changeRule(now, 'home', { when: { press: 'Title' }, go: { place: 'quay' }, note: 'why' }),
      [
        'changed aglow: The rule “when Title is pressed” in The town aglow: go to Title → go to Quay Street.',
        'changed aglow: The rule “when Title is pressed” in The town aglow: no note → a note.'
      ]
    ],
    [
      'rules in another order',
      (now) => moveRule(now, 'over', 1),
      ['changed splash: Overboard: its rules are read in another order.']
    ],
    ['an accepted finding', (now) => accept(now, 'fresh-start', 'begin', 'Meant.'), ['changed : Accepted findings: 0 → 1.']]
  ];
  for (const [name, make, expected] of cases) it(`say ${name}`, () => expect(said(make)).to.deep.equal(expected));

  it('of plans are told by what is drawn, not by what follows from it', () => {
    const round = demo('lamplighters-round');
    const drawn = (run: (plan: Plan) => Plan) =>
      said((now) => setPlan(now, 'rope', run((now.places.rope as Level).plan!), 'draw'), round);
    const told = (text: string, is = 'changed') => [`${is} rope: Rope Walk${text}`];
    expect(drawn((plan) => stamped(plan, [[1, 1], [2, 1]], { ground: '#' }))).to.deep.equal(told(': other ground in 2 cells of its plan.')); // prettier-ignore
    expect(drawn((plan) => stamped(stamped(plan, [[13, 2]], { nothing: true }), [[14, 2]], { piece: 'lamp' }))).to.deep.equal(
      told(': Lamp drawn at 14, 2, no longer at 13, 2.')
    );
    expect(drawn((plan) => withPatrol(plan, 'gust', [[1, 1], [5, 1]], 'round'))).to.deep.equal(told(': the patrol Gust.', 'added')); // prettier-ignore
    expect(drawn((plan) => ({ ...plan, view: 'above' }))).to.deep.equal(told(', plan: view side → above.'));
    expect(drawn((plan) => resized(plan, 28, 16))).to.deep.equal(told(': its plan 28 × 15 → 28 × 16 cells.'));
    expect(said((now) => setPatrol(now, 'rope', 'gust_patrol', { speed: 3 }, 'quicker'), round)).to.deep.equal(
      told(', patrol Gust: speed gust_speed → 3.')
    );
    expect(said((now) => removePlan(now, 'rope'), round)).to.include('removed rope: Rope Walk: its plan.');
  });
});
