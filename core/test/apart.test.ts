/** Parts of a flow explored apart: what they say is what the whole exploration says. */
import { expect } from 'chai';
import fc from 'fast-check';
import { checkApart } from '../src/check/apart.ts';
import { check, finish } from '../src/check/check.ts';
import { arrivalsOf, exploredChecks } from '../src/check/explored-checks.ts';
import { explorePacked } from '../src/explore/packed/explore.ts';
import { partsOf } from '../src/explore/parts.ts';
import { replay } from '../src/play/replay.ts';
import type { FlowDocument, Rule } from '../src/document/types.ts';
import { prepare } from '../src/play/flow.ts';
import { flowOf } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { checked } from './support/compare.ts';
import { randoms } from './support/everyday.ts';

/** Rules and values beside those that move the player, where the numbers say. */
function withAside(document: FlowDocument, where: number[]): FlowDocument {
  const beside = structuredClone(document);
  const number = (scope: 'run' | 'kept' | 'attempt') =>
    ({ name: 'Aside', type: 'number', initial: 0, min: 0, max: 2, scope }) as const;
  Object.assign(beside.variables, { coins: number('run'), seen: number('kept'), tried: number('attempt') });
  beside.variables.told = { name: 'Told', type: 'flag', initial: false, scope: 'run' };
  const rules: Rule[] = [
    { id: 'coin', when: { press: 'A' }, do: [{ set: 'coins', to: 'coins + 1' }] },
    {
      id: 'spent',
      when: { press: 'B' },
      if: 'coins = 2',
      do: [
        { set: 'coins', to: '0' },
        { set: 'seen', to: 'seen + 1' }
      ]
    },
    { id: 'try', when: { arrive: true }, if: 'seen > 0', do: [{ set: 'tried', to: 'tried + seen' }] },
    { id: 'tell', when: { holds: 'tried = 2 or coins = 1' }, do: [{ set: 'told', to: 'true' }] },
    { id: 'later', when: { after: 1 }, if: 'told', do: [{ reset: 'coins' }] }
  ];
  const places = Object.values(beside.places);
  rules.forEach((rule, index) => {
    const place = places[where[index]! % places.length]!;
    place.rules.splice(where[index]! % (place.rules.length + 1), 0, rule);
  });
  places[where[0]! % places.length]!.expects.push('coins < 2');
  places[where[1]! % places.length]!.expects.push('not told or seen = 0');
  return beside;
}

/** What the parts of a flow say, whatever its size. */
function apart(document: FlowDocument, limit: number) {
  const flow = prepare(document);
  const cut = finish(explorePacked(flow, 2));
  return finish(checkApart(flow, { checks: exploredChecks(cut), arrivals: arrivalsOf(cut) }, limit));
}

