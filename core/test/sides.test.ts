/** Touches from a side. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { read, validate } from '../src/document/read.ts';
import { versionOf } from '../src/document/version.ts';
import { write } from '../src/document/write.ts';
import { answerOf, answerRows } from '../src/sheet/answers.ts';
import { playSteps, stepsOf } from '../src/trial/trial.ts';
import { stepWords } from '../src/words/steps.ts';
import { ruleWords } from '../src/words/words.ts';
import { flowOf, Player, threeLamps } from './support/flows.ts';

/** A moth that is removed from above, and costs a life at its side. */
const moth = (rules: object[]) =>
  flowOf({
    ...threeLamps,
    places: {
      ...threeLamps.places,
      quay: {
        ...threeLamps.places.quay,
        pieces: { ...threeLamps.places.quay.pieces, moth: { name: 'Moth', kind: 'foe', count: 2 } },
        rules: [...threeLamps.places.quay.rules, ...rules]
      }
    }
  });
const hop = { id: 'hop', when: { touch: 'moth', side: 'above' }, do: [{ defeat: 'moth' }] };
const bite = {
  id: 'bite',
  when: { touch: 'moth' },
  do: [{ set: 'lives', to: 'lives - 1' }],
  go: { place: 'splash' },
  result: 'lost'
};
const flow = moth([hop, { ...bite, when: { touch: 'moth', side: 'beside' } }]);

describe('a touch from a side', () => {
  it('is what the rules for this side hear, and those for any', () => {
    const player = new Player(flow).press('Begin');
    expect(player.events.filter((event) => 'touch' in event && event.touch === 'moth')).to.deep.equal([
      { touch: 'moth', side: 'above' },
      { touch: 'moth', side: 'beside' },
      { touch: 'moth' }
    ]);
    player.do({ touch: 'moth', side: 'above' });
    expect([player.left('moth'), player.at]).to.deep.equal([1, 'quay']);
    player.do({ touch: 'moth' });
    expect(player.at, 'from below nothing is said').to.equal('quay');
    player.do({ touch: 'moth', side: 'beside' });
    expect(player.at).to.equal('splash');
    const any = new Player(moth([hop, bite])).press('Begin');
    any.do({ touch: 'moth', side: 'above' });
    expect([any.bottom, any.value('lives')], 'both are read').to.deep.equal(['splash', 1]);
  });

  it('is the only kind there is where all three are asked for', () => {
    const sides = ['above', 'beside', 'below'].map((side) => ({ ...hop, id: side, when: { touch: 'moth', side } }));
    const player = new Player(moth(sides)).press('Begin');
    expect(player.events.filter((event) => 'touch' in event && event.touch === 'moth')).to.have.length(3);
  });

  it('is covered by an earlier rule for any side, not the other way round', () => {
    const hidden = (rules: object[], id: string) =>
      check(moth(rules)).checks.find((each) => each.check === 'rule-hidden' && each.subject === id)!.outcome;
    expect(hidden([bite, hop], 'hop')).to.equal('fails');
    expect(
      hidden(
        [
          { ...bite, when: hop.when },
          { ...hop, when: bite.when }
        ],
        'hop'
      )
    ).to.equal('holds');
    expect(hidden([{ ...bite, when: { touch: 'moth', side: 'below' } }, hop], 'hop')).to.equal('holds');
  });

  it('is said, written, read, kept in routes and answered in the matrix', () => {
    expect(ruleWords(flow, { place: 'quay' }, flow.places.quay!.rules[1]!)).to.equal(
      '“when Moth is touched from above” in Quay Street'
    );
    expect(stepWords(flow, { touch: 'moth', side: 'beside' }, 'quay')).to.equal('touch Moth at its side');
    expect(versionOf(flow)).to.equal(2);
    expect(read(write(flow)).document).to.deep.equal({ ...flow, version: 2 });
    const steps = [{ press: 'Begin' }, { touch: 'moth' }, { touch: 'moth', side: 'above' as const }];
    const { trial, played } = playSteps(flow, steps)!;
    expect([played, trial.lines.map(({ fired }) => fired.length)]).to.deep.equal([3, [0, 1, 0, 1]]);
    expect(stepsOf(trial)).to.deep.equal(steps);
    const rows = answerRows(flow, ['quay']);
    expect(rows.map(({ what }) => what)).to.deep.equal([
      'Harbour water',
      'Moth',
      'Moth is touched from above',
      'Moth is touched at its side'
    ]);
    expect(rows.map((row) => answerOf(flow, 'quay', row).is)).to.deep.equal(['answered', 'blank', 'answered', 'answered']);
  });

  it('of no such side, or of what is no touch, is refused', () => {
    for (const when of [{ touch: 'moth', side: 'left' }, { collect: 'lamp', side: 'above' }, { side: 'above' }]) {
      const wrong = { ...JSON.parse(write(flow)), rules: [{ id: 'new', when }] };
      expect(validate(wrong).errors![0]!.pointer, JSON.stringify(when)).to.match(/^\/rules\/0\/when/);
    }
  });
});
