import { expect } from 'chai';
import { causesOf, toldFindings, type Cause } from '../src/causes/causes.ts';
import { tryCauses, type Tried } from '../src/causes/tried.ts';
import { check, finish } from '../src/check/check.ts';
import { apply } from '../src/document/patch.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { onlyDeletes, repairsOf } from '../src/repair/repairs.ts';
import { decides, verdictKey } from '../src/report/report.ts';
import { demo, flowOf } from './support/flows.ts';
import { end, jobs, lamps, level, lockedBy, press, won } from './support/jobs.ts';
import { long } from './support/everyday.ts';

const tried = (document: FlowDocument): Cause[] => finish(tryCauses(document, check(document)));
const deciding = (causes: Cause[]) => causes.filter(({ verdict }) => decides(verdict));
const failing = (document: FlowDocument) => check(document).checks.filter(decides).map(verdictKey);

/** The first cause with its best fix made: what fails then. */
function fixed(document: FlowDocument): { cause: string; fix: string; left: string[] } {
  const [cause] = tried(document);
  const { change } = cause!.fix!;
  return { cause: verdictKey(cause!.verdict), fix: change.label, left: failing(apply(document, change.patch)) };
}

/** Three levels in a row, the second of which asks for more lamps than it has. */
const row = flowOf({
  orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two', 'three'] } },
  places: {
    title: { name: 'Title', kind: 'menu', rules: [press('begin', 'Begin', { go: { move: 'first', order: 'main' } })] },
    one: level('One', [won('w1', { move: 'next', else: { place: 'end' } })]),
    two: level('Two', [won('w2', { move: 'next', else: { place: 'end' } }, { holds: 'taken(lamp) >= 2' })]),
    three: level('Three', [won('w3', { move: 'next', else: { place: 'end' } })]),
    end
  }
});

describe('causes', () => {
  it('explain a level that cannot be won, what comes after it and the ending, by the number that is asked for', () => {
    const causes = deciding(causesOf(row, check(row)));
    expect(causes.map(({ verdict }) => verdictKey(verdict))).to.deep.equal(['goal-count w2']);
    expect(causes[0]!.follows.map(verdictKey)).to.include.members([
      'place-reached three',
      'place-reached end',
      'level-completable two',
      'arrival-completable two',
      'rule-fires w2'
    ]);
  });

  it('take along what their fix removes, each time the same', () => {
    const causes = deciding(tried(row));
    expect(deciding(tried(row))).to.deep.equal(causes);
    expect(causes.map(({ verdict }) => verdictKey(verdict))).to.deep.equal(['goal-count w2']);
    expect(causes[0]!.fix!.change.label).to.equal('Ask for all: 1 Lamp');
    expect(causes[0]!.fix!.removes).to.equal(toldFindings(check(row)).length);
  });

  long('hold every finding once, whatever has been tried', () => {
    const faults = demo('lamplighters-round-with-faults');
    const report = check(faults);
    const told = toldFindings(report).map(verdictKey).sort();
    const all = (causes: Cause[]) => causes.flatMap(({ verdict, follows }) => [verdict, ...follows]).map(verdictKey);
    const known = causesOf(faults, report);
    expect(all(known).sort()).to.deep.equal(told);
    const once = finish(tryCauses(faults, report));
    expect(all(once).sort()).to.deep.equal(told);
    expect([told.length, known.length, once.length]).to.deep.equal([69, 51, 44]);
    // of names that are written alike the likeliest is the fix, even where another one would remove more
    const misspelt = once.find(({ verdict }) => verdictKey(verdict) === 'condition another')!;
    expect(misspelt.fix!.change.label).to.equal('Change “live” to Lives');
    // what only deletes is the last resort
    const failed = report.checks.filter(decides);
    for (const { verdict, fix } of once) {
      if (fix && onlyDeletes(fix.change)) {
        const others = repairsOf(faults, verdict).filter((each) => !onlyDeletes(each));
        for (const { patch } of others) {
          const left = failing(apply(faults, patch));
          // each leaves it as it is, or brings as much as it takes away
          if (!left.includes(verdictKey(verdict))) expect(left.length, verdictKey(verdict)).to.be.at.least(failed.length);
        }
      }
    }
  }).timeout(60 * 60_000);

  it('are not tried further than they are asked for', () => {
    const run = tryCauses(row, check(row));
    const { causes, states } = run.next().value as Tried;
    expect(causes.map(({ fix }) => fix)).to.deep.equal([undefined]);
    expect(states).to.be.greaterThan(0);
    expect(finish(run)[0]!.fix!.change.label).to.equal('Ask for all: 1 Lamp');
  });
});

describe('fixes that complete', () => {
  it('draw the order that a run begins with', () => {
    const drawn = flowOf(jobs.undrawn);
    expect(fixed(drawn)).to.deep.equal({ cause: 'never-stranded begin', fix: 'Draw Rounds first', left: [] });
    expect(check(drawn).checks.find((each) => verdictKey(each) === 'place-reached one')!.why![0]!.text).to.equal(
      'The order has no first level, or nothing has been drawn.'
    );
  });

  it('let a value begin with each attempt where it wins the next level on arrival', () => {
    const document = flowOf(jobs.score);
    const verdict = check(document).checks.find((each) => verdictKey(each) === 'over-at-once two')!;
    expect(verdict).to.deep.include({ outcome: 'fails', severity: 'error', length: 5 });
    expect(verdict.message).to.equal('Two is over on arrival: the rule “once Score is at least 3” in every level fires at once.');
    expect(verdict.why![0]!.text).to.equal('Score is 3 on arrival.');
    expect(fixed(document)).to.deep.equal({ cause: 'over-at-once two', fix: 'Begin Score with each attempt', left: [] });
  });

  it('lose when the player piece is defeated', () => {
    const document = flowOf({
      places: {
        title: { name: 'Title', kind: 'menu', rules: [press('begin', 'Begin', { go: { place: 'arena' } })] },
        arena: level('Arena', [won('w', { place: 'end' })], { ...lamps(2), hero: { name: 'Hero', kind: 'player' } }),
        end
      }
    });
    expect(fixed(document)).to.deep.include({ cause: 'piece-handled arena/hero', fix: 'Lose when Hero is defeated' });
  });

  it('hear the signal that nothing hears', () => {
    expect(fixed(flowOf(jobs.signal))).to.deep.equal({ cause: 'signal-heard victory', fix: 'Win when Won is raised', left: [] });
  });

  it('open over the place before it what goes back where nothing is below', () => {
    expect(fixed(flowOf(jobs.options))).to.deep.include({ fix: 'Open Options over the place before it', left: [] });
  });

  it('ask for every level where a lock asks for more than there are', () => {
    const expected = { cause: 'goal-count vault', fix: 'Ask for all: 3 levels', left: [] };
    expect(fixed(flowOf(lockedBy('wins(main) = 5')))).to.deep.equal(expected);
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
        end
      }
    });
    const verdict = check(document).checks.find((each) => verdictKey(each) === 'way-back hall')!;
    const [change] = repairsOf(document, verdict);
    expect(change!.label).to.equal('Make the other side: from Loft to Hall');
    expect(check(apply(document, change!.patch)).checks.find((each) => verdictKey(each) === 'way-back hall')!.outcome).to.equal(
      'holds'
    );
  });
});
