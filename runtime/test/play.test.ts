/** The package that games take in: held to play, and to what it promises where something is wrong. */
import { expect } from 'chai';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { randomFrom } from '@crow-lane/core/document/random';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { gameOf, type GameFile } from '@crow-lane/core/formats/game';
import { active } from '@crow-lane/core/play/state';
import { act, beginTrial, choicesOf } from '@crow-lane/core/trial/trial';
import { valueOf } from '@crow-lane/core/play/turn';
import { seed } from '../../core/test/support/compare.ts';
import { demo, flowOf, threeLamps } from '../../core/test/support/flows.ts';
import { randomFlow } from '../../core/test/support/random-flow.ts';
import { PlayError, restore, start, type Play, type Saved } from '../src/play.ts';
import { randoms } from '../../core/test/support/everyday.ts';

const lamps = gameOf(flowOf(threeLamps));
/** As a game gets it: from a file. */
const shipped = (document: FlowDocument) => JSON.parse(JSON.stringify(gameOf(document))) as GameFile;
const error = (run: () => unknown): string => {
  try {
    run();
  } catch (thrown) {
    expect(thrown).to.be.instanceOf(PlayError);
    return (thrown as Error).message;
  }
  throw new Error('nothing was thrown');
};
/** Plays some events at random. */
function some(play: Play, events: number, random: () => number): void {
  for (let n = 0; n < events; n++) {
    const can = play.choices().filter(({ does }) => does);
    if (can.length === 0) return;
    play.do(can[Math.floor(random() * can.length)]!.event);
  }
}

describe('a game played by the package', () => {
  it('goes as play says, draws and all', () => {
    const holds = (document: FlowDocument) => {
      let trial = beginTrial(document, 1);
      if (!trial) return;
      const draws: number[] = [];
      const play = start(shipped(document), { random: () => draws.shift() ?? 0 });
      // what the trial draws is drawn here too, as far as one is drawn at a time
      const random = randomFrom(seed);
      for (let n = 0; n < 40; n++) {
        const flow = trial.flow;
        const isDrawn: boolean = trial.lines.some(({ step }) => step.draws);
        if (isDrawn) return;
        expect(play.place.id).to.equal(active(trial.state).place);
        for (const id of Object.keys(document.variables)) expect(play.values[id]).to.equal(valueOf(flow, trial.state, id));
        const choices = choicesOf(trial);
        expect(play.choices().map(({ event }) => event)).to.deep.equal(choices);
        if (choices.length === 0) return;
        const event = choices[Math.floor(random() * choices.length)]!;
        const told = play.choices().find((each) => each.event === event || JSON.stringify(each.event) === JSON.stringify(event))!;
        trial = act(trial, event);
        const line = trial.lines.at(-1)!;
        if (line.step.draws) return;
        if (!line.state) {
          expect(told.does).to.equal(undefined);
          expect(error(() => play.do(event))).to.include('never settles');
          return;
        }
        expect(play.do(event)).to.deep.equal(told.does);
        expect(told.does!.fired).to.deep.equal(line.fired);
      }
    };
    ['lamplighters-round', 'ferry-rooms', 'night-market'].map(demo).forEach(holds);
    fc.assert(fc.property(randomFlow, holds), { numRuns: randoms(150), seed });
  });

  it('says what can be done in words, what it would come to, and what happened', () => {
    const play = start(lamps);
    const happened: string[] = [];
    play.on('entered', ({ place }) => happened.push(`entered ${place}`));
    const off = play.on('left', ({ place }) => happened.push(`left ${place}`));
    play.on('fired', ({ rule }) => happened.push(`fired ${rule}`));
    expect(play.choices()).to.deep.equal([
      { event: { press: 'Begin' }, label: 'press Begin', does: { fired: ['begin'], place: 'quay', values: {} } }
    ]);
    play.do({ press: 'Begin' });
    expect(play.place).to.deep.equal({ id: 'quay', name: 'Quay Street', kind: 'level' });
    expect(play.left('lamp')).to.equal(3);
    play.do({ collect: 'lamp' });
    expect([play.left('lamp'), play.can({ collect: 'lamp' }), play.can({ press: 'Begin' })]).to.deep.equal([2, true, false]);
    expect(play.do({ touch: 'water' })).to.deep.equal({ fired: ['slip'], place: 'splash', values: { lives: 1 } });
    expect(happened).to.deep.equal(['fired begin', 'left title', 'entered quay', 'fired slip', 'left quay', 'entered splash']);
    off();
    expect(play.timers()).to.deep.equal([{ event: { time: true }, at: 2 }]);
    play.do({ time: true });
    expect(happened.slice(6)).to.deep.equal(['fired retry', 'entered quay']);
  });

  it('draws by the numbers that it is given', () => {
    const drawn = (random: () => number) => {
      const play = start(shipped(demo('night-market')), { random });
      some(play, 30, randomFrom(3));
      return JSON.stringify(play.save());
    };
    expect(drawn(randomFrom(1))).to.equal(drawn(randomFrom(1)));
    expect(new Set([1, 2, 3, 4, 5].map((from) => drawn(randomFrom(from)))).size).to.be.greaterThan(1);
    expect(() => drawn(() => 1)).not.to.throw();
  });

  it('says what is wrong with the values that it was asked with, and leaves all as it is', () => {
    const play = start(lamps);
    const before = JSON.stringify(play.save());
    expect(error(() => play.do({ press: 'Jump' }))).to.equal(
      '{"press":"Jump"} cannot be done in Title ("title"): what can is {"press":"Begin"}'
    );
    expect(error(() => play.left('lamp'))).to.equal('Title ("title") has no piece "lamp"');
    expect(error(() => play.on('jumped' as 'left', () => {}))).to.include('not "jumped"');
    expect(JSON.stringify(play.save())).to.equal(before);
    expect(error(() => start(demo('ferry-rooms') as unknown as GameFile))).to.include('convert FILE --to game');
    expect(error(() => start({ ...lamps, format: 'x' } as unknown as GameFile))).to.include('not "x"');
    expect(error(() => start({ ...lamps, version: 3 } as unknown as GameFile))).to.include('version 3');
    expect(error(() => start({ ...lamps, flow: { ...lamps.flow, start: 'gone' } }))).to.include('begins in "gone"');
  });
});

