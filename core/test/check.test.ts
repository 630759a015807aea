import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import type { Report, Verdict } from '../src/report/report.ts';
import { replay } from '../src/play/replay.ts';
import type { FlowDocument, Step } from '../src/document/types.ts';
import { flowOf, threeLamps } from './support/flows.ts';

const spoil = (change: (document: any) => void): FlowDocument => {
  const copy = structuredClone(threeLamps) as unknown;
  change(copy);
  return flowOf(copy as Record<string, unknown>);
};
const of = (report: Report, name: string, subject: string): Verdict => {
  const found = report.checks.find((each) => each.check === name && each.subject === subject);
  expect(found, `${name} ${subject}`).not.to.equal(undefined);
  return found!;
};
const failing = (report: Report) =>
  report.checks
    .filter(({ outcome, severity }) => outcome === 'fails' && severity === 'error')
    .map(({ check: name, subject }) => `${name} ${subject}`);
const why = (verdict: Verdict) => (verdict.why ?? []).map(({ text }) => text).join(' ');

/** All places entered on a route, which must be playable to its end, and the levels won. */
function replayed(document: FlowDocument, route: Step[]): { entered: string[]; won: string[] } {
  const played = replay(document, route);
  const begun = route[0] && 'start' in route[0] ? 0 : 1;
  expect(played, 'steps played').to.have.length(route.length + begun);
  return { entered: played.flatMap(({ entered }) => entered), won: played.flatMap(({ won }) => won) };
}

describe('check: the worked example', () => {
  const document = flowOf(threeLamps);
  const report = check(document);

  it('finds everything in order', () => {
    expect(failing(report)).to.deep.equal([]);
    expect(report).to.deep.include({ format: 'crow-lane-report', version: 1, flow: 'Three lamps', complete: true });
  });

  it('gives the shortest routes, which lead where it says', () => {
    const lengths = { title: 0, quay: 1, loft: 4, splash: 2, aglow: 6, dark: 4 };
    for (const [place, length] of Object.entries(lengths)) {
      const verdict = of(report, 'place-reached', place);
      expect(verdict.length, place).to.equal(length);
      expect(replayed(document, verdict.route!).entered.at(-1), place).to.equal(place);
    }
    expect(replayed(document, of(report, 'level-completable', 'loft').route!).won).to.include('loft');
    expect(of(report, 'level-completable', 'quay').length).to.equal(4);
  });
});

