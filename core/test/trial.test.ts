import { expect } from 'chai';
import fc from 'fast-check';
import { check, finish } from '../src/check/check.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { keyOf } from '../src/play/state.ts';
import {
  act,
  beginFrom,
  beginTrial,
  choicesOf,
  drawsOf,
  lineOf,
  playSteps,
  rewind,
  stepsOf,
  withValue,
  type Trial
} from '../src/trial/trial.ts';
import { kindsIn, walk, type Weights } from '../src/trial/walks.ts';
import { lineWords, outcomeWords } from '../src/trial/words.ts';
import { seed } from './support/compare.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randomFrom } from '../src/document/random.ts';

const flow = flowOf(threeLamps);
const market = demo('night-market');

/** Does some random events. */
function wander(document: FlowDocument, seed: number, events: number): Trial | undefined {
  const random = randomFrom(seed);
  let trial = beginTrial(document, seed);
  for (let n = 0; trial && n < events; n++) {
    const choices = choicesOf(trial);
    if (choices.length === 0) break;
    trial = act(trial, choices[Math.floor(random() * choices.length)]!);
  }
  return trial;
}

const done = (document: FlowDocument, ...events: object[]) => playSteps(document, events as never)!.trial;
const last = (trial: Trial) => trial.lines.at(-1)!;

