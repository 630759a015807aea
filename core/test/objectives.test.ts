/** Objectives of levels, and wins by what was not collected. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { addObjective, likelyMet } from '../src/document/edits/objectives.ts';
import { apply } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import type { FlowDocument, Level } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { explore } from '../src/explore/plain.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { verdictKey } from '../src/report/report.ts';
import { columnsOf } from '../src/sheet/columns.ts';
import { playSteps } from '../src/trial/trial.ts';
import { lineWords } from '../src/trial/words.ts';
import { differences } from '../src/words/differences.ts';
import { compare } from './support/compare.ts';
import { flowOf, threeLamps } from './support/flows.ts';

const { quay } = threeLamps.places;
const street = (more: object, rules: object[] = quay.rules, variables: object = {}) =>
  flowOf({
    ...threeLamps,
    variables: { ...threeLamps.variables, ...variables },
    places: { ...threeLamps.places, quay: { ...quay, rules, ...more } }
  });
const asking = (met: string, more: object = {}, rules?: object[], variables?: object) =>
  street({ objectives: { task: { text: 'Do the task', met, ...more } } }, rules, variables);
const verdictOf = (document: FlowDocument, key: string) => check(document).checks.find((each) => verdictKey(each) === key)!;
/** What each fix of a failing verdict is called, and whether the verdict fails no more after it. */
const fixes = (document: FlowDocument, key: string) =>
  repairsOf(document, verdictOf(document, key)).map(({ label, patch }) => {
    const after = check(apply(document, patch)).checks.find((each) => verdictKey(each) === key);
    return [label, after?.outcome !== 'fails'];
  });
const bell = { bell: { name: 'Bell', type: 'flag', initial: false, scope: 'attempt' } };
const ring = { id: 'ring', when: { press: 'Ring' }, do: [{ set: 'bell', to: 'true' }] };
const moth = { id: 'moth', when: { press: 'Moth' }, do: [{ remove: 'lamp' }] };

describe('an objective', () => {
  it('is met in some state, or as the level is won, on a shortest route', () => {
    const two = verdictOf(asking('taken(lamp) = 2'), 'objective-met quay/task');
    expect([two.outcome, two.length]).to.deep.equal(['holds', 3]);
    expect(two.message).to.equal('“Do the task” can be met in Quay Street, at the soonest 3 steps from the start.');
    // all are gone only in the moment in which the level is won
    const all = verdictOf(asking('all(lamp)', { needed: true }), 'objective-met quay/task');
    expect([all.outcome, all.length]).to.deep.equal(['holds', 4]);
    expect(verdictOf(asking('all(lamp)', { needed: true }), 'objective-needed quay/task').outcome).to.equal('holds');
  });

  it('that is never met is told with the reason, and asks for what there is as the first fix', () => {
    const four = asking('taken(lamp) >= 4');
    const { outcome, message, why } = verdictOf(four, 'objective-met quay/task');
    expect(outcome).to.equal('fails');
    expect(message).to.equal('“Do the task” is never met in Quay Street.');
    expect(why!.map(({ text }) => text)).to.deep.equal(['Quay Street has Lamp × 3.']);
    expect(verdictOf(four, 'goal-count quay/task').message).to.equal(
      'The objective “Do the task” asks for a number that never occurs.'
    );
    expect(fixes(four, 'objective-met quay/task')[0]).to.deep.equal(['Ask for all: Lamp × 3', true]);
    const why2 = (document: FlowDocument) => verdictOf(document, 'objective-met quay/task').why!.map(({ text }) => text);
    expect(why2(asking('bell', {}, undefined, bell))).to.deep.equal(['No rule sets Bell.']);
    expect(why2(asking('bell', {}, [...quay.rules, { ...ring, if: 'left(lamp) = 9' }], bell))[0]).to.match(
      /^Bell is set by the rule “when Ring is pressed.*”.*, which never fires\.$/
    );
    expect(why2(asking('false'))).to.deep.equal(['It is not said yet when it is met.']);
  });

  it('that is needed and can be left out is told with the rule that wins, and the win then waits for it', () => {
    const document = asking('bell', { needed: true }, [...quay.rules, ring], bell);
    const found = verdictOf(document, 'objective-needed quay/task');
    expect([found.outcome, found.length]).to.deep.equal(['fails', 4]);
    expect(found.why![0]!.rule).to.equal('lit');
    expect(fixes(document, 'objective-needed quay/task')).to.deep.equal([
      ['Win Quay Street only with “Do the task”', true],
      ['“Do the task” is not needed', true]
    ]);
  });

  it('is not told where its level is not reached, and not settled where the flow is too large', () => {
    const away = asking('bell', { needed: true }, undefined, bell);
    const unreached = { ...away, places: { ...away.places, title: { ...away.places.title!, rules: [] } } };
    for (const name of ['met', 'needed'])
      expect(verdictOf(unreached, `objective-${name} quay/task`).outcome).to.equal('unreached');
    const cut = check(away, { limit: 2 }).checks.filter(
      (each) => each.subject === 'quay/task' && each.check.startsWith('objective')
    );
    expect(cut.map(({ outcome }) => outcome)).to.deep.equal(['open', 'open']);
  });

  it('is written, read back, ticked off on the tape, named in the sheet and in the history', () => {
    const document = asking('taken(lamp) = 1', { needed: true });
    expect(read(write(document)).document).to.deep.equal({ ...document, version: 2 });
    const { trial } = playSteps(document, [{ press: 'Begin' }, { collect: 'lamp' }, { collect: 'lamp' }])!;
    expect(trial.lines.map(({ met }) => met)).to.deep.equal([[], [], ['task'], []]);
    expect(lineWords(document, trial.lines[2]!)).to.contain('“Do the task” met');
    const column = columnsOf(document).find(({ key }) => key === 'objectives')!;
    expect(column.read(document, 'quay')).to.equal('Do the task (needed)');
    const before = street({});
    expect(differences(before, document).map(({ text }) => text)).to.deep.equal([
      'Quay Street: the objective “Do the task”, met if Lamp collected is 1, needed.'
    ]);
  });

  it('is guessed from its text, and refused with its place where it does not fit', () => {
    const document = street({}, undefined, bell);
    expect(likelyMet(document, 'quay', 'Light every lamp')).to.equal('left(lamp) = 0');
    expect(likelyMet(document, 'quay', 'Ring the bell')).to.equal('bell');
    expect(likelyMet(document, 'quay', 'Be quick')).to.equal('false');
    const { id, ...added } = addObjective(document, 'quay', { text: 'Find the key', met: 'key' });
    const found = check(apply(document, added.patch)).checks.find(({ check: name }) => name === 'condition')!;
    expect([id, found.pointer]).to.deep.equal(['find_the_key', '/places/quay/objectives/find_the_key/met']);
    const wrong = structuredClone(document);
    (wrong.places.quay as Level).objectives = { task: { text: 'Task' } as never };
    expect(validate(wrong).errors![0]!.pointer).to.equal('/places/quay/objectives/task/met');
  });
});

