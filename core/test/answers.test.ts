import { expect } from 'chai';
import fc from 'fast-check';
import { byPlace, families, findings, markOf, placeOf, threeAnswers } from '../src/report/answers.ts';
import { check } from '../src/check/check.ts';
import { compareReports } from '../src/report/compare.ts';
import { severities, type Report } from '../src/report/report.ts';
import { restsOn } from '../src/check/rests.ts';
import { accept, setExpects } from '../src/document/edits/lists.ts';
import { changePiece } from '../src/document/edits/parts.ts';
import { addPlace, emptyPlace, removePlace, renamePlace } from '../src/document/edits/places.ts';
import { apply } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import { write } from '../src/document/write.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { reportHtml } from '../src/formats/report-html.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { placesInOrder } from '../src/lane/order.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { seed } from './support/compare.ts';
import { randoms } from './support/everyday.ts';

const flow = flowOf(threeLamps);
const faults = demo('lamplighters-round-with-faults');
const harder = apply(flow, changePiece(flow, 'loft', 'lamp', { count: 1 }).patch);

describe('answers', () => {
  it('are three, with how many are as they should be and what says no', () => {
    const good = threeAnswers(check(flow));
    expect([good.completed.mark, good.completed.good, good.completed.of]).to.deep.equal(['holds', 2, 2]);
    expect([good.reached.mark, good.reached.good, good.reached.of]).to.deep.equal(['holds', 6, 6]);
    expect(good.free.mark).to.equal('holds');
    const bad = threeAnswers(check(harder));
    expect([bad.completed.mark, bad.completed.good]).to.deep.equal(['fails', 1]);
    expect(bad.completed.against.map(({ subject }) => subject)).to.deep.equal(['loft']);
    expect(bad.reached.against.map(({ subject }) => subject)).to.deep.equal(['aglow']);
  });

  it('put every check into one family, and every verdict to its place', () => {
    const inFamilies = families.flatMap(({ checks }) => checks as readonly string[]);
    expect([...inFamilies].sort()).to.deep.equal(Object.keys(severities).sort());
    const report = check(faults);
    const table = byPlace(faults, report);
    const count = [...table.values()].flatMap((row) => [...row.values()]).flat().length;
    expect(count).to.equal(report.checks.length);
    expect(markOf(table.get('chapel')!.get('completed')!)).to.equal('fails');
    expect(markOf(table.get('ferry')!.get('completed')!)).to.equal('accepted');
    expect(markOf(table.get('quay')!.get('reached')!)).to.equal('holds');
    // nobody comes to the lighthouse, so nothing is praised there; that one rule never fires takes no praise from a place
    expect(markOf(table.get('light')!.get('completed')!)).to.equal('unreached');
    expect(markOf(table.get('ferry')!.get('free')!)).to.equal('holds');
    const stranded = report.checks.find((each) => each.check === 'never-stranded' && each.subject === 'continue')!;
    expect(placeOf(faults, stranded)).to.equal('title');
  });

  it('leave out of the findings what goes without saying, errors first', () => {
    const list = findings(check(faults));
    expect(list.some(({ subject }) => subject === 'w_light')).to.equal(false);
    const ranks = list.map(({ severity }) => ['error', 'warning', 'information'].indexOf(severity));
    expect(ranks).to.deep.equal([...ranks].sort());
  });
});

describe('places in a list', () => {
  it('stand as they are played, then the screens', () => {
    const list = placesInOrder(faults);
    expect(list).to.have.length(Object.keys(faults.places).length);
    expect(list.slice(0, 2)).to.deep.equal([
      { place: 'quay', number: 1 },
      { place: 'nets', number: 2 }
    ]);
    const kinds = list.map(({ place }) => ['level', 'menu', 'interlude', 'ending'].indexOf(faults.places[place]!.kind));
    expect(kinds).to.deep.equal([...kinds].sort());
  });
});

describe('two reports', () => {
  it('tell which verdicts are mended and which are broken', () => {
    const changes = compareReports(check(flow), check(harder));
    const said = changes.map(({ check: name, subject, is }) => `${is} ${name} ${subject}`);
    expect(said).to.include('broken level-completable loft').and.include('broken place-reached aglow');
    const back = compareReports(check(harder), check(flow)).map(({ check: name, subject, is }) => `${is} ${name} ${subject}`);
    expect(back).to.include('fixed level-completable loft');
    expect(compareReports(check(flow), check(flow))).to.deep.equal([]);
  });

  it('say nothing of new places that are in order, and of what is gone only if it failed', () => {
    const more = apply(flow, addPlace(flow, emptyPlace('menu', 'Nowhere')).patch);
    const added = compareReports(check(flow), check(more));
    expect(added.every(({ after }) => after === 'fails')).to.equal(true);
    expect(added.map(({ check: name }) => name)).to.include('place-reached');
    const gone = compareReports(check(more), check(apply(more, removePlace(more, 'nowhere').patch)));
    expect(gone.every(({ is, after }) => is === 'fixed' && after === undefined)).to.equal(true);
  });
});

