import { expect } from 'chai';
import fc from 'fast-check';
import { changePiece } from '../src/document/edits/parts.ts';
import { check } from '../src/check/check.ts';
import { renamePlace } from '../src/document/edits/places.ts';
import { changeRule } from '../src/document/edits/rules.ts';
import { apply } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import { findRule, type FlowDocument, type Step } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { runTimes } from '../src/trial/run-times.ts';
import { keepRun, recordAnew, removeRun, renameRun, replayRun, setBug, setRunExpects } from '../src/trial/runs.ts';
import { act, beginFrom, beginTrial, choicesOf, playSteps, withValue } from '../src/trial/trial.ts';
import { seed } from './support/compare.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randomFrom } from '../src/document/random.ts';

const flow = flowOf(threeLamps);
const trial = playSteps(flow, [{ press: 'Begin' }, { touch: 'water' }, { time: true }, { collect: 'lamp' }])!.trial;
const kept = apply(flow, keepRun(flow, trial, 'A fall')!.patch);

describe('recorded runs', () => {
  it('keep what was done and what came of it, survive a file, and are taken back', () => {
    const run = kept.runs.a_fall!;
    expect(run.steps[2]).to.deep.equal({ touch: 'water', then: { in: 'splash', rules: ['slip'], values: { lives: 1 } } });
    expect(validate(kept).errors).to.equal(undefined);
    expect(read(write(kept)).document).to.deep.equal(kept);
    expect(apply(kept, keepRun(flow, trial, 'A fall')!.inverse)).to.deep.equal(flow);
    const renamed = apply(kept, renameRun(kept, 'a_fall', 'One fall').patch);
    expect(renamed.runs.a_fall!.name).to.equal('One fall');
    expect(apply(kept, removeRun(kept, 'a_fall').patch)).to.deep.equal(flow);
  });

  it('go as recorded until the flow changes, and then say where they go another way', () => {
    expect(replayRun(kept, kept.runs.a_fall!)).to.deep.equal({ goes: 'as recorded' });
    // a name is nothing that play sees
    const named = apply(kept, renamePlace(kept, 'quay', 'Pier').patch);
    expect(replayRun(named, named.runs.a_fall!).goes).to.equal('as recorded');
    const { id, ...rest } = findRule(kept, 'slip')!.rule;
    const harder = apply(kept, changeRule(kept, id, { ...rest, do: [{ set: 'lives', to: 'lives - 2' }] }).patch);
    expect(replayRun(harder, harder.runs.a_fall!)).to.deep.equal({
      goes: 'differently',
      at: 2,
      before: { in: 'splash', rules: ['slip'], values: { lives: 1 } },
      now: { in: 'dark', rules: ['slip', 'over'], values: { lives: 0 } }
    });
    const anew = apply(harder, recordAnew(harder, 'a_fall').patch);
    expect(replayRun(anew, anew.runs.a_fall!)).to.deep.equal({ goes: 'as recorded' });
    expect(anew.runs.a_fall!.steps).to.have.length(3);
  });

  it('say which step cannot happen any more', () => {
    const one = apply(kept, changePiece(kept, 'quay', 'water', { kind: 'pickup' }).patch);
    expect(replayRun(one, one.runs.a_fall!)).to.deep.include({ goes: 'differently', at: 2, now: undefined });
  });

  it('are none where values were made up', () => {
    expect(keepRun(flow, withValue(trial, 'lives', 2), 'Dreamt')).to.equal(undefined);
  });

  it('are none where the game was begun elsewhere or by a returning player', () => {
    expect(keepRun(flow, beginFrom(flow, { at: 'loft' })!, 'In the middle')).to.equal(undefined);
    expect(keepRun(flow, beginFrom(flow, { won: ['quay'] })!, 'Been here')).to.equal(undefined);
  });

  it('hold conditions on the way, also after they are recorded anew', () => {
    const expecting = apply(kept, setRunExpects(kept, 'a_fall', 2, ['lives = 1']).patch);
    expect(validate(expecting).errors).to.equal(undefined);
    expect(read(write(expecting)).document).to.deep.equal(expecting);
    expect(replayRun(expecting, expecting.runs.a_fall!)).to.deep.equal({ goes: 'as recorded' });
    const otherwise = apply(expecting, setRunExpects(expecting, 'a_fall', 2, ['lives = 1', 'lives = 2']).patch);
    expect(replayRun(otherwise, otherwise.runs.a_fall!)).to.deep.equal({
      goes: 'against',
      at: 2,
      expected: 'lives = 2',
      readable: true
    });
    const unreadable = apply(kept, setRunExpects(kept, 'a_fall', 2, ['oil > 2']).patch);
    expect(replayRun(unreadable, unreadable.runs.a_fall!)).to.deep.include({ goes: 'against', readable: false });
    const anew = apply(otherwise, recordAnew(otherwise, 'a_fall').patch);
    expect(anew.runs.a_fall!.steps[2]!.expects).to.deep.equal(['lives = 1', 'lives = 2']);
    expect(apply(expecting, setRunExpects(expecting, 'a_fall', 2, []).patch)).to.deep.equal(kept);
    const first = keepRun(flow, trial, 'A fall', new Map([[2, ['lives = 1']]]))!;
    expect(apply(flow, first.patch)).to.deep.equal(expecting);
  });

  it('can be right where the flow is wrong, until they are recorded anew', () => {
    const marked = apply(kept, setBug(kept, 'a_fall', 'falls twice').patch);
    expect(validate(marked).errors).to.equal(undefined);
    expect(read(write(marked)).document).to.deep.equal(marked);
    expect(apply(marked, setBug(marked, 'a_fall', 'still').patch).runs.a_fall!.bug).to.equal('still');
    expect(apply(marked, setBug(marked, 'a_fall', undefined).patch)).to.deep.equal(kept);
    expect(apply(marked, recordAnew(marked, 'a_fall').patch)).to.deep.equal(kept);
  });

  it('go as recorded on the flow they were recorded on, whatever it is', () => {
    let held = 0;
    fc.assert(
      fc.property(randomFlow, fc.nat(1000), (document: FlowDocument, seed) => {
        const random = randomFrom(seed);
        let wandering = beginTrial(document, seed);
        for (let n = 0; wandering && n < 10; n++) {
          const choices = choicesOf(wandering);
          if (choices.length === 0) break;
          wandering = act(wandering, choices[Math.floor(random() * choices.length)]!);
        }
        const made = wandering && keepRun(document, wandering, 'Some run');
        if (!made) return;
        held++;
        const now = apply(document, made.patch);
        expect(validate(now).errors).to.equal(undefined);
        expect(replayRun(now, now.runs[made.id]!)).to.deep.equal({ goes: 'as recorded' });
      }),
      { numRuns: 200, seed }
    );
    expect(held).to.be.greaterThan(150);
  });

  it('of a wrong shape are refused', () => {
    const wrong = (run: object) => validate({ ...flow, runs: { a: run } }).errors!.map(({ pointer }) => pointer);
    const then = { in: 'quay' };
    expect(wrong({ name: 'A', steps: [] })).to.deep.equal(['/runs/a/steps']);
    expect(wrong({ name: 'A', steps: [{ press: 'x', touch: 'y', then }] })).to.deep.equal(['/runs/a/steps/0']);
    expect(wrong({ name: 'A', steps: [{ press: 'x' }] })).to.deep.equal(['/runs/a/steps/0/then']);
    expect(wrong({ name: 'A', steps: [{ press: 'x', rule: 'r', then }] })).to.deep.equal(['/runs/a/steps/0']);
  });
});