describe('a trial', () => {
  it('says of every control beforehand what it would do, and of every line what it did', () => {
    const trial = done(flow, { press: 'Begin' }, { collect: 'lamp' }, { collect: 'lamp' });
    const says = (event: object) => outcomeWords(flow, lineOf(trial, event as never));
    expect(says({ collect: 'lamp' })).to.equal('wins, to Net Loft');
    expect(says({ touch: 'water' })).to.equal('loses, to Overboard; Lives 2 → 1');
    const lost = act(trial, { touch: 'water' });
    expect(outcomeWords(flow, last(lost))).to.equal(says({ touch: 'water' }));
    expect(lineWords(flow, trial.lines[2]!)).to.equal('collect Lamp: Lamp left 3 → 2');
    expect(last(lost).fired).to.deep.equal(['slip']);
    expect(lineWords(flow, last(lost))).to.equal(
      'touch Harbour water: loses, to Overboard; Lives 2 → 1 (“when Harbour water is touched” in every level: take 1 from Lives)'
    );
  });

  it('says why nothing happens', () => {
    const document = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        title: {
          ...threeLamps.places.title,
          rules: [...threeLamps.places.title.rules, { id: 'end', when: { press: 'End' }, if: 'lives = 0', go: { place: 'dark' } }]
        },
        quay: { ...threeLamps.places.quay, pieces: { ...threeLamps.places.quay.pieces, rope: { name: 'Rope', kind: 'switch' } } }
      }
    });
    const title = beginTrial(document)!;
    expect(outcomeWords(document, lineOf(title, { press: 'End' }))).to.equal('nothing: only if Lives is 0');
    const quay = done(document, { press: 'Begin' });
    expect(outcomeWords(document, lineOf(quay, { touch: 'rope' }))).to.equal('nothing: no rule responds');
  });

  it('tells what the player sees until the screen is covered, and what only afterwards', () => {
    const quay = threeLamps.places.quay;
    const document = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        quay: {
          ...quay,
          pieces: { ...quay.pieces, rope: { name: 'Rope', kind: 'switch' } },
          rules: [
            ...quay.rules,
            {
              id: 'pull',
              when: { touch: 'rope' },
              do: [
                { set: 'lives', to: '1', at: 'leaving' },
                { restore: 'lamp', at: 'hidden' }
              ],
              go: { place: 'loft' },
              by: { style: 'fade', out: 1, colour: '#ffffff' }
            }
          ]
        }
      }
    });
    const trial = done(document, { press: 'Begin' }, { collect: 'lamp' }, { touch: 'rope' });
    const { leaving } = last(trial).moves[0]!;
    expect(leaving.stack.at(-1)!.place).to.equal('quay');
    expect(leaving.run.lives, 'seen').to.equal(1);
    expect(leaving.pieces.lamp, 'unseen').to.equal(2);
    expect(trial.state.stack.at(-1)!.place).to.equal('loft');
    expect(lineWords(document, last(trial))).to.include('set Lives to 1 (seen while leaving), put every Lamp back (unseen)');
  });

  it('says what a checkpoint saved, and when there is nothing further on to save', () => {
    const quay = threeLamps.places.quay;
    const document = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        quay: {
          ...quay,
          progress: 3,
          entries: { gate: { name: 'Gate' }, post: { name: 'Post side' } },
          pieces: {
            ...quay.pieces,
            post: { name: 'Post', kind: 'checkpoint', progress: 5 },
            book: { name: 'Book', kind: 'switch' }
          },
          rules: [
            ...quay.rules,
            { id: 'save', when: { touch: 'post' }, do: [{ save: 'forward' }] },
            { id: 'burn', when: { touch: 'book' }, do: [{ forget: true }] }
          ]
        }
      }
    });
    const trial = done(document, { press: 'Begin' }, { touch: 'post' });
    const says = (of: Trial, event: object) => outcomeWords(document, lineOf(of, event as never));
    expect(outcomeWords(document, last(trial))).to.equal('saved: Quay Street at Post side, progress 5; Lives 2');
    expect(says(trial, { touch: 'post' })).to.equal('nothing saved: the save at Quay Street is as far on');
    expect(says(trial, { touch: 'book' })).to.equal('the saved game is gone');
    expect(says(act(trial, { touch: 'book' }), { touch: 'book' })).to.equal('no visible change');
  });

  it('is gone back in, and goes on from there another way', () => {
    const trial = done(flow, { press: 'Begin' }, { touch: 'water' }, { time: true });
    const back = rewind(trial, 1);
    expect(keyOf(back.state)).to.equal(keyOf(done(flow, { press: 'Begin' }).state));
    expect(back.lines).to.have.length(2);
    expect(last(act(back, { collect: 'lamp' })).pieces).to.deep.equal([{ piece: 'lamp', from: 3, to: 2 }]);
    expect(trial.lines, 'what it was made from').to.have.length(4);
  });

  it('takes made-up values, says from where on, and forgets that by going back', () => {
    const trial = withValue(done(flow, { press: 'Begin' }), 'lives', 1);
    expect(trial.madeUp).to.equal(1);
    const fallen = act(act(trial, { touch: 'water' }), { press: 'Title' });
    expect(fallen.lines[2]!.entered).to.deep.equal(['splash', 'dark']);
    expect(fallen.madeUp).to.equal(1);
    expect(rewind(fallen, 0).madeUp).to.equal(undefined);
  });

  it('begins in any place with all values as they begin', () => {
    const trial = beginFrom(flow, { at: 'loft' })!;
    expect(trial.state.stack.map(({ place }) => place)).to.deep.equal(['loft']);
    expect(outcomeWords(flow, lineOf(act(trial, { collect: 'lamp' }), { collect: 'lamp' }))).to.equal('wins, to The town aglow');
  });

  it('begins as a returning player, with what was kept and won before', () => {
    const back = flowOf({
      ...threeLamps,
      variables: { ...threeLamps.variables, badge: { name: 'Badge', type: 'flag', initial: false, scope: 'kept' } },
      places: {
        ...threeLamps.places,
        title: {
          ...threeLamps.places.title,
          rules: [
            { id: 'welcome', when: { arrive: true }, if: 'badge and won(quay)', go: { place: 'loft' } },
            ...threeLamps.places.title.rules
          ]
        }
      }
    });
    const at = (from: object) => beginFrom(back, from)!.state.stack[0]!.place;
    expect(at({})).to.equal('title');
    expect(at({ kept: { badge: true } })).to.equal('title');
    expect(at({ kept: { badge: true }, won: ['quay'] })).to.equal('loft');
    expect(beginFrom(back, { at: 'nowhere' })).to.equal(undefined);
  });

  it('names the draws an event can make, and makes the one that is wanted', () => {
    const trial = beginTrial(market)!;
    const [event] = choicesOf(trial).filter((each) => drawsOf(trial, each).length > 0);
    const draws = drawsOf(trial, event!);
    expect(new Set(draws.map((each) => JSON.stringify(each))).size).to.equal(draws.length);
    for (const wanted of draws) expect(last(act(trial, event!, wanted)).step.draws).to.deep.equal(wanted);
    expect(drawsOf(beginTrial(flow)!, { press: 'Begin' })).to.deep.equal([]);
  });

  it('repeats itself by its seed, and draws what is forced', () => {
    const night = { press: 'Go in for the night' };
    const first = (seed: number) => last(act(beginTrial(market, seed)!, night)).entered[0];
    expect(first(5)).to.equal(first(5));
    expect(new Set(Array.from({ length: 40 }, (_, seed) => first(seed))).size).to.be.greaterThan(3);
    const forced = act(beginTrial(market)!, night, [{ order: 'night', level: 'birds' }]);
    expect(last(forced).entered).to.deep.equal(['birds']);
    expect(stepsOf(forced)).to.deep.equal([{ ...night, draws: [{ order: 'night', level: 'birds' }] }]);
  });

  it('plays again to the same from its own steps, whatever the flow', () => {
    let played = 0;
    fc.assert(
      fc.property(randomFlow, fc.nat(1000), (document, seed) => {
        const trial = wander(document, seed, 12);
        if (!trial) return;
        played++;
        const again = playSteps(document, stepsOf(trial), seed + 1)!;
        expect(again.played).to.equal(trial.lines.length - 1);
        expect(keyOf(again.trial.state)).to.equal(keyOf(trial.state));
        expect(again.trial.lines.map(({ fired }) => fired)).to.deep.equal(trial.lines.map(({ fired }) => fired));
      }),
      { numRuns: 200, seed }
    );
    expect(played).to.be.greaterThan(150);
  });

  it('plays the routes of the checks, and stops where a step cannot happen', () => {
    const { checks } = check(flow);
    for (const { check: name, subject, route } of checks) {
      if (name !== 'place-reached' || !route) continue;
      const { trial, played } = playSteps(flow, route)!;
      expect(played).to.equal(route.length);
      if (route.length > 0) expect(last(trial).entered).to.include(subject);
    }
    expect(playSteps(flow, [{ press: 'Begin' }, { press: 'Begin' }])!.played).to.equal(1);
  });
});