describe('check: what it finds', () => {
  it('a place nothing leads to', () => {
    const report = check(spoil((d) => (d.places.attic = { name: 'Attic', kind: 'menu' })));
    expect(failing(report)).to.deep.equal(['place-reached attic']);
    expect(why(of(report, 'place-reached', 'attic'))).to.equal('No rule leads to Attic.');
  });

  it('a level that wants more than there is, with the numbers', () => {
    const report = check(spoil((d) => (d.places.loft.rules[0].when.holds = 'taken(lamp) >= 5')));
    const verdict = of(report, 'level-completable', 'loft');
    expect(verdict.outcome).to.equal('fails');
    expect(why(verdict)).to.include('Lamp × 5 are collected').and.to.include('Lamp collected: 0 to 2');
    expect(failing(report)).to.have.members([
      'goal-count lit2',
      'level-completable loft',
      'place-reached aglow',
      'never-stuck loft',
      'ending-in-reach flow'
    ]);
  });

  it('a level without any way to win, reached or not', () => {
    const report = check(spoil((d) => (d.places.loft.rules = [])));
    expect(of(report, 'level-completable', 'loft').message).to.include('no rule wins it');
    const orphan = check(spoil((d) => (d.places.roof = { name: 'Roof', kind: 'level' })));
    expect(of(orphan, 'level-completable', 'roof').outcome).to.equal('fails');
    const unreached = check(
      spoil(
        (d) =>
          (d.places.roof = {
            name: 'Roof',
            kind: 'level',
            rules: [{ id: 'w', when: { press: 'Win' }, go: { place: 'aglow' }, result: 'won' }]
          })
      )
    );
    expect(of(unreached, 'level-completable', 'roof').outcome).to.equal('unreached');
  });

  it('a missing next after the last level', () => {
    const report = check(spoil((d) => delete d.places.loft.rules[0].go.else));
    const verdict = of(report, 'never-stranded', 'lit2');
    expect(verdict).to.deep.include({ outcome: 'fails', length: 6 });
    expect(why(verdict)).to.include('After Net Loft there is no next level');
    expect(why(of(report, 'level-completable', 'loft'))).to.include('After Net Loft there is no next level');
  });

  it('a trap without an ending, with its places and the route into it', () => {
    const report = check(
      spoil((d) => {
        d.places.well = { name: 'Well', kind: 'interlude', rules: [{ id: 'round', when: { after: 1 }, go: { place: 'well' } }] };
        d.places.title.rules.push({ id: 'fall', when: { press: 'Well' }, go: { place: 'well' } });
      })
    );
    const verdict = of(report, 'ending-in-reach', 'flow');
    expect(verdict).to.deep.include({ outcome: 'fails', route: [{ press: 'Well' }], length: 1 });
    expect(verdict.why![0]!.places).to.deep.equal(['well']);
  });

  it('a game with no ending', () => {
    const report = check(flowOf({ places: { title: { name: 'Title', kind: 'menu' } } }));
    expect(of(report, 'ending-in-reach', 'flow')).to.deep.include({ outcome: 'fails', message: 'The game has no ending.' });
  });

  it('a hub that is left', () => {
    const places = {
      title: {
        name: 'Hall',
        kind: 'level',
        goal: 'leave',
        rules: [
          { id: 'a', when: { press: 'Pause' }, go: { place: 'pause', over: true } },
          { id: 'b', when: { press: 'Again' }, go: { move: 'again' } }
        ]
      },
      pause: { name: 'Pause', kind: 'menu', rules: [{ id: 'c', when: { press: 'Quit' }, go: { place: 'end' } }] },
      end: { name: 'End', kind: 'ending', outcome: 'left' }
    };
    // leaving from a menu opened over it, or to itself, does not complete it
    expect(of(check(flowOf({ places })), 'level-completable', 'title').outcome).to.equal('fails');
    const left = structuredClone(places) as any;
    left.title.rules.push({ id: 'd', when: { press: 'Leave' }, go: { place: 'end' } });
    expect(of(check(flowOf({ places: left })), 'level-completable', 'title')).to.deep.include({ outcome: 'holds', length: 1 });
  });

  it('references that name nothing, without refusing the draft', () => {
    const report = check(
      spoil((d) => {
        d.places.title.rules.push({ id: 'x', when: { press: 'X' }, go: { place: 'nowhere' } });
        d.places.quay.rules.push({ id: 'y', when: { touch: 'wall' } });
        d.places.splash.rules.push({ id: 'z', when: { touch: 'water' } });
        d.orders.main.levels.push('ghost');
        d.places.aglow.message = 'You had {livse}';
      })
    );
    const references = report.checks
      .filter((each) => each.check === 'reference')
      .map(({ subject, pointer }) => [subject, pointer]);
    expect(references).to.have.deep.members([
      ['rule/x', '/places/title/rules/1/go/place'],
      ['rule/y', '/places/quay/rules/1/when/touch'],
      ['rule/z', '/places/splash/rules/2/when/touch'],
      ['order/main', '/orders/main/levels/2'],
      ['place/aglow', '/places/aglow/message']
    ]);
    // a wrong target strands, a rule set aside has no other verdict
    expect(of(report, 'never-stranded', 'x').outcome).to.equal('fails');
    expect(report.checks.filter(({ subject }) => subject === 'y')).to.deep.equal([]);
  });

  it('conditions that do not parse or type-check, with the column', () => {
    const report = check(
      spoil((d) => {
        d.places.splash.rules[0].if = 'lives == 0';
        d.places.quay.expects = ['lives', 'lives > 0'];
        d.rules[0].do[0].to = 'livs - 1';
      })
    );
    const conditions = report.checks.filter((each) => each.check === 'condition').map(({ subject, column }) => [subject, column]);
    expect(conditions).to.have.deep.members([
      ['over', 8],
      ['quay/0', 1],
      ['slip', 1]
    ]);
  });

  it('only document checks without a start place', () => {
    const report = check(spoil((d) => (d.start = 'gone')));
    expect(report).to.deep.include({ complete: false, states: 0 });
    expect(failing(report)).to.deep.equal(['reference flow']);
    expect(report.checks.map(({ check: name }) => name)).not.to.include('place-reached');
  });

  it('accepted findings keep their outcome', () => {
    const report = check(
      spoil((d) => {
        d.places.attic = { name: 'Attic', kind: 'menu' };
        d.accepted = [{ check: 'place-reached', subject: 'attic', reason: 'built next year' }];
      })
    );
    expect(of(report, 'place-reached', 'attic')).to.deep.include({ outcome: 'fails', accepted: 'built next year' });
  });

  it('routes that no longer fit are played as far as they go', () => {
    const route = of(check(flowOf(threeLamps)), 'place-reached', 'aglow').route!;
    const shorter = spoil((d) => (d.places.quay.pieces.lamp.count = 2));
    expect(replay(shorter, route).length).to.be.lessThan(route.length + 1);
  });

  it('draws on routes', () => {
    const document = flowOf({
      orders: { night: { name: 'Night', draw: 'table', levels: ['a', 'b'], rows: [['a'], ['b']] } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'd', when: { arrive: true }, do: [{ draw: 'night' }] },
            { id: 'g', when: { press: 'Go' }, go: { move: 'next' } }
          ]
        },
        a: { name: 'A', kind: 'level' },
        b: { name: 'B', kind: 'level' }
      }
    });
    const verdict = of(check(document), 'place-reached', 'b');
    expect(verdict).to.deep.include({
      length: 1,
      route: [{ start: true, draws: [{ order: 'night', row: 1 }] }, { press: 'Go' }]
    });
    expect(replayed(document, verdict.route!).entered).to.deep.equal(['title', 'b']);
  });
});

