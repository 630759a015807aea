import { readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { expect } from 'chai';
import fc from 'fast-check';
import { check, finish } from '../src/check/check.ts';
import { tryCauses } from '../src/causes/tried.ts';
import { Memory } from '../src/check/memory.ts';
import { severities, type CheckName, type Verdict } from '../src/report/report.ts';
import { apply } from '../src/document/patch.ts';
import { same } from '../src/document/same.ts';
import { validate } from '../src/document/read.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { demo, flowOf, smallDemo, threeLamps } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { long } from './support/everyday.ts';

const faults = demo('lamplighters-round-with-faults');
/** Code that is written for one document serves the next, which differs in little. */
const memory = new Memory();
const failing = (document: FlowDocument, firstGame = true): Verdict[] =>
  check(document, { memory, firstGame }).checks.filter(({ outcome, accepted }) => outcome === 'fails' && accepted === undefined);
const still = (document: FlowDocument, { check: name, subject }: Verdict) =>
  failing(document, name === 'second-game').some((each) => each.check === name && each.subject === subject);

describe('repairs', () => {
  it('the demo with faults has one of every check', () => {
    const found = new Set(check(faults).checks.flatMap(({ check: name, outcome }) => (outcome === 'fails' ? [name] : [])));
    expect(Object.keys(severities).filter((name) => !found.has(name as CheckName))).to.deep.equal([]);
  });

  long('mend every fault of the demo, one after another, until nothing fails', function () {
    this.timeout(300_000);
    let document = smallDemo('lamplighters-round-with-faults');
    /** A repair may lay bare another finding; the same one is mended at most twice. */
    const mended = new Map<string, number>();
    for (let left = failing(document); left.length > 0; left = failing(document)) {
      const next = left.flatMap((verdict) => {
        const key = `${verdict.check} ${verdict.subject}`;
        return (mended.get(key) ?? 0) < 2 ? [{ verdict, key }] : [];
      });
      let found: FlowDocument | undefined;
      for (const { verdict, key } of next) {
        found = repairsOf(document, verdict)
          .map(({ patch }) => apply(document, patch))
          .find((each) => !still(each, verdict));
        if (!found) continue;
        mended.set(key, (mended.get(key) ?? 0) + 1);
        break;
      }
      if (!found) throw new Error(`nothing mends ${left.map(({ check: name, subject }) => `${name} ${subject}`).join(', ')}`);
      document = found;
    }
    expect(new Set([...mended.keys()].map((key) => key.split(' ')[0])).size).to.be.greaterThan(15);
  });

  it('say what they do, and each of these mends its finding', () => {
    const found = failing(faults);
    const offered = (name: CheckName, subject: string) => {
      const verdict = found.find((each) => each.check === name && each.subject === subject)!;
      return repairsOf(faults, verdict)
        .filter(({ patch }) => !still(apply(faults, patch), verdict))
        .map(({ label }) => label);
    };
    expect(offered('goal-count', 'w_chapel')).to.deep.equal([
      'Ask for all: Candle × 3',
      'Ask for 3 instead of 4',
      'Put Candle × 4 into Chapel Rise'
    ]);
    expect(offered('never-stranded', 'continue')).to.deep.equal(['Otherwise to the first level', 'Otherwise to Title']);
    expect(offered('fresh-start', 'begin')).to.deep.equal(['Begin a new run in this rule']);
    expect(offered('signal-heard', 'horn')).to.include('Let the rule that waits for Tide hear Fog horn');
    expect(offered('condition', 'another')[0]).to.equal('Change “live” to Lives');
    expect(offered('reference', 'rule/help')[0]).to.equal('Add the menu Manual');
    expect(offered('way-back', 'nets')).to.deep.equal(['Make the other side: from Net cellar to Net Lofts']);
    expect(offered('number-skipped', 'brim')).to.deep.equal(['Ask for Oil at least 12']);
    expect(offered('order-complete', 'drawn')).to.deep.equal(['List each level once in each row']);
    expect(offered('moves-on', 'well')).to.deep.equal(['From Old well to Title']);
  });

  it('begin a new run where lives that a loss takes are gone in the next game', () => {
    const rule = (id: string, when: object, go: object, more: object = {}) => ({ id, when, go, ...more });
    const lives = { name: 'Lives', type: 'number', initial: 3, min: 0, max: 9, scope: 'run' };
    const pieces = { pit: { name: 'Pit', kind: 'hazard' }, goal: { name: 'Goal', kind: 'exit' } };
    const court = {
      name: 'Court',
      kind: 'level',
      pieces,
      rules: [
        rule('win', { touch: 'goal' }, { place: 'victory' }, { result: 'won' }),
        rule('fall', { touch: 'pit' }, { move: 'again' }, { result: 'lost', do: [{ set: 'lives', to: 'lives - 1' }] }),
        rule('over', { holds: 'lives = 0' }, { place: 'over' }, { result: 'lost' })
      ]
    };
    const document = flowOf({
      variables: { lives },
      places: {
        title: { name: 'Title', kind: 'menu', rules: [rule('go', { press: 'Court' }, { place: 'court' })] },
        court,
        over: { name: 'Game over', kind: 'interlude', rules: [rule('home', { after: 5 }, { place: 'title' })] },
        victory: { name: 'Victory', kind: 'ending', outcome: 'won', rules: [] }
      }
    });
    const stuck = failing(document).find(({ check: name }) => name === 'ending-in-reach')!;
    const [fix] = repairsOf(document, stuck);
    expect(fix!.label).to.equal('Begin a new run on Court');
    expect(failing(apply(document, fix!.patch)).map(({ check: name }) => name)).to.deep.equal(['over-at-once']);
    // lives that begin with each attempt never run out: that brings more than it takes away
    const causes = finish(tryCauses(document, check(document)));
    expect(causes.map(({ verdict, fix: tried }) => [verdict.check, tried?.change.label])).to.deep.equal([
      ['ending-in-reach', 'Begin a new run on Court'],
      ['over-at-once', undefined]
    ]);
  });

  it('say where to go after the last level, and open a lock that never opens', () => {
    const endless = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        loft: {
          ...threeLamps.places.loft,
          rules: [{ id: 'lit2', when: { holds: 'left(lamp) = 0' }, go: { move: 'next' }, result: 'won' }]
        },
        title: {
          ...threeLamps.places.title,
          rules: [
            ...threeLamps.places.title.rules,
            { id: 'pick', when: { choose: 'main' }, if: 'won(it) and won(loft)', go: { move: 'chosen' } }
          ]
        }
      }
    });
    const stranded = failing(endless).find(({ check: name }) => name === 'never-stranded')!;
    expect(repairsOf(endless, stranded).map(({ label }) => label)).to.deep.equal(['Otherwise to The town aglow']);
    const locked = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        title: {
          ...threeLamps.places.title,
          rules: [{ id: 'pick', when: { choose: 'main' }, if: 'won(it)', go: { move: 'chosen' } }]
        }
      }
    });
    const never = failing(locked).find(({ subject }) => subject === 'quay')!;
    expect(never.check).to.equal('place-reached');
    const [first] = repairsOf(locked, never);
    expect(first!.label).to.equal('Open each level when the one before is won');
    expect(still(apply(locked, first!.patch), never)).to.equal(false);
  });

  it('let play begin at a splash that leads to the first screen, and lead to credits that lead back', () => {
    const screen = (name: string) =>
      flowOf({
        ...threeLamps,
        places: {
          ...threeLamps.places,
          extra: { name, kind: 'interlude', rules: [{ id: 'on', when: { after: 2 }, go: { place: 'title' } }] }
        }
      });
    const offered = (name: string) => {
      const document = screen(name);
      const never = failing(document).find(({ subject }) => subject === 'extra')!;
      return repairsOf(document, never).map(({ label }) => label);
    };
    expect(offered('Splash')).to.deep.equal(['Let play begin at Splash']);
    expect(offered('Credits')).to.deep.equal(['From Title to Credits by a button Credits', 'Let play begin at Credits']);
  });

  it('are none of what does not fail', () => {
    for (const verdict of check(flowOf(threeLamps)).checks)
      if (verdict.outcome !== 'fails') expect(repairsOf(flowOf(threeLamps), verdict)).to.deep.equal([]);
  });

  long('keep every document readable, and are taken back', () => {
    const documents = readdirSync(join(__dirname, '../../demo')).map((file) => demo(basename(file, '.crow.json')));
    const hold = (document: FlowDocument, limit?: number) => {
      for (const verdict of check(document, { memory, ...(limit && { limit }) }).checks.filter(
        ({ outcome }) => outcome === 'fails'
      ))
        for (const { label, patch, inverse } of repairsOf(document, verdict)) {
          expect(label).to.not.equal('');
          const next = apply(document, patch);
          expect(validate(next).errors, `${verdict.check}: ${label}`).to.equal(undefined);
          expect(same(apply(next, inverse), document), label).to.equal(true);
        }
    };
    documents.forEach((document) => hold(document));
    fc.assert(
      fc.property(randomFlow, (document) => hold(document, 3000)),
      { numRuns: 60, seed: 20261129 }
    );
  });
});