describe('random walks', () => {
  const walks = (games: number, most: number, seed: number, weights?: Weights) => finish(walk(flow, games, most, seed, weights));
  it('play the same games for the same seed, each to one end', () => {
    const found = walks(200, 100, 3);
    expect(found).to.deep.equal(walks(200, 100, 3));
    expect(found).not.to.deep.equal(walks(200, 100, 4));
    expect(found.games).to.equal(200);
    expect(Object.values(found.endings).reduce((a, b) => a + b, 0) + found.unended).to.equal(200);
    expect(found.places.title).to.equal(200);
    expect(found.lengths.every((length) => length <= 100)).to.equal(true);
    expect(found.endings.dark).to.be.greaterThan(0);
    expect(found.endings.aglow).to.be.greaterThan(0);
  });

  it('do what weighs more more often, and what weighs nothing never', () => {
    expect(kindsIn(flow)).to.have.members(['press Begin', 'press Title', 'time', 'touch water', 'collect lamp']);
    const dry = walks(100, 200, 1, { 'touch water': 0 });
    expect(dry.endings).to.deep.equal({ aglow: 100 });
    const lossesAt = (weight: number) => walks(300, 200, 1, { 'touch water': weight }).endings.dark ?? 0;
    expect(lossesAt(5)).to.be.greaterThan(lossesAt(1));
    expect(lossesAt(1)).to.be.greaterThan(lossesAt(0.1));
    // where nothing that is left may be done, the game is given up
    expect(walks(5, 200, 1, { 'press Begin': 0 })).to.deep.include({ unended: 5 });
  });

  it('give up games that do not end in time', () => {
    expect(walks(20, 1, 1)).to.deep.include({ unended: 20, endings: {} });
  });
});