describe('parts of a flow', () => {
  it('say what the whole exploration says', () => {
    let [settled, complete] = [0, 0];
    fc.assert(
      fc.property(randomFlow, fc.array(fc.nat(1000), { minLength: 5, maxLength: 5 }), (random, where) => {
        const document = withAside(random, where);
        // what objectives ask for no part settles, and whether a slot is used asks for all that is kept
        if (where[0]! % 2 === 0)
          for (const place of Object.values(document.places)) {
            place.rules = place.rules.filter(({ when }) => !('slot' in when));
            if (place.kind === 'level') place.objectives = {};
          }
        // the packed exploration is held to the plain one by the pool
        const whole = checked(document, explorePacked, 1500);
        if (!whole) return;
        const found = apart(document, 20_000);
        if (!found) return;
        for (const { check: name, subject, outcome, length, shortest, route } of found.checks) {
          if (outcome === 'open') continue;
          const real = whole.checks.find((each) => each.check === name && each.subject === subject)!;
          settled++;
          expect(outcome, `${name} ${subject}`).to.equal(real.outcome);
          if (length === undefined || shortest === false || name === 'value-clamped') continue;
          expect(length, `${name} ${subject}`).to.equal(real.length);
          if (route && name === 'place-reached') expect(replay(document, route).at(-1)!.entered).to.include(subject);
        }
        if (!found.complete) return;
        complete++;
        expect(found.arrivals).to.deep.equal(whole.arrivals);
      }),
      { numRuns: randoms(340), seed: 20261127 }
    );
    expect(settled).to.be.greaterThan(randoms(2000));
    expect(complete).to.be.greaterThan(randoms(50, 2));
  }).timeout(60 * 60_000);

  const flag = (name: string) => ({ name, type: 'flag', initial: false, scope: 'run' });
  /** Forty rooms with a bell each that only its own rules ask for. */
  const bells = (out: object = {}) => {
    const rooms = Array.from({ length: 40 }, (_, n) => n);
    const press = (id: string, label: string, rest: object) => ({ id, when: { press: label }, ...rest });
    return flowOf({
      variables: Object.fromEntries(rooms.map((n) => [`bell${n}`, flag(`Bell ${n}`)])),
      places: {
        title: {
          name: 'Hall',
          kind: 'menu',
          rules: [
            ...rooms.map((n) => press(`in${n}`, `Room ${n}`, { go: { place: `room${n}` } })),
            press('out', 'Out', { ...out, go: { place: 'end' } })
          ]
        },
        ...Object.fromEntries(
          rooms.map((n) => [
            `room${n}`,
            {
              name: `Room ${n}`,
              kind: 'menu',
              rules: [
                press(`ring${n}`, 'Ring', { do: [{ set: `bell${n}`, to: 'true' }] }),
                press(`hush${n}`, 'Hush', { if: `bell${n}`, do: [{ set: `bell${n}`, to: 'false' }] }),
                press(`back${n}`, 'Back', { go: { place: 'title' } })
              ]
            }
          ])
        ),
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    });
  };

  it('settle everything where nothing reads all together: forty bells are 2^40 states', () => {
    const report = check(bells(), { limit: 5000 });
    expect(report.complete).to.equal(true);
    expect(report).to.not.have.property('large');
    expect(report.checks.filter(({ outcome }) => outcome === 'open')).to.deep.equal([]);
    const hush = report.checks.find(({ check: name, subject }) => name === 'rule-fires' && subject === 'hush7')!;
    expect(hush).to.include({ outcome: 'holds', length: 3 });
    expect(report.arrivals.title!.bell7).to.deep.equal({ values: [false, true] });
    expect(report.arrivals.room3!.bell39).to.deep.equal({ values: [false, true] });
  });

  it('leave open what a door asks of all', () => {
    const all = Array.from({ length: 40 }, (_, n) => `bell${n}`).join(' and ');
    const report = check(bells({ if: all }), { limit: 5000 });
    expect(report.complete).to.equal(false);
    // no bell matters much alone
    expect(report.large).to.have.length(1);
    expect(report.large![0]!.what).to.equal('Bell 0, Bell 1, Bell 2 and 37 more, together');
    expect(report.large![0]!.times).to.be.greaterThan(10);
    expect(report.checks.find(({ check: name }) => name === 'ending-in-reach')!.outcome).to.equal('open');
  });

  it('keep with the player what a move depends on, however far round', () => {
    const kept = (document: FlowDocument) => [...partsOf(prepare(document))].map(({ variables }) => [...variables].sort());
    const menu = (rules: object[]) => ({
      title: { name: 'T', kind: 'menu', rules },
      end: { name: 'E', kind: 'ending', outcome: 'won' }
    });
    const variables = { a: flag('A'), b: flag('B'), c: flag('C') };
    const set = (id: string, rest: object, to: string) => ({ id, when: { press: id }, ...rest, do: [{ set: to, to: 'true' }] });
    const out = { id: 'out', when: { press: 'Out' }, if: 'a', go: { place: 'end' } };
    // a is read by a move, b decides about a, c about nothing
    expect(
      kept(flowOf({ variables, places: menu([out, set('x', { if: 'b' }, 'a'), set('y', {}, 'b'), set('z', {}, 'c')]) }))
    ).to.deep.equal([['a', 'b']]);
    // nothing can be left out
    expect(kept(flowOf({ variables: { a: flag('A') }, places: menu([out, set('x', {}, 'a')]) }))).to.deep.equal([]);
  });

  it('are not believed where what is left out could make an event endless', () => {
    const { length } = Array.from({ length: 30 });
    const steps = Array.from({ length }, (_, n) => n);
    // thirty screens pass on at once, and in each thirty more rules fire
    const document = flowOf({
      variables: { n: { name: 'N', type: 'number', initial: 0, min: 0, max: 9000, scope: 'kept' } },
      places: {
        title: { name: 'T', kind: 'menu', rules: [{ id: 'go', when: { press: 'Go' }, go: { place: 's0' } }] },
        ...Object.fromEntries(
          steps.map((n) => [
            `s${n}`,
            {
              name: `S${n}`,
              kind: 'interlude',
              rules: [
                ...steps.map((m) => ({ id: `c${n}_${m}`, when: { arrive: true }, do: [{ set: 'n', to: 'n + 1' }] })),
                { id: `g${n}`, when: { arrive: true }, go: { place: n < 29 ? `s${n + 1}` : 'end' } }
              ]
            }
          ])
        ),
        end: { name: 'E', kind: 'ending', outcome: 'won' }
      }
    });
    expect(apart(document, 1000)).to.equal(undefined);
    expect(
      check(document).checks.find(({ check: name, subject }) => name === 'place-reached' && subject === 'end')!.outcome
    ).to.equal('fails');
  });
});
