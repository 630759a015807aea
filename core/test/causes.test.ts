import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { causesOf, keyOf, toldFindings, type Cause } from '../src/causes/causes.ts';
import { tryCauses } from '../src/causes/tried.ts';
import { check, finish } from '../src/check/check.ts';
import { apply } from '../src/document/patch.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { onlyDeletes, repairsOf } from '../src/repair/repairs.ts';
import { decides } from '../src/report/report.ts';
import { documentFrom, flowOf } from './support/flows.ts';

const press = (id: string, label: string, rest: object) => ({ id, when: { press: label }, ...rest });
const tried = (document: FlowDocument): Cause[] => finish(tryCauses(document, check(document)));
const deciding = (causes: Cause[]) => causes.filter(({ verdict }) => decides(verdict));
const failing = (document: FlowDocument) => check(document).checks.filter(decides).map(keyOf);

/** The first cause with its best fix made: what fails then. */
function fixed(document: FlowDocument): { cause: string; fix: string; left: string[] } {
  const [cause] = tried(document);
  const { change } = cause!.fix!;
  return { cause: keyOf(cause!.verdict), fix: change.label, left: failing(apply(document, change.patch)) };
}

const ending = { name: 'The end', kind: 'ending', outcome: 'won', rules: [press('home', 'Menu', { go: { place: 'title' } })] };
const lamps = (count: number) => ({ lamp: { name: 'Lamp', kind: 'pickup', count } });
const level = (name: string, rules: object[], pieces: object = lamps(1)) => ({ name, kind: 'level', pieces, rules });
const won = (id: string, go: object, when: object = { holds: 'left(lamp) = 0' }) => ({ id, when, result: 'won', go });

/** Three levels in a row, the second of which asks for more lamps than it has. */
const row = flowOf({
  orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two', 'three'] } },
  places: {
    title: { name: 'Title', kind: 'menu', rules: [press('begin', 'Begin', { go: { move: 'first', order: 'main' } })] },
    one: level('One', [won('w1', { move: 'next', else: { place: 'end' } })]),
    two: level('Two', [won('w2', { move: 'next', else: { place: 'end' } }, { holds: 'taken(lamp) >= 2' })]),
    three: level('Three', [won('w3', { move: 'next', else: { place: 'end' } })]),
    end: ending
  }
});

describe('causes', () => {
  it('explain a level that cannot be won, what comes after it and the ending, by the number that is asked for', () => {
    const causes = deciding(causesOf(row, check(row)));
    expect(causes.map(({ verdict }) => keyOf(verdict))).to.deep.equal(['goal-count w2']);
    expect(causes[0]!.follows.map(keyOf)).to.include.members([
      'place-reached three',
      'place-reached end',
      'level-completable two',
      'arrival-completable two',
      'rule-fires w2'
    ]);
  });

  it('take along what their fix removes', () => {
    const causes = deciding(tried(row));
    expect(causes.map(({ verdict }) => keyOf(verdict))).to.deep.equal(['goal-count w2']);
    expect(causes[0]!.fix!.change.label).to.equal('Ask for 1 instead of 2');
    expect(causes[0]!.fix!.removes).to.equal(toldFindings(check(row)).length);
  });

  it('hold every finding once, whatever has been tried', () => {
    const faults = documentFrom(readFileSync(join(__dirname, '../../demo/lamplighters-round-with-faults.crow.json'), 'utf8'));
    const report = check(faults);
    const told = toldFindings(report).map(keyOf).sort();
    const all = (causes: Cause[]) => causes.flatMap(({ verdict, follows }) => [verdict, ...follows]).map(keyOf);
    const known = causesOf(faults, report);
    expect(all(known).sort()).to.deep.equal(told);
    const once = finish(tryCauses(faults, report));
    expect(all(once).sort()).to.deep.equal(told);
    expect(all(finish(tryCauses(faults, report)))).to.deep.equal(all(once));
    expect([told.length, known.length, once.length]).to.deep.equal([51, 37, 30]);
    // what only deletes is the last resort
    for (const { verdict, fix } of once) {
      if (fix && onlyDeletes(fix.change)) {
        const others = repairsOf(faults, verdict).filter((each) => !onlyDeletes(each));
        for (const { patch } of others) expect(failing(apply(faults, patch)), keyOf(verdict)).to.include(keyOf(verdict));
      }
    }
  }).timeout(60 * 60_000);

  it('are left as not tried where the budget ends', () => {
    const causes = finish(tryCauses(row, check(row), { states: 1 }));
    expect(causes.some(({ fix }) => fix === undefined)).to.equal(true);
  });
});

