/** Causes as they are told elsewhere: in reports for others, and of places. */
import { expect } from 'chai';

import { tryCauses } from '../src/causes/tried.ts';
import { check, finish } from '../src/check/check.ts';
import { accept } from '../src/document/edits/lists.ts';
import { apply } from '../src/document/patch.ts';
import { restsOn } from '../src/check/rests.ts';
import { addPiece } from '../src/document/edits/parts.ts';
import { junit } from '../src/formats/junit.ts';
import { reportHtml } from '../src/formats/report-html.ts';
import { sarif } from '../src/formats/sarif.ts';
import { overAtOnce, placeMarks, threeAnswers } from '../src/report/answers.ts';
import { decides, verdictKey } from '../src/report/report.ts';
import { flowOf, smallDemo } from './support/flows.ts';
import { long } from './support/everyday.ts';

const faults = smallDemo('lamplighters-round-with-faults');
const report = check(faults);
const chapel = 'The rule “once Candle × 4 are collected” in Chapel Rise asks for a number that never occurs.';

describe('causes in reports', () => {
  it('stand in SARIF as related locations of what follows from them', () => {
    const log = sarif([{ document: faults, report, file: 'a.crow.json', place: () => ({ line: 3, column: 5 }) }], '0') as {
      runs: { results: { partialFingerprints: Record<string, string>; relatedLocations?: { message: { text: string } }[] }[] }[];
    };
    const result = (key: string) => log.runs[0]!.results.find((each) => each.partialFingerprints['subject/v1'] === key)!;
    expect(result('place-reached light').relatedLocations).to.have.length(1);
    expect(result('place-reached light').relatedLocations![0]).to.deep.include({
      message: { text: `Follows from this: ${chapel}` }
    });
    expect(result('goal-count w_chapel')).to.not.have.property('relatedLocations');
  });

  it('stand in JUnit below the reasons', () => {
    const text = junit([{ document: faults, report }]);
    const light = /<testcase classname="place-reached" name="light">[\s\S]*?<\/testcase>/.exec(text)![0];
    expect(light).to.include(`Follows from: ${chapel}`);
  });

  long('stand on the printed page with their fix, where one has been tried', () => {
    const known = reportHtml(faults, report, { date: new Date(0) });
    expect(known.split(chapel)).to.have.length(2);
    expect(known).to.include('From this follows:').and.not.include('Fix: Ask for 3');
    const causes = finish(tryCauses(faults, report));
    expect(reportHtml(faults, report, { date: new Date(0), causes })).to.include(
      'Fix: Ask for all: Candle × 3 (removes 7 findings)'
    );
  }).timeout(60 * 60_000);
});

describe('a place', () => {
  const level = (rules: object[]) => ({ name: 'One', kind: 'level', pieces: { lamp: { name: 'Lamp', kind: 'pickup' } }, rules });
  const over = flowOf({
    places: {
      title: { name: 'Title', kind: 'menu', rules: [{ id: 'b', when: { press: 'Begin' }, go: { place: 'one' } }] },
      one: level([{ id: 'w', when: { holds: 'true' }, result: 'won', go: { place: 'end' } }]),
      end: { name: 'End', kind: 'ending', outcome: 'won', rules: [{ id: 'm', when: { press: 'Menu' }, go: { place: 'title' } }] }
    }
  });

  it('is not in order while a finding other than a note concerns it', () => {
    const marks = placeMarks(faults, report);
    for (const verdict of report.checks.filter(decides)) {
      const place = /^\/places\/([a-z0-9_]+)/.exec(verdict.pointer ?? '')?.[1];
      const told = verdict.check !== 'rule-fires' || !verdict.why?.every(({ never }) => never === 'place not reached');
      if (place && told) expect(marks.get(place), verdictKey(verdict)).to.equal('fails');
    }
    expect(marks.get('sail')).to.equal('holds');
  });

  it('that is over as it is entered does not count as a level that can be completed', () => {
    const told = check(over);
    expect(overAtOnce(told).map(({ subject }) => subject)).to.deep.equal(['one']);
    expect(threeAnswers(told).completed).to.deep.include({ mark: 'fails', good: 0, of: 1 });
    expect(placeMarks(over, told).get('one')).to.equal('fails');
  });
});

describe('an accepted game without an end', () => {
  it('stays accepted when something else in its loop changes, and is told again when there is an ending', () => {
    const loop = flowOf({
      places: {
        title: { name: 'Title', kind: 'menu', rules: [{ id: 'b', when: { press: 'Begin' }, go: { place: 'one' } }] },
        one: {
          name: 'One',
          kind: 'level',
          pieces: { lamp: { name: 'Lamp', kind: 'pickup' } },
          rules: [{ id: 'w', when: { holds: 'left(lamp) = 0' }, result: 'won', go: { move: 'again' } }]
        }
      }
    });
    const of = (document: typeof loop) => check(document).checks.find(({ check: name }) => name === 'ending-in-reach')!;
    const accepted = apply(loop, accept(loop, 'ending-in-reach', 'flow', 'endless', restsOn(loop, of(loop))).patch);
    expect(of(accepted).accepted).to.equal('endless');
    const bell = apply(accepted, addPiece(accepted, 'one', { name: 'Bell', kind: 'pickup' }).patch);
    expect(of(bell).accepted).to.equal('endless');
    const ended = structuredClone(accepted);
    ended.places.end = { name: 'End', kind: 'ending', outcome: 'won', rules: [], expects: [] } as never;
    expect(of(ended)).to.not.have.property('accepted');
  });
});
