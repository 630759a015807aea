/** What is said where a flow is too large to be explored whole. */
import { expect } from 'chai';
import fc from 'fast-check';
import { families } from '../bench/families.ts';
import { check, finish } from '../src/check/check.ts';
import { explore } from '../src/explore/plain.ts';
import { distance } from '../src/explore/packed/distance.ts';
import { explorePacked } from '../src/explore/packed/explore.ts';
import { Machine } from '../src/explore/packed/machine.ts';
import type { PackedWatcher, Witness } from '../src/explore/packed/marks.ts';
import { replay } from '../src/play/replay.ts';
import type { Report } from '../src/report/report.ts';
import { parse } from '../src/language/parse.ts';
import { prepare } from '../src/play/flow.ts';
import { flowOf } from './support/flows.ts';
import { scoringFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const find = (report: Report, name: string, subject: string) =>
  report.checks.find((each) => each.check === name && each.subject === subject)!;

describe('past the limit', () => {
  const hub = families.find(({ name }) => name === 'free choice of levels')!.make(40);

  it('what has not been seen is looked for: a door that opens when 40 levels have been won in any order', () => {
    const report = check(hub, { limit: 20_000 });
    expect(report.complete).to.equal(false);
    expect(report.states).to.be.at.most(40_000);
    const found = find(report, 'place-reached', 'end');
    expect(found).to.include({ outcome: 'holds', shortest: false, length: 81 });
    const played = replay(hub, found.route!);
    expect(played.at(-1)!.entered).to.deep.equal(['end']);
    expect(new Set(played.flatMap(({ won }) => won)).size).to.equal(40);
    expect(find(report, 'rule-fires', 'door')).to.include({ outcome: 'holds', shortest: false });
    // what was seen within the limit has a shortest route
    expect(find(report, 'level-completable', 'l7')).to.not.have.property('shortest');
  });

  it('no verdict is guessed: what asks about all states stays open', () => {
    const report = check(hub, { limit: 5000 });
    expect(find(report, 'ending-in-reach', 'flow').outcome).to.equal('open');
    expect(find(report, 'never-stuck', 'l7').outcome).to.equal('open');
  });

  it('says what makes the flow large', () => {
    const score = { name: 'Oil', type: 'number', initial: 0, min: 0, max: 9999, scope: 'run' };
    const document = flowOf({
      variables: { oil: score, bell: { name: 'Bell', type: 'flag', initial: false, scope: 'run' } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'a', when: { press: 'More' }, do: [{ set: 'oil', to: 'oil + 1' }] },
            { id: 'b', when: { press: 'Less' }, do: [{ set: 'oil', to: 'oil - 1' }] },
            { id: 'c', when: { press: 'Ring' }, do: [{ set: 'bell', to: 'not bell' }] }
          ]
        }
      }
    });
    const { large } = check(document, { limit: 2000 });
    expect(large![0]).to.include({ what: 'Oil', variable: 'oil' });
    expect(large![0]!.times).to.be.greaterThan(100);
    expect(check(document, { limit: 100_000 })).to.not.have.property('large');
  });

  it('ends where the memory ends', () => {
    const whole = finish(explorePacked(prepare(families[2]!.make(60)), 1_000_000));
    expect(whole.complete).to.equal(true);
    const cut = finish(explorePacked(prepare(families[2]!.make(60)), 1_000_000, whole.bytes / 2));
    expect(cut.complete).to.equal(false);
  });

  it('what is certain agrees with what the whole exploration says', () => {
    let settled = 0;
    fc.assert(
      fc.property(scoringFlow, (document) => {
        const whole = check(document, { explorer: explore, limit: 400 });
        if (!whole.complete) return;
        const cut = check(document, { limit: 10 });
        for (const { check: name, subject, outcome, length, shortest } of cut.checks) {
          if (outcome === 'open' || name === 'accepted-unused') continue;
          const real = find(whole, name, subject);
          if (!cut.complete) settled++;
          expect(outcome, `${name} ${subject}`).to.equal(real.outcome);
          if (length === undefined || name === 'value-clamped') continue;
          if (shortest === false) expect(length, `${name} ${subject}`).to.be.at.least(real.length!);
          else expect(length, `${name} ${subject}`).to.equal(real.length);
        }
      }),
      { numRuns: randoms(100), seed: 20261123 }
    );
    expect(settled).to.be.greaterThan(randoms(1000));
  }).timeout(5 * 60_000);
});

describe('the distance from a condition', () => {
  const document = flowOf({
    variables: {
      a: { name: 'A', type: 'number', initial: 0, min: -9, max: 9, scope: 'run' },
      b: { name: 'B', type: 'number', initial: 0, min: -9, max: 9, scope: 'run' },
      bell: { name: 'Bell', type: 'flag', initial: false, scope: 'run' },
      hat: { name: 'Hat', type: 'choice', choices: ['red', 'blue'], initial: 'red', scope: 'run' }
    },
    places: {
      title: {
        name: 'T',
        kind: 'menu',
        rules: [
          {
            id: 'r',
            when: { press: 'R' },
            do: [
              { set: 'a', to: 'a - 1' },
              { set: 'b', to: 'b - a' },
              { set: 'bell', to: 'not bell' },
              { set: 'hat', to: "'blue'" }
            ]
          }
        ]
      }
    }
  });
  const machine = new Machine(prepare(document), {} as PackedWatcher, {} as Witness);
  const { at, v, naming } = machine;
  const slots = ['a', 'b', 'bell', 'hat'].map((id) => at.variables.get(id)!.slot);
  const texts: [string, (a: number, b: number, bell: boolean, hat: string) => boolean][] = [
    ['a = b', (a, b) => a === b],
    ['not a != b + 1', (a, b) => a === b + 1],
    ['a < b and not bell', (a, b, bell) => a < b && !bell],
    ["not (a >= b or hat = 'blue')", (a, b, _, hat) => !(a >= b || hat === 'blue')],
    ["a <= 3 or b > 2 or hat != 'red'", (a, b, _, hat) => a <= 3 || b > 2 || hat !== 'red'],
    ['not (a <= b and bell)', (a, b, bell) => !(a <= b && bell)]
  ];
  for (const [text, truth] of texts) {
    it(`is none exactly where ${text}`, () => {
      const far = distance(parse(text), naming.over(0), v);
      const value = fc.integer({ min: -9, max: 9 });
      fc.assert(
        fc.property(value, value, fc.boolean(), fc.boolean(), (a, b, bell, blue) => {
          [a, b, Number(bell), Number(blue)].forEach((each, n) => (v[slots[n]!] = each));
          expect(far() === 0).to.equal(truth(a, b, bell, blue ? 'blue' : 'red'));
          expect(far()).to.be.at.least(0);
        })
      );
    });
  }

  it('grows with what is missing', () => {
    const far = distance(parse('a + b >= 10'), naming.over(0), v);
    [9, -9].forEach((each, n) => (v[slots[n]!] = each));
    expect(far()).to.equal(10);
    v[slots[1]!] = 0;
    expect(far()).to.equal(1);
  });
});