describe('check: the limit', () => {
  const wide = () =>
    flowOf({
      variables: { n: { name: 'N', type: 'number', initial: 0, min: 0, max: 900, scope: 'run' } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'up', when: { press: 'Up' }, do: [{ set: 'n', to: 'n + 1' }] },
            { id: 'out', when: { press: 'Out' }, if: 'n = 800', go: { place: 'end' } },
            { id: 'near', when: { press: 'Near' }, go: { place: 'hall' } },
            { id: 'lost', when: { press: 'Lost' }, go: { place: 'well' } }
          ]
        },
        hall: { name: 'Hall', kind: 'menu', rules: [{ id: 'back', when: { press: 'Back' }, go: { place: 'title' } }] },
        well: { name: 'Well', kind: 'menu' },
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    });

  it('keeps what is certain and leaves the rest open', () => {
    const report = check(wide(), { limit: 300 });
    expect(report.complete).to.equal(false);
    expect(of(report, 'place-reached', 'hall').outcome).to.equal('holds');
    expect(of(report, 'place-reached', 'end').outcome).to.equal('open');
    expect(of(report, 'never-stranded', 'near').outcome).to.equal('open');
    // nothing follows from the well, whatever was not looked at
    expect(of(report, 'ending-in-reach', 'flow')).to.deep.include({ outcome: 'fails', route: [{ press: 'Lost' }] });
  });

  it('settles the rest when it is high enough', () => {
    const report = check(wide(), { limit: 100_000 });
    expect(report.complete).to.equal(true);
    expect(of(report, 'place-reached', 'end')).to.deep.include({ outcome: 'holds', length: 801 });
  });
});