describe('how long recorded runs take', () => {
  it('is no less than the best time, where they win levels with a plan', () => {
    const document = demo('lamplighters-round');
    const { times = {} } = check(document);
    const recorded = runTimes(document);
    expect(recorded).to.have.keys('quay', 'ferry', 'rope', 'sail');
    for (const [level, seconds] of Object.entries(recorded)) {
      expect(seconds, level).to.be.at.least(times[level]!.most! - 1e-9);
      expect(seconds, level).to.be.at.most(2 * times[level]!.most!);
    }
  });

  /** Three lamps in a row, at 1, 3 and 6 cells from where the player arrives; a gate before the last. */
  const row = (steps: Step[], things: object = {}, rules: object[] = []) => {
    const document = flowOf({
      version: 2,
      start: 'quay',
      places: {
        quay: {
          name: 'Quay',
          kind: 'level',
          pieces: { lamp: { name: 'Lamp', kind: 'pickup' }, bell: { name: 'Bell', kind: 'switch' } },
          plan: {
            view: 'above',
            rows: ['.........'],
            things: { lamp: { piece: 'lamp', cells: [[1, 0], [3, 0], [6, 0]] }, bell: { piece: 'bell', cells: [[8, 0]] }, ...things } // prettier-ignore
          },
          rules: [{ id: 'w', when: { touch: 'bell' }, go: { place: 'end' }, result: 'won' }, ...rules]
        },
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    });
    const { trial } = playSteps(document, steps)!;
    const { patch } = keepRun(document, trial, 'One')!;
    return runTimes(apply(document, patch));
  };
  const [collect, ring]: Step[] = [{ collect: 'lamp' }, { touch: 'bell' }];

  it('is that of the ways between what they do, one after another', () => {
    expect(row([ring!])).to.deep.equal({ quay: 2 });
    expect(row([collect!, collect!, ring!])).to.deep.equal({ quay: 2 });
    // the player is on its way while it waits
    expect(row([{ time: true }, ring!], {}, [{ id: 't', when: { after: 5 } }])).to.deep.equal({ quay: 5 });
    // none wins
    expect(row([collect!])).to.deep.equal({});
  });
});