describe('a win by what was not collected', () => {
  const document = street({}, [...quay.rules, moth]);
  const key = 'won-by-removal lit';

  it('is told with the rule that removes, and the fix makes it a foe that is defeated', () => {
    const found = verdictOf(document, key);
    expect([found.outcome, found.length]).to.deep.equal(['fails', 4]);
    expect(found.why!.map(({ rule }) => rule)).to.deep.equal(['moth']);
    expect(fixes(document, key)).to.deep.equal([
      ['Make Lamp a foe, which is defeated', true],
      ['Stop removing Lamp', true]
    ]);
    const collected = street({}, [...quay.rules, moth, { id: 'take', when: { collect: 'lamp' } }]);
    expect(fixes(collected, key).map(([label]) => label)).to.deep.equal(['Stop removing Lamp']);
  });

  it('is not one where the last of them is collected, or where nothing is removed', () => {
    const early = street({}, [...quay.rules, { ...moth, if: 'left(lamp) >= 2' }]);
    expect(verdictOf(early, key).outcome).to.equal('holds');
    expect(verdictOf(street({}), key).outcome).to.equal('holds');
  });
});

describe('both explorations, which random documents hold together,', () => {
  it('agree on a level that time leads into and that is left at once', () => {
    const document = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        quay: { ...quay, rules: [{ id: 'late', when: { after: 5 }, go: { place: 'loft' } }] },
        loft: { ...threeLamps.places.loft, rules: [{ id: 'out', when: { arrive: true }, go: { move: 'first' } }] }
      }
    });
    const found = check(document).checks.find((each) => verdictKey(each) === 'over-at-once loft')!;
    expect(found.outcome).to.equal('fails');
    expect(
      check(document, { explorer: explore }).checks.find((each) => verdictKey(each) === 'over-at-once loft')!.outcome
    ).to.equal('fails');
    expect(compare(document)).to.equal(true);
  });

  it('agree where what a draw leads to empties the bag that it was drawn from', () => {
    const document = flowOf({
      ...threeLamps,
      orders: { sack: { name: 'Sack', draw: 'bag', levels: ['quay', 'loft'] } },
      rules: [],
      places: {
        ...threeLamps.places,
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'fill', when: { press: 'Fill' }, do: [{ draw: 'sack' }] },
            { id: 'begin', when: { press: 'Begin' }, go: { move: 'first' } }
          ]
        },
        quay: { ...quay, rules: [{ id: 'anew', when: { holds: 'lives > 0' }, do: [{ begin: 'run' }], go: { move: 'next' } }] }
      }
    });
    expect(compare(document)).to.equal(true);
    expect(check(document).checks.find((each) => verdictKey(each) === 'place-reached loft')!.length).to.equal(2);
  });
});