describe('fixes that complete', () => {
  it('draw the order that a run begins with', () => {
    const drawn = flowOf({
      orders: {
        main: {
          name: 'Rounds',
          draw: 'table',
          levels: ['one', 'two'],
          rows: [
            ['one', 'two'],
            ['two', 'one']
          ]
        }
      },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            press('begin', 'Begin', { go: { move: 'first', order: 'main' } }),
            press('stop', 'Stop', { go: { place: 'end' } })
          ]
        },
        one: level('One', [won('w1', { move: 'next', else: { place: 'end' } })]),
        two: level('Two', [won('w2', { move: 'next', else: { place: 'end' } })]),
        end: ending
      }
    });
    expect(fixed(drawn)).to.deep.equal({ cause: 'never-stranded begin', fix: 'Draw Rounds first', left: [] });
    expect(check(drawn).checks.find((each) => keyOf(each) === 'place-reached one')!.why![0]!.text).to.equal(
      'The order has no first level, or nothing has been drawn.'
    );
  });

  it('let a value begin with each attempt where it wins the next level as that is entered', () => {
    const score = { name: 'Score', type: 'number', initial: 0, min: 0, max: 99, scope: 'run' };
    const collect = (id: string) => ({ id, when: { collect: 'lamp' }, do: [{ set: 'score', to: 'score + 1' }] });
    const document = flowOf({
      variables: { score },
      orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two'] } },
      rules: [{ id: 'win', when: { holds: 'score >= 3' }, result: 'won', go: { place: 'done' } }],
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [press('begin', 'Begin', { do: [{ begin: 'run' }], go: { move: 'first', order: 'main' } })]
        },
        one: level('One', [collect('c1')], lamps(3)),
        two: level('Two', [collect('c2')], lamps(3)),
        done: {
          name: 'Well done',
          kind: 'interlude',
          rules: [{ id: 'on', when: { after: 2 }, go: { move: 'next', else: { place: 'end' } } }]
        },
        end: ending
      }
    });
    const verdict = check(document).checks.find((each) => keyOf(each) === 'over-at-once two')!;
    expect(verdict).to.deep.include({ outcome: 'fails', severity: 'error', length: 5 });
    expect(verdict.message).to.equal(
      'Two is over as soon as it is entered: the rule “once Score is at least 3” in every level fires at once.'
    );
    expect(verdict.why![0]!.text).to.equal('Score is 3 on arrival.');
    expect(fixed(document)).to.deep.equal({ cause: 'over-at-once two', fix: 'Begin Score with each attempt', left: [] });
  });

  it('lose when the player piece is defeated', () => {
    const document = flowOf({
      places: {
        title: { name: 'Title', kind: 'menu', rules: [press('begin', 'Begin', { go: { place: 'arena' } })] },
        arena: level('Arena', [won('w', { place: 'end' })], { ...lamps(2), hero: { name: 'Hero', kind: 'player' } }),
        end: ending
      }
    });
    expect(fixed(document)).to.deep.include({ cause: 'piece-handled arena/hero', fix: 'Lose when Hero is defeated' });
  });

  it('hear the signal that nothing hears', () => {
    const document = flowOf({
      signals: { victory: { name: 'Won' } },
      places: {
        title: { name: 'Title', kind: 'menu', rules: [press('begin', 'Begin', { go: { place: 'arena' } })] },
        arena: level('Arena', [
          { id: 'all', when: { holds: 'left(lamp) = 0' }, do: [{ raise: 'victory' }] },
          press('leave', 'Leave', { go: { place: 'end' } })
        ]),
        end: ending
      }
    });
    const { fix, left } = fixed(document);
    expect(fix).to.equal('Win when Won is raised');
    expect(left).to.not.include('signal-heard victory').and.not.include('level-completable arena');
  });

  it('open over the place before it what goes back where nothing is below', () => {
    const document = flowOf({
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [press('opt', 'Options', { go: { place: 'options' } }), press('stop', 'Stop', { go: { place: 'end' } })]
        },
        options: { name: 'Options', kind: 'menu', rules: [press('back', 'Back', { go: { move: 'back' } })] },
        end: ending
      }
    });
    expect(fixed(document)).to.deep.include({ fix: 'Open Options over the place before it', left: [] });
  });

  it('ask for every level where levels were added to an order', () => {
    const ids = ['one', 'two', 'three'];
    const document = flowOf({
      orders: { main: { name: 'Main', draw: 'fixed', levels: ids } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            press('begin', 'Begin', { go: { move: 'first', order: 'main' } }),
            press('vault', 'Vault', { if: 'wins(main) = 5', go: { place: 'end' } }),
            press('stop', 'Stop', { go: { place: 'end' } })
          ]
        },
        ...Object.fromEntries(ids.map((id) => [id, level(id, [won(`w_${id}`, { move: 'next', else: { place: 'title' } })])])),
        end: ending
      }
    });
    const { cause, fix, left } = fixed(document);
    expect(cause).to.equal('goal-count vault');
    expect(fix).to.equal('Ask for 3 instead of 5');
    expect(left).to.deep.equal([]);
  });

  it('make the other side of a door', () => {
    const door = (name: string) => ({ door: { name, kind: 'exit' } });
    const document = flowOf({
      places: {
        title: { name: 'Title', kind: 'menu', rules: [press('begin', 'Begin', { go: { place: 'hall' } })] },
        hall: {
          ...level('Hall', [{ id: 'out', when: { touch: 'door' }, go: { place: 'loft' } }], door('Loft door')),
          goal: 'leave'
        },
        loft: { ...level('Loft', [press('stop', 'Stop', { go: { place: 'end' } })], {}), goal: 'leave' },
        end: ending
      }
    });
    const verdict = check(document).checks.find((each) => keyOf(each) === 'way-back hall')!;
    const [change] = repairsOf(document, verdict);
    expect(change!.label).to.equal('Add the way back: from Loft to Hall');
    expect(check(apply(document, change!.patch)).checks.find((each) => keyOf(each) === 'way-back hall')!.outcome).to.equal(
      'holds'
    );
  });
});
