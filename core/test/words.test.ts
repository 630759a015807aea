import { expect } from 'chai';
import { likelyRule } from '../src/document/edits/rules.ts';
import { deadlineWords, stepWords } from '../src/words/steps.ts';
import {
  capital,
  conditionWords,
  effectWords,
  goalWords,
  ownerWords,
  plural,
  ruleWords,
  targetWords,
  triggerWords
} from '../src/words/words.ts';
import { textError, piecesAtHand } from '../src/play/scope.ts';
import { findRule, type Effect, type Target, type Trigger } from '../src/document/types.ts';
import { flowOf, threeLamps } from './support/flows.ts';

const document = flowOf({
  ...threeLamps,
  variables: {
    ...threeLamps.variables,
    bell: { name: 'Bell rung', type: 'flag', initial: false, scope: 'attempt' },
    hat: { name: 'Hat', type: 'choice', choices: ['red_one', 'blue'], initial: 'blue', scope: 'run' }
  },
  signals: { alarm: { name: 'Alarm' } },
  groups: { harbour: { name: 'Harbour' } }
});
const quay = { place: 'quay' };
const inQuay = (text: string) => conditionWords(document, quay, text);

describe('words: conditions', () => {
  const said: [string, string][] = [
    ['left(lamp) = 0', 'Lamp × 3 are all collected'],
    ['taken(lamp) >= 3', 'Lamp × 3 are all collected'],
    ['taken(lamp) >= 2', 'Lamp × 2 are collected'],
    ['taken(lamp) >= 1', '1 Lamp is collected'],
    ['left(lamp) < 2', 'Lamp left is less than 2'],
    ['lives = 0', 'Lives is 0'],
    ['lives != 2 and bell', 'Lives is not 2 and Bell rung'],
    ['not (bell or lives > 1)', 'not (Bell rung or Lives is more than 1)'],
    ['(bell or lives > 1) and bell', '(Bell rung or Lives is more than 1) and Bell rung'],
    ["hat = 'red_one'", 'Hat is red one'],
    ['won(loft)', 'Net Loft is won'],
    ['wins(main) >= 1', 'levels won of Round is at least 1'],
    ['min(lives, 2) * 2 - 1 > 0', 'the smaller of Lives and 2 × 2 − 1 is more than 0'],
    ['oil > 1', '"oil" (missing) is more than 1'],
    ['lives ==', 'lives ==']
  ];
  for (const [text, words] of said) it(`says ${text}`, () => expect(inQuay(text)).to.equal(words));

  it('says of a single piece that it is collected, of a foe that it is defeated', () => {
    const other = flowOf({
      start: 'a',
      places: {
        a: {
          name: 'A',
          kind: 'level',
          pieces: { gem: { name: 'Gem', kind: 'pickup' }, moth: { name: 'Moth', kind: 'foe', count: 2 } }
        }
      }
    });
    expect(conditionWords(other, { place: 'a' }, 'left(gem) = 0 and left(moth) = 0')).to.equal(
      'Gem is collected and Moth × 2 are all defeated'
    );
  });
});

