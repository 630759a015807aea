import { expect } from 'chai';
import { finish } from '../src/check/check.ts';
import { apply } from '../src/document/patch.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { arrivedAt, gameOf } from '../src/trial/beginnings.ts';
import { routeToUse, uncovered, usable, type RunUse } from '../src/trial/coverage.ts';
import { keepRun } from '../src/trial/runs.ts';
import { playSteps } from '../src/trial/trial.ts';
import { gameWords, valuesWords } from '../src/trial/words.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';

const flow = flowOf(threeLamps);
const withRun = (document: FlowDocument, name: string, steps: object[]) =>
  apply(document, keepRun(document, playSteps(document, steps as never)!.trial, name)!.patch);
const routeTo = (document: FlowDocument, use: RunUse) => finish(routeToUse(document, use));

describe('coverage', () => {
  it('names what no run uses', () => {
    const kept = withRun(flow, 'A fall', [{ press: 'Begin' }, { touch: 'water' }, { time: true }, { collect: 'lamp' }]);
    expect(uncovered(flow)).to.deep.equal(usable(flow));
    const { places, rules, buttons } = uncovered(kept);
    expect(places).to.deep.equal(['loft', 'aglow', 'dark']);
    expect(rules).to.have.members(['lit', 'lit2', 'over', 'home', 'home2']);
    expect(buttons).to.deep.equal([
      { owner: { place: 'aglow' }, label: 'Title', rule: 'home' },
      { owner: { place: 'dark' }, label: 'Title', rule: 'home2' }
    ]);
  });

  it('knows the doors between levels, each way of its own', () => {
    const rooms = demo('ferry-rooms');
    const { doors } = usable(rooms);
    expect(doors.length).to.be.greaterThan(4);
    const door = doors[0]!;
    const through = withRun(rooms, 'Through', routeTo(rooms, { rule: door.rule })!);
    const left = uncovered(through).doors;
    expect(left).to.not.deep.include(door);
    expect(left).to.deep.include(doors.find(({ from, to }) => from === door.to && to === door.from));
  });

  it('writes a run for every place and rule that can be used, which then uses it', () => {
    for (const document of [flow, demo('ferry-rooms')]) {
      const all = usable(document);
      for (const place of all.places)
        expect(uncovered(withRun(document, 'x', routeTo(document, { place })!)).places).to.not.include(place);
      for (const rule of all.rules) {
        const route = routeTo(document, { rule });
        if (route) expect(uncovered(withRun(document, 'x', route)).rules).to.not.include(rule);
      }
    }
  });

  it('counts what is met of a level, also on arrival and as it is won, and writes a run that meets it', () => {
    const [quay, loft] = [threeLamps.places.quay, threeLamps.places.loft];
    const asking = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        quay: {
          ...quay,
          objectives: { one: { text: 'Light one', met: 'taken(lamp) >= 1' }, up: { text: 'Be up', met: 'lives > 0' } }
        },
        loft: {
          ...loft,
          objectives: { all: { text: 'Light all', met: 'all(lamp)' }, more: { text: 'More', met: 'left(lamp) > 2' } }
        }
      }
    });
    expect(usable(asking).objectives).to.deep.equal(['quay/one', 'quay/up', 'loft/all', 'loft/more']);
    expect(uncovered(withRun(asking, 'In', [{ press: 'Begin' }])).objectives).to.not.include('quay/up');
    for (const objective of ['quay/one', 'loft/all'])
      expect(uncovered(withRun(asking, 'x', routeTo(asking, { objective })!)).objectives).to.not.include(objective);
    expect(routeTo(asking, { objective: 'loft/more' })).to.equal(undefined);
  });

  it('finds a place where something holds', () => {
    expect(routeTo(flow, { place: 'title', if: 'lives < 2' })).to.deep.equal(
      routeTo(flow, { place: 'title', if: 'lives = 0 or lives = 1' })
    );
    const route = routeTo(flow, { place: 'title', if: 'won(quay)' })!;
    expect(playSteps(flow, route)!.trial.state.won).to.have.property('quay');
    expect(routeTo(flow, { place: 'title', if: 'has(save)' }), 'nothing saves').to.equal(undefined);
  });

  it('finds a shared rule in one certain level, and nothing where it cannot fire', () => {
    const route = routeTo(flow, { rule: 'slip', level: 'quay' })!;
    expect(route).to.deep.equal([{ press: 'Begin' }, { touch: 'water' }]);
    // there is no water in the loft
    expect(routeTo(flow, { rule: 'slip', level: 'loft' })).to.equal(undefined);
    expect(routeTo(flow, { rule: 'nothing' })).to.equal(undefined);
    const round = demo('lamplighters-round');
    const shared = round.rules.find(({ when }) => 'press' in when)!;
    const level = Object.keys(round.places).filter((id) => round.places[id]!.kind === 'level')[3]!;
    const steps = routeTo(round, { rule: shared.id, level })!;
    const line = playSteps(round, steps)!.trial.lines.at(-1)!;
    expect(line.fired).to.include(shared.id);
    expect(line.bottom).to.equal(level);
  });
});

describe('beginnings', () => {
  it('are the arrivals at a place, with the game they are in and where a loss would lead', () => {
    const { arrivals, complete } = finish(arrivedAt(flow, 'quay', 10));
    expect(complete).to.equal(true);
    expect(arrivals.map(({ values, game, losses }) => [values.lives, gameWords(game), losses])).to.deep.equal([
      [2, 'first game', ['splash']],
      [1, 'first game', ['dark']],
      [0, 'second game', ['dark']]
    ]);
    for (const { route, values } of arrivals) expect(playSteps(flow, route)!.trial.state.run).to.deep.equal(values);
  });

  it('know in which game a trial is', () => {
    const play = (...steps: object[]) => gameWords(gameOf(playSteps(flow, steps as never)!.trial));
    const lost = [{ press: 'Begin' }, { touch: 'water' }, { time: true }, { touch: 'water' }];
    expect(play()).to.equal('first game');
    expect(play({ press: 'Begin' })).to.equal('first game');
    expect(play(...lost)).to.equal('after the first game');
    expect(play(...lost, { press: 'Title' })).to.equal('after the first game');
    expect(play(...lost, { press: 'Title' }, { press: 'Begin' })).to.equal('second game');
    expect(valuesWords(flow, { lives: 1 })).to.equal('Lives 1');
    expect(valuesWords(flow, { lives: 2 })).to.equal('all values as they begin');
  });
});