describe('a saved game', () => {
  it('goes on exactly where it was', () => {
    const holds = (document: FlowDocument) => {
      const game = shipped(document);
      let play: Play;
      try {
        play = start(game, { random: randomFrom(1) });
      } catch (thrown) {
        if (thrown instanceof PlayError) return;
        throw thrown;
      }
      for (let n = 0; n < 6; n++) {
        some(play, 8, randomFrom(n));
        const saved = JSON.parse(JSON.stringify(play.save())) as Saved;
        const again = restore(game, saved, { random: randomFrom(1) });
        expect(JSON.parse(JSON.stringify(again.save()))).to.deep.equal(saved);
        expect(again.choices()).to.deep.equal(play.choices());
        expect(again.message).to.equal(play.message);
      }
    };
    ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms', 'night-market'].map(demo).forEach(holds);
    fc.assert(fc.property(randomFlow, holds), { numRuns: randoms(150), seed });
  });

  it('is taken up by another version as far as that has what it holds, and can be played on there', () => {
    let gone = 0;
    let taken = 0;
    fc.assert(
      fc.property(randomFlow, randomFlow, (one, other) => {
        let play: Play;
        try {
          play = start(shipped(one));
        } catch {
          return;
        }
        some(play, 20, randomFrom(5));
        const count = { taken: () => taken++, gone: () => gone++ };
        for (const begin of [() => restore(shipped(other), play.save()), () => start(shipped(other), { slots: play.slots() })]) {
          let there: Play | undefined;
          try {
            there = begin();
          } catch (thrown) {
            // its place is gone, or the other flow cannot begin at all
            if (!(thrown instanceof PlayError)) throw thrown;
          }
          if (there) some(there, 20, randomFrom(6));
          count[there ? 'taken' : 'gone']();
        }
      }),
      { numRuns: randoms(300), seed, endOnFailure: true }
    );
    expect(taken).to.be.greaterThan(randoms(200));
    expect(gone).to.be.at.least(randoms(6, 0));
  });

  it('is refused where it is none, or its place is gone', () => {
    const saved = start(lamps).save();
    expect(error(() => restore(lamps, { ...saved, format: 'x' } as unknown as Saved))).to.include('its format is "x"');
    expect(error(() => restore(lamps, { ...saved, version: 2 } as unknown as Saved))).to.include('version 2');
    const elsewhere = structuredClone(saved);
    elsewhere.state.stack[0]!.place = 'yard';
    expect(error(() => restore(lamps, elsewhere))).to.equal(
      'the saved game of Three lamps is in "yard", and Three lamps has no such place'
    );
    expect(error(() => restore(lamps, { ...saved, state: {} as Saved['state'] }))).to.include('is in no place');
  });

  it('is there the next time: what is kept, what was won, and every slot', () => {
    const flow = flowOf({
      ...threeLamps,
      saves: { slots: 2 },
      variables: { best: { name: 'Best', type: 'number', initial: 0, min: 0, max: 9, scope: 'kept' } },
      rules: [],
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'begin', when: { press: 'Begin' }, do: [{ begin: 'run' }], go: { place: 'quay' } },
            { id: 'on', when: { press: 'Continue' }, if: 'has(save)', go: { move: 'load' } }
          ]
        },
        quay: {
          name: 'Quay Street',
          kind: 'level',
          progress: 40,
          pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 3 } },
          rules: [{ id: 'mark', when: { collect: 'lamp' }, do: [{ set: 'best', to: 'best + 1' }, { save: 'always' }] }]
        }
      }
    });
    const first = start(gameOf(flow));
    const saves: object[] = [];
    first.on('saved', (what) => saves.push(what));
    first.do({ press: 'Begin' });
    first.do({ collect: 'lamp' });
    expect(saves).to.deep.equal([{ level: 'quay', progress: 40, slot: 0 }]);
    const slots = JSON.parse(JSON.stringify(first.slots())) as ReturnType<Play['slots']>;
    const later = start(gameOf(flow), { slots });
    expect([later.place.id, later.values.best]).to.deep.equal(['title', 1]);
    expect(later.do({ press: 'Continue' }).place).to.equal('quay');
    expect(start(gameOf(flow)).do({ press: 'Continue' }).place).to.equal('title');
    expect(error(() => start(gameOf(flow), { slots: first.save() as unknown as typeof slots }))).to.include('crow-lane-state');
  });
});

describe('the example in the README', () => {
  it('runs as it stands there', () => {
    const [, code] = /```js\n(.*?)```/s.exec(readFileSync('runtime/README.md', 'utf8'))!;
    const body = code!.replaceAll(/^import .*\n/gm, '');
    expect(
      body
        .trim()
        .split('\n')
        .filter((line) => line.trim() !== '' && !line.startsWith('//')).length
    ).to.be.at.most(30);
    const said: unknown[][] = [];
    const kept = new Map<string, string>();
    const storage = {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, text: string) => kept.set(key, text)
    };
    const run = () =>
      new Function('start', 'restore', 'game', 'console', 'localStorage', body)(
        start,
        restore,
        shipped(flowOf(threeLamps)),
        { log: (...what: unknown[]) => said.push(what) },
        storage
      ) as void;
    run();
    expect(said.map(([first]) => first)).to.deep.equal([
      'Title',
      'press Begin',
      'rule begin',
      'no longer in title',
      'now in quay',
      true
    ]);
    kept.set('slots', JSON.stringify(start(lamps).slots()));
    run();
    expect(said).to.have.length(12);
  });
});
