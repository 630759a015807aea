/** Every check of section 6: a document for which it fails, and why, beside the worked example for which it holds. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import type { Report, Verdict } from '../src/report/report.ts';
import { apply } from '../src/document/patch.ts';
import { flowOf, threeLamps } from './support/flows.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { explore } from '../src/explore/plain.ts';
import { explorePacked } from '../src/explore/packed/explore.ts';

const spoil = (change: (document: any) => void): Report => {
  const copy = structuredClone(threeLamps) as unknown;
  change(copy);
  return check(flowOf(copy as Record<string, unknown>));
};
const of = (report: Report, name: string, subject: string): Verdict => {
  const found = report.checks.find((each) => each.check === name && each.subject === subject);
  expect(found, `${name} ${subject}`).not.to.equal(undefined);
  return found!;
};
const outcome = (report: Report, name: string, subject: string) => of(report, name, subject).outcome;
const example = spoil(() => {});
const press = (id: string, label: string, rest: object) => ({ id, when: { press: label }, ...rest });

describe('checks: the worked example', () => {
  it('fails fresh-start for begin, with the variable, and nothing else but remarks', () => {
    const failing = example.checks.filter((each) => each.outcome === 'fails' && each.severity !== 'information');
    expect(failing.map(({ check: name, subject }) => `${name} ${subject}`)).to.deep.equal(['fresh-start begin']);
    const verdict = of(example, 'fresh-start', 'begin');
    expect(verdict).to.deep.include({ variables: ['lives'], severity: 'warning' });
    expect(verdict.route!.at(-1)).to.deep.equal({ press: 'Begin' });
    expect(verdict.why![0]!.text).to.include('Lives');
  });

  it('holds once begin begins a run', () => {
    const report = spoil((d) => (d.places.title.rules[0].do = [{ begin: 'run' }]));
    expect(outcome(report, 'fresh-start', 'begin')).to.equal('holds');
  });

  it('gives with which values each place is entered', () => {
    expect(example.arrivals.quay).to.deep.equal({ lives: { min: 0, max: 2 } });
    expect(example.arrivals.dark).to.deep.equal({ lives: { min: 0, max: 0 } });
    // over leaves at once when no life is left, so nobody settles there without one; but the last life is the second game's
    expect(example.arrivals.splash).to.deep.equal({ lives: { min: 1, max: 1 } });
  });
});

describe('checks: explored', () => {
  it('arrival-completable: what is used up in one attempt is missing in the next', () => {
    const report = spoil((d) => (d.places.quay.pieces.lamp.renew = 'run'));
    const verdict = of(report, 'arrival-completable', 'quay');
    // with all lamps taken the level would be won, so a hopeless arrival is one after it was won
    expect(verdict.outcome).to.equal('holds');
    const keyed = spoil((d) => {
      d.variables.key = { name: 'Key', type: 'flag', initial: true, scope: 'run' };
      d.rules[0].do.push({ set: 'key', to: 'false' });
      d.places.quay.rules[0].if = 'key';
    });
    expect(of(keyed, 'arrival-completable', 'quay')).to.deep.include({ outcome: 'fails', length: 3 });
    expect(outcome(keyed, 'arrival-completable', 'loft')).to.equal('holds');
  });

  it('attempt-ends and never-stuck: a level one cannot leave, save by a menu', () => {
    const report = spoil((d) => {
      d.places.quay.rules.push(
        { id: 'lose', when: { touch: 'hole' }, do: [{ set: 'stuck', to: 'true' }] },
        press('p', 'Pause', { go: { place: 'pause', over: true } })
      );
      d.places.quay.pieces.hole = { name: 'Hole', kind: 'hazard' };
      d.variables.stuck = { name: 'Stuck', type: 'flag', initial: false, scope: 'attempt' };
      d.places.quay.rules[0].if = 'not stuck';
      d.rules[0].if = 'not stuck';
      d.places.pause = {
        name: 'Pause',
        kind: 'menu',
        rules: [press('b', 'Back', { go: { move: 'back' } }), press('q', 'Quit', { go: { place: 'title' } })]
      };
    });
    expect(of(report, 'attempt-ends', 'quay')).to.deep.include({ outcome: 'fails', length: 2, severity: 'warning' });
    expect(of(report, 'attempt-ends', 'quay').why![0]!.places).to.have.members(['quay', 'pause']);
    expect(outcome(report, 'never-stuck', 'quay')).to.equal('holds');
    const worse = spoil((d) => {
      d.places.quay.rules = [];
      d.rules = [];
      delete d.places.quay.pieces.water;
    });
    expect(of(worse, 'never-stuck', 'quay')).to.deep.include({ outcome: 'fails', length: 1 });
    expect(outcome(worse, 'never-stuck', 'loft')).to.equal('unreached');
  });

  it('attempt-ends: once the attempt is over nothing is asked', () => {
    const report = spoil((d) => {
      d.places.cheer = { name: 'Cheer', kind: 'interlude', rules: [{ id: 'c', when: { after: 1 }, go: { move: 'back' } }] };
      d.places.loft.rules[0].go = { place: 'cheer', over: true };
    });
    expect(outcome(report, 'attempt-ends', 'loft')).to.equal('holds');
    expect(outcome(report, 'never-stuck', 'loft')).to.equal('fails');
    expect(of(report, 'level-completable', 'loft').outcome).to.equal('holds');
  });

  it('moves-on: an interlude that leads only to itself', () => {
    const report = spoil((d) => (d.places.splash.rules = [{ id: 'round', when: { after: 2 }, go: { place: 'splash' } }]));
    expect(of(report, 'moves-on', 'splash')).to.deep.include({ outcome: 'fails', length: 2, severity: 'error' });
    expect(outcome(report, 'moves-on', 'title')).to.equal('holds');
  });

  it('rule-fires: each of the four reasons', () => {
    const report = spoil((d) => {
      d.places.attic = { name: 'Attic', kind: 'menu', rules: [press('up', 'Up', { go: { place: 'title' } })] };
      d.signals = { bell: { name: 'Bell' } };
      d.places.title.rules.push({ id: 'ring', when: { hear: 'bell' } });
      d.places.title.rules.push(press('rich', 'Rich', { if: 'lives > 5', go: { place: 'aglow' } }));
      d.places.title.rules.push(press('begin2', 'Begin', { go: { place: 'loft' } }));
    });
    const reason = (id: string) => [outcome(report, 'rule-fires', id), of(report, 'rule-fires', id).why?.[0]?.never];
    expect(reason('up')).to.deep.equal(['fails', 'place not reached']);
    expect(reason('ring')).to.deep.equal(['fails', 'trigger never happens']);
    expect(reason('rich')).to.deep.equal(['fails', 'condition never true']);
    expect(of(report, 'rule-fires', 'rich').why![0]!.text).to.include('Lives: 0 to 2');
    expect(reason('begin2')).to.deep.equal(['fails', 'always overtaken']);
    expect(reason('begin')).to.deep.equal(['holds', undefined]);
  });

  it('always-settles: the place and the rules of the loop', () => {
    const report = spoil((d) => {
      d.signals = { ping: { name: 'Ping' }, pong: { name: 'Pong' } };
      d.places.title.rules.push(press('start', 'Start', { do: [{ raise: 'ping' }] }));
      d.places.title.rules.push(
        { id: 'a', when: { hear: 'ping' }, do: [{ raise: 'pong' }] },
        { id: 'b', when: { hear: 'pong' }, do: [{ raise: 'ping' }] }
      );
    });
    const verdict = of(report, 'always-settles', 'title');
    expect(verdict).to.deep.include({ outcome: 'fails', route: [{ press: 'Start' }] });
    expect(verdict.why!.map(({ rule }) => rule).sort()).to.deep.equal(['a', 'b']);
    // what fired up to there counts
    expect(outcome(report, 'rule-fires', 'b')).to.equal('holds');
  });

  it('expectation: the shortest way to where it does not hold', () => {
    const report = spoil((d) => {
      d.places.quay.expects = ['lives = 2', 'lives >= 0'];
      d.places.dark.expects = ['lives = 0'];
    });
    expect(of(report, 'expectation', 'quay/0')).to.deep.include({ outcome: 'fails', length: 3 });
    expect(outcome(report, 'expectation', 'quay/1')).to.equal('holds');
    expect(outcome(report, 'expectation', 'dark/0')).to.equal('holds');
  });

  it('fresh-start: again, resume and load may carry, and a level that settles makes all fresh', () => {
    expect(outcome(example, 'fresh-start', 'retry')).to.equal('holds');
    expect(outcome(example, 'fresh-start', 'lit')).to.equal('holds');
  });
});

describe('checks: of the document', () => {
  const failing: [string, string, string, (document: any) => void][] = [
    [
      'signal-heard',
      'bell',
      'no rule hears it',
      (d) => ((d.signals = { bell: { name: 'Bell' } }), d.rules[0].do.push({ raise: 'bell' }))
    ],
    [
      'signal-raised',
      'bell',
      'nothing raises it',
      (d) => ((d.signals = { bell: { name: 'Bell' } }), d.places.title.rules.push({ id: 'h', when: { hear: 'bell' } }))
    ],
    [
      'piece-handled',
      'quay/moth',
      'no rule, objective or passage there uses',
      (d) => (d.places.quay.pieces.moth = { name: 'Moth', kind: 'foe' })
    ],
    [
      'entry-used',
      'quay/roof',
      'No rule enters',
      (d) => (d.places.quay.entries = { door: { name: 'Door' }, roof: { name: 'Roof' } })
    ],
    ['way-back', 'quay', 'no way back', (d) => d.places.quay.rules.push(press('s', 'Stairs', { go: { place: 'loft' } }))],
    [
      'order-complete',
      'night',
      'leaves out Net Loft',
      (d) =>
        (d.orders.night = {
          name: 'Night',
          draw: 'table',
          levels: ['quay', 'loft'],
          rows: [
            ['quay', 'loft'],
            ['quay', 'quay']
          ]
        })
    ],
    ['order-repeats', 'night', '1 time in 2', (d) => (d.orders.night = { name: 'Night', draw: 'bag', levels: ['quay', 'loft'] })],
    ['goal-count', 'lit2', 'Net Loft has Lamp × 2', (d) => (d.places.loft.rules[0].when.holds = '3 = taken(lamp)')],
    ['goal-partial', 'lit', 'Quay Street has Lamp × 3', (d) => (d.places.quay.rules[0].when.holds = 'taken(lamp) >= 2')],
    [
      'variable-used',
      'oil',
      'never read and never set',
      (d) => (d.variables.oil = { name: 'Oil', type: 'flag', initial: false, scope: 'run' })
    ],
    ['name-unique', 'dark', 'Two places', (d) => (d.places.dark.name = 'Title')],
    [
      'overtaken-deadline',
      'late',
      'already left',
      (d) =>
        d.places.splash.rules.push(
          { id: 'late', when: { after: 5 }, go: { place: 'dark' } },
          { id: 'soon', when: { after: 1 }, go: { place: 'dark' } }
        )
    ],
    [
      'accepted-unused',
      'way-back quay',
      'no longer exists',
      (d) => (d.accepted = [{ check: 'way-back', subject: 'quay', reason: 'The tide has come in.' }])
    ]
  ];
  for (const [name, subject, words, change] of failing) {
    it(`${name} fails`, () => {
      const verdict = of(spoil(change), name, subject);
      expect(verdict.outcome).to.equal('fails');
      expect([verdict.message, ...(verdict.why ?? []).map(({ text }) => text)].join(' ')).to.include(words);
    });
  }

  it('entry-used: a default that is gone to, an entry named and a checkpoint’s are used', () => {
    const report = spoil((d) => {
      d.places.quay.entries = { door: { name: 'Door' }, roof: { name: 'Roof' }, shrine: { name: 'Shrine' } };
      d.places.quay.pieces.shrine = { name: 'Shrine', kind: 'checkpoint' };
      d.places.loft.rules.push(press('r', 'Roof', { go: { place: 'quay', entry: 'roof' } }));
    });
    for (const entry of ['door', 'roof', 'shrine'])
      expect(outcome(report, 'entry-used', `quay/${entry}`), entry).to.equal('holds');
  });

  it('way-back: a door with another side is no one-way door', () => {
    const report = spoil((d) => {
      d.places.quay.rules.push(press('s', 'Stairs', { go: { place: 'loft' } }));
      d.places.loft.rules.push(press('t', 'Stairs', { go: { place: 'quay' } }));
    });
    expect(outcome(report, 'way-back', 'quay')).to.equal('holds');
  });

  it('goal-count: a shared rule is asked in each level it applies in', () => {
    const shared = { id: 'all', when: { holds: 'taken(lamp) = 3' }, go: { place: 'aglow' }, result: 'won' };
    const verdict = of(
      spoil((d) => d.rules.push(shared)),
      'goal-count',
      'all'
    );
    expect(verdict.outcome).to.equal('fails');
    expect(verdict.why!.flatMap(({ places }) => places)).to.deep.equal(['loft']);
  });

  it('overtaken-deadline: neither a condition nor what opens over it overtakes', () => {
    for (const earlier of [
      { when: { after: 1 }, if: 'lives > 0', go: { place: 'dark' } },
      { when: { after: 1 }, go: { place: 'title', over: true } }
    ]) {
      const report = spoil((d) => d.places.splash.rules.push({ id: 'soon', ...earlier }));
      expect(outcome(report, 'overtaken-deadline', 'retry')).to.equal('holds');
    }
  });

  it('variable-used: reading itself in its own change is no reading', () => {
    const report = spoil((d) => {
      d.places.splash.rules[0].if = 'true';
    });
    expect(of(report, 'variable-used', 'lives').message).to.equal('Lives is never read.');
    const shown = spoil((d) => {
      d.places.splash.rules[0].if = 'true';
      d.places.splash.message = 'Lives: {lives}';
    });
    expect(outcome(shown, 'variable-used', 'lives')).to.equal('holds');
  });

  it('number-skipped: a step that meets the number is none, nor is one of one', () => {
    for (const [step, value] of [
      ['oil + 2', 6],
      ['oil + 1', 5]
    ]) {
      const report = spoil((d) => {
        d.variables.oil = { name: 'Oil', type: 'number', initial: 0, min: 0, max: 9, scope: 'run' };
        d.places.quay.rules.push(press('u', 'Up', { do: [{ set: 'oil', to: step }] }), {
          id: 'ten',
          when: { holds: `oil = ${value}` }
        });
      });
      expect(outcome(report, 'number-skipped', 'ten')).to.equal('holds');
    }
  });

  it('value-clamped: the shortest way to where it happens', () => {
    // lives 0 from the first game, and the water takes one more in the second
    expect(of(example, 'value-clamped', 'lives')).to.deep.include({ outcome: 'fails', severity: 'information', length: 7 });
    const report = spoil((d) => (d.places.title.rules[0].do = [{ begin: 'run' }]));
    expect(outcome(report, 'value-clamped', 'lives')).to.equal('holds');
  });

  it('rule-hidden: not by a rule with a condition, nor by one that opens over', () => {
    for (const rest of [{ if: 'lives > 0', go: { place: 'quay' } }, { go: { place: 'splash', over: true } }]) {
      const report = spoil((d) =>
        d.places.title.rules.push(press('first', 'Go', rest), press('second', 'Go', { go: { place: 'loft' } }))
      );
      expect(outcome(report, 'rule-hidden', 'second')).to.equal('holds');
    }
  });

  it('an accepted finding that is there is used', () => {
    const report = spoil((d) => {
      d.places.dark.name = 'Title';
      d.accepted = [{ check: 'name-unique', subject: 'dark', reason: 'One is inside the other.' }];
    });
    expect(outcome(report, 'accepted-unused', 'name-unique dark')).to.equal('holds');
    expect(of(report, 'name-unique', 'dark')).to.deep.include({ outcome: 'fails', accepted: 'One is inside the other.' });
  });
});

describe('a finding that is accepted twice', () => {
  it('is told once, and taken off the list as often as it stands there', () => {
    const twice = { check: 'way-back', subject: 'nothing', reason: 'It was.' };
    const document = flowOf({ ...threeLamps, accepted: [twice, { ...twice, check: 'name-unique' }, twice] });
    const told = check(document).checks.filter((each) => each.check === 'accepted-unused');
    expect(told.map(({ subject }) => subject)).to.deep.equal(['way-back nothing', 'name-unique nothing']);
    const [fix] = repairsOf(document, told[0]!);
    expect(apply(document, fix!.patch).accepted.map((each) => each.check)).to.deep.equal(['name-unique']);
  });
});

describe('numbers that there can be', () => {
  const flowWith = (holds: string, more: object = {}) =>
    flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        quay: {
          ...threeLamps.places.quay,
          pieces: { ...threeLamps.places.quay.pieces, crate: { name: 'Crate', kind: 'other', count: 2 } },
          rules: [{ id: 'asks', when: { holds }, go: { place: 'aglow' }, result: 'won', ...more }]
        }
      }
    });
  const outcome = (name: string, holds: string, more?: object) =>
    check(flowWith(holds, more)).checks.find(({ check: each, subject }) => each === name && subject === 'asks')?.outcome;

  it('are those of every kind of piece, of levels won, and of both sides', () => {
    expect(outcome('goal-count', 'left(crate) = 1')).to.equal('fails');
    expect(outcome('goal-count', 'left(crate) = 2')).to.equal('holds');
    expect(outcome('goal-count', 'taken(crate) >= 1')).to.equal('fails');
    expect(outcome('goal-count', 'left(lamp) = -1')).to.equal('fails');
    expect(outcome('goal-count', '4 <= taken(lamp)')).to.equal('fails');
    expect(outcome('goal-count', 'wins(main) = 3')).to.equal('fails');
    expect(outcome('goal-count', 'wins(main) = 2')).to.equal('holds');
  });

  it('are all of them where a level is won or lost', () => {
    expect(outcome('goal-partial', 'wins(main) >= 1')).to.equal('fails');
    expect(outcome('goal-partial', 'wins(main) >= 2')).to.equal('holds');
    expect(outcome('goal-partial', 'taken(lamp) >= 2', { result: 'lost' })).to.equal('fails');
    expect(outcome('goal-partial', 'left(lamp) = 0', { result: 'lost' })).to.equal('holds');
  });

  it('are in step where all are asked for', () => {
    for (const holds of ['all(lamp)', 'all(main)', 'taken(lamp) = count(lamp)'])
      for (const name of ['goal-count', 'goal-partial', 'condition'])
        expect(outcome(name, holds) ?? 'holds', `${name} ${holds}`).to.equal('holds');
  });

  it('are told with a repair', () => {
    const document = flowWith('wins(main) = 3');
    const verdict = check(document).checks.find(({ check: each, subject }) => each === 'goal-count' && subject === 'asks')!;
    expect(verdict.why!.map(({ text }) => text)).to.deep.equal(['“levels won of Round is 3”: Round has 2 levels.']);
    expect(repairsOf(document, verdict)[0]!.label).to.include('Ask for all: 2 levels');
  });
});

describe('a deadline behind a move that surely leaves', () => {
  const deadlines = (go: object) =>
    check(
      flowOf({
        ...threeLamps,
        places: {
          ...threeLamps.places,
          splash: {
            ...threeLamps.places.splash,
            rules: [
              { id: 'soon', when: { after: 1 }, go },
              { id: 'late', when: { after: 2 }, go: { place: 'title' } }
            ]
          }
        }
      })
    ).checks.find(({ check: name, subject }) => name === 'overtaken-deadline' && subject === 'late')!.outcome;

  it('never passes', () => {
    expect(deadlines({ move: 'first', order: 'main' })).to.equal('fails');
    expect(deadlines({ move: 'last', order: 'main' })).to.equal('fails');
    expect(deadlines({ move: 'next', else: { move: 'first', order: 'main' } })).to.equal('fails');
    expect(deadlines({ move: 'first' })).to.equal('holds');
    expect(deadlines({ move: 'next' })).to.equal('holds');
    // an interlude is not a level: there may have been none
    expect(deadlines({ move: 'again' })).to.equal('holds');
  });
});

describe('the values of a condition that was never true', () => {
  it('are told from the lowest to the highest, however many there were', () => {
    const coins = { name: 'Coins', type: 'number', initial: 0, min: 0, max: 99, scope: 'run' };
    const document = flowOf({
      variables: { coins },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'more', when: { press: 'More' }, do: [{ set: 'coins', to: 'coins * 1 + 1' }] },
            { id: 'rich', when: { press: 'Rich' }, if: 'coins * 1 > 200', go: { place: 'title' } }
          ]
        }
      }
    });
    for (const explorer of [explore, explorePacked])
      expect(
        check(document, { explorer }).checks.find(({ check: name, subject }) => name === 'rule-fires' && subject === 'rich')!
          .why![0]!.text
      ).to.include('Coins: 0 to 99');
  });
});

describe('a hopeless arrival', () => {
  it('is the event told, not one that leads to a state like it', () => {
    // the key can be used up in the level, or before it: only the second is an arrival without it
    const document = flowOf({
      variables: { key: { name: 'Key', type: 'flag', initial: true, scope: 'run' } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'in', when: { press: 'In' }, go: { place: 'room' } },
            { id: 'shop', when: { press: 'Shop' }, go: { place: 'shop' } }
          ]
        },
        shop: {
          name: 'Shop',
          kind: 'menu',
          rules: [
            { id: 'sell', when: { press: 'Sell' }, do: [{ set: 'key', to: 'false' }] },
            { id: 'out', when: { press: 'Out' }, go: { place: 'room' } }
          ]
        },
        room: {
          name: 'Room',
          kind: 'level',
          rules: [
            { id: 'drop', when: { press: 'Drop' }, do: [{ set: 'key', to: 'false' }] },
            { id: 'open', when: { press: 'Open' }, if: 'key', go: { place: 'end' }, result: 'won' }
          ]
        },
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    });
    for (const explorer of [explore, explorePacked]) {
      const verdict = check(document, { explorer }).checks.find(
        ({ check: name, subject }) => name === 'arrival-completable' && subject === 'room'
      )!;
      // pressing Drop in the room leads to the same state in two
      expect(verdict.length).to.equal(3);
      expect(verdict.route).to.deep.equal([{ press: 'Shop' }, { press: 'Sell' }, { press: 'Out' }]);
    }
  });
});

describe('a shared rule', () => {
  const pausing = (rules: object[]) =>
    flowOf({
      ...threeLamps,
      rules: [...threeLamps.rules, { id: 'pause', when: { press: 'Pause', key: 'Esc' }, go: { place: 'title' } }],
      places: { ...threeLamps.places, quay: { ...threeLamps.places.quay, rules: [...threeLamps.places.quay.rules, ...rules] } }
    });
  const told = (rules: object[]) =>
    check(pausing(rules)).checks.find((each) => each.check === 'shared-overridden' && each.subject === 'pause')!;
  const own = { id: 'own', when: { press: 'Pause' }, go: { place: 'dark' } };

  it('is overridden where a level has its own on the same event that leads away', () => {
    const { outcome: is, message, why } = told([own]);
    expect([is, message]).to.deep.equal(['fails', 'The rule “when Pause is pressed” in every level is not read in 1 level.']);
    expect(why!.map(({ text }) => text)).to.deep.equal([
      'Quay Street: the rule “when Pause is pressed” in Quay Street is read before it and leads away.'
    ]);
    const [fix] = repairsOf(pausing([own]), told([own]));
    expect(fix!.label).to.equal('Use the shared rule in Quay Street');
    const after = apply(pausing([own]), fix!.patch);
    expect(check(after).checks.find((each) => each.check === 'shared-overridden')!.outcome).to.equal('holds');
  });

  it('is not by one with a condition, that opens over, that stays, or of another event', () => {
    const others = [{ if: 'lives > 0' }, { go: { place: 'title', over: true } }, { go: undefined }, { when: { press: 'Menu' } }];
    for (const other of others) expect(told([{ ...own, ...other }]).outcome, JSON.stringify(other)).to.equal('holds');
  });
});
