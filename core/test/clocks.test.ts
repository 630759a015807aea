/** Clocks that repeat, named numbers, and what choices are called. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { addNumber, setNumber } from '../src/document/edits/lists.ts';
import { timesIn } from '../src/document/numbers.ts';
import { apply } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { messageIn } from '../src/play/messages.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { verdictKey } from '../src/report/report.ts';
import { nextMoment } from '../src/trial/clock.ts';
import { act, beginTrial, playSteps, type Trial } from '../src/trial/trial.ts';
import { outcomeWords } from '../src/trial/words.ts';
import { ConditionNames } from '../src/words/named.ts';
import { conditionWords, ruleWords } from '../src/words/words.ts';
import { compare } from './support/compare.ts';
import { flowOf, Player, threeLamps } from './support/flows.ts';

const { quay } = threeLamps.places;
const clocked = (rules: object[], more: object = {}) =>
  flowOf({ ...threeLamps, ...more, places: { ...threeLamps.places, quay: { ...quay, rules: [...quay.rules, ...rules] } } });
const tick = (every: number | string, more: object = {}) => ({
  id: `t${String(every).replace('.', '_')}`,
  when: { every },
  ...more
});
const late = (after: number, more: object = {}) => ({
  id: `late${String(after).replace('.', '_')}`,
  when: { after },
  go: { place: 'splash' },
  ...more
});
const timeIn = (player: Player) => player.events.filter((event) => 'every' in event || 'time' in event);
const pace = { numbers: { pace: { name: 'Pace', value: 1.2 }, goal: { name: 'Goal', value: 2 } } };

describe('a clock that repeats', () => {
  it('ticks at any time where no deadline is', () => {
    const player = new Player(clocked([tick(0.5, { do: [{ set: 'lives', to: 'lives - 1' }] })])).press('Begin');
    for (let n = 0; n < 2; n++) player.do({ every: 0.5 });
    expect(player.value('lives')).to.equal(0);
    expect(timeIn(player)).to.deep.equal([{ every: 0.5 }]);
  });

  it('ticks in order with the deadlines: all that are due before one passes, none that is due behind it', () => {
    const player = new Player(clocked([tick(1), late(2), late(3.5, { go: undefined }), tick(1.6)])).press('Begin');
    expect(timeIn(player)).to.deep.equal([{ every: 1 }, { every: 1.6 }]);
    player.do({ every: 1 }, { every: 1.6 });
    expect(timeIn(player), 'the tick at the deadline comes before it').to.deep.equal([{ every: 1 }]);
    player.do({ every: 1 });
    expect(timeIn(player)).to.deep.equal([{ time: true }]);
  });

  it('is held to decimals exactly', () => {
    expect([timesIn(0.3, 0.1), timesIn(3600, 0.1), timesIn(1, 0.3), timesIn(0.0000003, 0.0000001)]).to.deep.equal([
      3, 36_000, 3, 3
    ]);
    const player = new Player(clocked([tick(0.1), late(0.3)])).press('Begin');
    for (let n = 0; n < 3; n++) player.do({ every: 0.1 });
    expect(timeIn(player)).to.deep.equal([{ time: true }]);
  });

  it('is free of order where too many of its ticks lie before the last deadline, which is said', () => {
    const player = new Player(clocked([tick(0.001), late(2)])).press('Begin');
    expect(timeIn(player)).to.deep.equal([{ every: 0.001 }, { time: true }]);
    const settles = (document: FlowDocument) =>
      check(document).checks.find((each) => verdictKey(each) === 'always-settles quay')!.message;
    expect(settles(clocked([tick(0.001), late(2)]))).to.contain('more than 1000 ticks lie before its last deadline');
    expect(settles(clocked([tick(0.01), late(2)]))).not.to.contain('ticks');
  });

  it('begins anew with each arrival, and stands while a menu is open over it', () => {
    const document = flowOf({
      ...threeLamps,
      rules: [{ id: 'pause', when: { press: 'Pause' }, go: { place: 'pause', over: true } }],
      places: {
        ...threeLamps.places,
        pause: { name: 'Pause', kind: 'menu', rules: [{ id: 'on', when: { press: 'On' }, go: { move: 'back' } }] },
        quay: {
          ...quay,
          rules: [...quay.rules, tick(1), late(2), { id: 'anew', when: { press: 'Over' }, go: { move: 'again' } }]
        }
      }
    });
    const player = new Player(document).press('Begin').do({ every: 1 }).press('Pause');
    expect(timeIn(player)).to.deep.equal([]);
    player.press('On').do({ every: 1 });
    expect(timeIn(player)).to.deep.equal([{ time: true }]);
    player.press('Over');
    expect(timeIn(player)).to.deep.equal([{ every: 1 }]);
    expect(compare(document, 5000)).to.equal(true);
  });

  it('is told in its true order in a trial', () => {
    let trial: Trial = act(beginTrial(clocked([tick(1.5), tick(2), late(3), late(4, { go: undefined })]))!, { press: 'Begin' });
    const told: [number, string][] = [];
    for (let n = 0; n < 5; n++) {
      const { event, at } = nextMoment(trial)!;
      told.push([at, 'every' in event ? `every ${event.every}` : 'deadline']);
      trial = act(trial, event);
      if (trial.lines.at(-1)!.entered.length > 0) break;
    }
    expect(told).to.deep.equal([
      [1.5, 'every 1.5'],
      [2, 'every 2'],
      [3, 'every 1.5'],
      [3, 'deadline']
    ]);
  });
});

describe('a named number', () => {
  it('stands for seconds and in conditions, so that one change changes all', () => {
    const document = clocked(
      [tick('pace'), { id: 'slow', when: { after: 'pace' } }, { id: 'two', when: { holds: 'taken(lamp) = goal' } }],
      pace
    );
    const player = new Player(document).press('Begin');
    expect(timeIn(player)).to.deep.equal([{ every: 'pace' }]);
    expect(ruleWords(document, { place: 'quay' }, document.places.quay!.rules[1]!)).to.equal(
      '“every Pace (1.2 s)” in Quay Street'
    );
    expect(conditionWords(document, { place: 'quay' }, 'taken(lamp) = goal')).to.equal('Lamp collected is Goal (2)');
    const goal = (value: number) => check(apply(document, setNumber(document, 'goal', value).patch)).checks;
    const counts = (value: number) => goal(value).find((each) => verdictKey(each) === 'goal-count two')!.outcome;
    expect([counts(2), counts(4)]).to.deep.equal(['holds', 'fails']);
    expect(new ConditionNames(document, { place: 'quay' }).kept('taken(Lamp) = Goal').text).to.equal('taken(lamp) = goal');
    expect(read(write(document)).document).to.deep.equal({ ...document, version: 2 });
    expect(addNumber(document, { name: 'Lives', value: 1 }).id, 'no value has its id').to.equal('lives_2');
  });

  it('that is gone, not above 0 or not whole is told with its place and sets its rule aside', () => {
    const wrong = (rules: object[]) =>
      check(clocked(rules, { numbers: { pace: { name: 'Pace', value: 1.2 }, zero: { name: 'Zero', value: 0 } } })).checks.filter(
        ({ check: name }) => name === 'reference' || name === 'condition'
      );
    const [gone] = wrong([tick('pase')]);
    expect([gone!.pointer, gone!.message]).to.deep.equal([
      '/places/quay/rules/1/when/every',
      'The rule “every "pase" (missing)” in Quay Street does not fit: There is no number "pase".'
    ]);
    const document = clocked([tick('pase')], pace);
    expect(
      repairsOf(
        document,
        check(document).checks.find(({ check: name }) => name === 'reference')!
      )[0]!.label
    ).to.equal('Change it to Pace');
    expect(wrong([tick('zero')])[0]!.message).to.contain('Zero is 0, and seconds are above 0.');
    expect(wrong([late(1, { by: { style: 'fade', out: 'zero', in: 'pace' } })])).to.deep.equal([]);
    expect(wrong([{ id: 'x', when: { holds: 'lives = pace' } }])[0]!.message).to.contain('only whole numbers can be asked for');
  });
});

describe('what a choice is called', () => {
  const mood = {
    mood: {
      name: 'Mood',
      type: 'choice',
      choices: ['calm', 'well_done'],
      labels: { well_done: 'Well done!' },
      initial: 'calm',
      scope: 'run'
    }
  };
  const set = { id: 'set', when: { press: 'Set' }, do: [{ set: 'mood', to: "'well_done'" }] };
  const document = clocked([set], { variables: { ...threeLamps.variables, ...mood } });

  it('is what players and designers read', () => {
    const { trial } = playSteps(document, [{ press: 'Begin' }, { press: 'Set' }])!;
    expect(outcomeWords(document, trial.lines.at(-1)!)).to.equal('Mood calm → Well done!');
    expect(conditionWords(document, { flow: true }, "mood = 'well_done'")).to.equal('Mood is Well done!');
    const titled = { ...document, places: { ...document.places, quay: { ...document.places.quay!, message: 'So: {mood}' } } };
    const player = new Player(titled).press('Begin', 'Set');
    expect(messageIn(player.flow, player.state)).to.equal('So: Well done!');
    expect(read(write(document)).document).to.deep.equal({ ...document, version: 2 });
  });

  it('is refused for what is none of its choices', () => {
    const wrong = structuredClone(document) as unknown as { variables: { mood: { labels: object } } };
    wrong.variables.mood.labels = { angry: 'Angry' };
    expect(validate(wrong).errors![0]!.message).to.contain('has a label for angry, which is none of its choices');
  });
});