describe('any two reports', () => {
  const failing = (report: Report) =>
    new Set(report.checks.flatMap(({ check: name, subject, outcome }) => (outcome === 'fails' ? [`${name} ${subject}`] : [])));

  it('differ in just what fails in one of them only', () => {
    fc.assert(
      fc.property(randomFlow, (document: FlowDocument) => {
        const before = check(document);
        const [verdict] = before.checks.filter((each) => repairsOf(document, each).length > 0);
        if (!verdict) return;
        const after = check(apply(document, repairsOf(document, verdict)[0]!.patch));
        const [was, is] = [failing(before), failing(after)];
        const changes = compareReports(before, after);
        const named = (kind: string) => changes.filter((each) => each.is === kind).map((each) => `${each.check} ${each.subject}`);
        expect(named('fixed').sort()).to.deep.equal([...was].filter((key) => !is.has(key)).sort());
        expect(named('broken').sort()).to.deep.equal([...is].filter((key) => !was.has(key)).sort());
      }),
      { numRuns: randoms(60), seed }
    );
  });

  it('rest on nothing that is only a name', () => {
    fc.assert(
      fc.property(randomFlow, (document: FlowDocument) => {
        const renamed = structuredClone(document);
        const named = [renamed.variables, renamed.signals, renamed.orders, renamed.groups, renamed.places];
        for (const map of named) for (const each of Object.values(map)) each.name = `${each.name}, renamed`;
        for (const place of Object.values(renamed.places))
          if (place.kind === 'level') for (const piece of Object.values(place.pieces)) piece.name = `${piece.name}, renamed`;
        const now = check(renamed);
        for (const verdict of check(document).checks) {
          if (verdict.outcome !== 'fails') continue;
          const same = now.checks.find((each) => each.check === verdict.check && each.subject === verdict.subject);
          if (same?.outcome === 'fails') expect(restsOn(renamed, same), verdict.check).to.equal(restsOn(document, verdict));
        }
      }),
      { numRuns: randoms(60), seed }
    );
  });
});

describe('an accepted finding', () => {
  const finding = (document: FlowDocument) =>
    check(document).checks.find((each) => each.check === 'fresh-start' && each.subject === 'begin')!;
  const taken = apply(flow, accept(flow, 'fresh-start', 'begin', 'meant', restsOn(flow, finding(flow))).patch);

  it('stays accepted while what it rests on stays, and survives a file', () => {
    expect(validate(taken).errors).to.equal(undefined);
    expect(read(write(taken)).document).to.deep.equal(taken);
    expect(finding(taken).accepted).to.equal('meant');
    const renamed = apply(taken, renamePlace(taken, 'title', 'Front page').patch);
    expect(finding(renamed).accepted).to.equal('meant');
    const elsewhere = apply(taken, setExpects(taken, 'loft', ['lives > 0']).patch);
    expect(finding(elsewhere).accepted).to.equal('meant');
  });

  it('is a finding again when that changes, and the list says so', () => {
    const changed = apply(taken, [{ op: 'replace', path: '/variables/lives/initial', value: 1 }]);
    expect(finding(changed).accepted).to.equal(undefined);
    const note = check(changed).checks.find((each) => each.check === 'accepted-unused')!;
    expect(note.outcome).to.equal('fails');
    expect(note.message).to.include('has changed.');
    const anew = apply(changed, accept(changed, 'fresh-start', 'begin', 'still meant', restsOn(changed, finding(changed))).patch);
    expect(finding(anew).accepted).to.equal('still meant');
    expect(anew.accepted).to.have.length(1);
  });

  it('of older files, without what it rests on, is accepted for good', () => {
    const old = apply(flow, accept(flow, 'fresh-start', 'begin', 'meant').patch);
    const changed = apply(old, [{ op: 'replace', path: '/variables/lives/initial', value: 1 }]);
    expect(finding(changed).accepted).to.equal('meant');
  });
});

describe('the printed report', () => {
  const html = reportHtml(faults, check(faults), { revision: 7, date: new Date('2030-01-02T12:00:00Z') });

  it('has the date, the revision, the lane, the places, the findings, the reasons and what is carried', () => {
    for (const said of [
      'Revision 7, 2030-01-02',
      '<svg',
      'Chapel Rise can never be won',
      'Accepted: <i>Three lamps are enough for the ferryman.</i>',
      '<td>Rope Walk</td><td>Light nine lamps</td><td>Lamp × 9 are collected</td><td class="fails">',
      'Night 1 cannot be won in 4 s: the shortest route takes 4.75 s.',
      '<tr><th scope="row">Night 1</th><td>4.75</td><td>4</td>',
      'What the player carries on arrival',
      '0 to 3'
    ])
      expect(html).to.include(said);
  });

  it('runs nothing, loads nothing, and shows names as they are', () => {
    expect(html).to.not.match(/<script|<link|src=|url\(|@import/i);
    const odd = apply(flow, renamePlace(flow, 'quay', '<b onload=x>&"').patch);
    const page = reportHtml(odd, check(odd), { date: new Date() });
    expect(page).to.not.include('<b onload');
    expect(page).to.include('&lt;b onload=x&gt;&amp;&quot;');
  });
});