describe('words: rules', () => {
  const rule = (when: Trigger) => ({ id: 'x', when });
  it('says when', () => {
    const said = (
      [
        { press: 'Go' },
        { touch: 'water' },
        { collect: 'lamp' },
        { after: 2 },
        { arrive: true },
        { hear: 'alarm' },
        { holds: 'lives = 0' },
        { choose: 'main' }
      ] as Trigger[]
    ).map((when) => triggerWords(document, quay, rule(when)));
    expect(said).to.deep.equal([
      'when Go is pressed',
      'when Harbour water is touched',
      'when Lamp is collected',
      'after 2 s',
      'on arrival',
      'when Alarm is raised',
      'once Lives is 0',
      'when a level of Round is chosen'
    ]);
  });

  it('says what', () => {
    const effects: Effect[] = [
      { set: 'lives', to: 'lives - 1' },
      { set: 'lives', to: 'lives + 2' },
      { set: 'lives', to: 'max(lives, 1)' },
      { set: 'bell', to: 'true' },
      { set: 'hat', to: "'blue'" },
      { reset: 'lives' },
      { raise: 'alarm' },
      { remove: 'lamp', by: 2 },
      { restore: 'lamp' },
      { begin: 'run' },
      { save: 'forward' },
      { save: 'always' },
      { forget: true },
      { erase: true }
    ];
    expect(effects.map((effect) => effectWords(document, quay, effect))).to.deep.equal([
      'take 1 from Lives',
      'add 2 to Lives',
      'set Lives to the larger of Lives and 1',
      'set Bell rung to yes',
      'set Hat to blue',
      'reset Lives',
      'raise Alarm',
      'remove Lamp × 2',
      'put every Lamp back',
      'begin a new run',
      'save, if further on',
      'save',
      'forget the save',
      'erase all progress'
    ]);
  });

  it('says where to', () => {
    const targets: Target[] = [
      { place: 'loft' },
      { place: 'gone' },
      { move: 'next', else: { place: 'aglow' } },
      { move: 'again' },
      { move: 'back' }
    ];
    expect(targets.map((target) => targetWords(document, target))).to.deep.equal([
      'Net Loft',
      '"gone" (missing)',
      'the next level, or The town aglow',
      'the same level again',
      'back'
    ]);
  });

  it('names a rule and who has it', () => {
    const { owner, rule: over } = findRule(document, 'over')!;
    expect(ruleWords(document, owner, over)).to.equal('“on arrival, if Lives is 0” in Overboard');
    expect([ownerWords(document, { flow: true }), ownerWords(document, { group: 'harbour' })]).to.deep.equal([
      'every level',
      'every level of Harbour'
    ]);
  });

  it('says how a level is won in a few words', () => {
    expect(['quay', 'loft', 'title'].map((id) => goalWords(document, id))).to.deep.equal(['Lamp × 3', 'Lamp × 2', '']);
    const bare = flowOf({
      start: 'a',
      places: { a: { name: 'A', kind: 'level' }, b: { name: 'B', kind: 'level', goal: 'leave' } }
    });
    expect([goalWords(bare, 'a'), goalWords(bare, 'b')]).to.deep.equal(['no way to win', 'leave it']);
  });

  it('says steps, with what was drawn', () => {
    expect(stepWords(document, { collect: 'lamp' }, 'quay')).to.equal('collect Lamp');
    expect(stepWords(document, { choose: 'loft' })).to.equal('choose Net Loft');
    expect(
      stepWords(document, {
        press: 'Go',
        draws: [
          { order: 'main', row: 1 },
          { order: 'main', level: 'quay' }
        ]
      })
    ).to.equal('press Go (Round: row 2 drawn, Round: Quay Street drawn)');
    expect(deadlineWords(document, 'splash')).to.equal('wait 2 s');
    expect(deadlineWords(document, 'title')).to.equal('wait for the next deadline');
  });

  it('never inflects what a designer has named', () => {
    const named = (name: string) =>
      flowOf({ start: 'a', places: { a: { name: 'A', kind: 'level', pieces: { p: { name, kind: 'pickup', count: 2 } } } } });
    for (const name of ['Moths', 'Life', 'Box of matches', 'Torch', '灯', 'Schlüssel']) {
      const said = ['left(p) = 0', 'taken(p) >= 1', 'left(p) > 1', 'taken(p) < 2'].map((text) =>
        conditionWords(named(name), { place: 'a' }, text)
      );
      const done = effectWords(named(name), { place: 'a' }, { remove: 'p', by: 2 });
      for (const text of [...said, done, effectWords(named(name), { place: 'a' }, { restore: 'p' })])
        expect(text).to.match(new RegExp(`(^|\\s)${name}(\\s|$)`));
    }
    expect([plural('level', 1), plural('level', 2)]).to.deep.equal(['level', 'levels']);
    expect(capital('when')).to.equal('When');
  });
});

describe('words: a text being typed', () => {
  it('is wrong at a column, or right, where it would stand', () => {
    expect(textError(document, quay, 'left(lamp) = 0', 'holds')).to.equal(undefined);
    expect(textError(document, quay, 'left(lamp)', 'holds')).to.deep.include({ column: 1 });
    expect(textError(document, { place: 'aglow' }, 'left(lamp) = 0', 'if')!.message).to.include('no piece');
    expect(textError(document, { place: 'title' }, 'won(previous)', 'if', true)).to.equal(undefined);
    expect(textError(document, { place: 'title' }, 'won(previous)', 'holds', true)!.message).to.include('chooses a level');
    expect(textError(document, quay, 'lives + 1', { assign: 'lives' })).to.equal(undefined);
    expect(textError(document, quay, 'bell', { assign: 'lives' })!.message).to.include('Lives is a number');
  });

  it('can name the pieces that are at hand', () => {
    expect(piecesAtHand(document, quay).map(([id]) => id)).to.deep.equal(['lamp', 'water']);
    expect(piecesAtHand(document, { place: 'title' }).map(([id]) => id)).to.deep.equal(['lamp', 'water']);
    expect(piecesAtHand(document, { place: 'aglow' })).to.deep.equal([]);
    expect(piecesAtHand(document, { group: 'harbour' })).to.deep.equal([]);
  });

  it('offers what other levels do', () => {
    expect(likelyRule(document, 'loft', 'lost').go).to.deep.equal({ place: 'splash' });
  });
});
