/** Best times of levels with a plan, what wins them, and `time-enough`. */
import { expect } from 'chai';
import { check, finish } from '../src/check/check.ts';
import { apply } from '../src/document/patch.ts';
import { read } from '../src/document/read.ts';
import type { Cell, FlowDocument, Id, Level, Plan, PlanThing, Rule } from '../src/document/types.ts';
import { prepare } from '../src/play/flow.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { fillEstimates, timeRows } from '../src/sheet/times.ts';
import { timesOf, usualTime } from '../src/times/times.ts';
import { winsOf } from '../src/times/wins.ts';
import { bestWords, figureWords } from '../src/words/times.ts';

interface Yard {
  row: string;
  things: Record<Id, PlanThing>;
  rules: object[];
  areas?: Plan['areas'];
  numbers?: object;
}

/** One level seen from above, four cells a second, with lamps, a key, an exit and a gust. */
function yard({ row, things, rules, areas, numbers = {} }: Yard): FlowDocument {
  const pieces = {
    lamp: { name: 'Lamp', kind: 'pickup' },
    key: { name: 'Key', kind: 'pickup' },
    stairs: { name: 'Stairs', kind: 'exit' },
    gust: { name: 'Gust', kind: 'hazard' }
  };
  const plan = { view: 'above', rows: [row], things, ...(areas && { areas }) };
  const document = {
    format: 'crow-lane',
    version: 1,
    name: 'Yards',
    start: 'yard',
    numbers,
    places: {
      yard: { name: 'Yard', kind: 'level', entries: { gate: { name: 'Gate' } }, pieces, rules, plan },
      end: { name: 'End', kind: 'ending', outcome: 'won' },
      dark: { name: 'Dark', kind: 'ending', outcome: 'lost' }
    }
  };
  const { document: found, errors } = read(JSON.stringify(document));
  expect(errors ?? []).to.deep.equal([]);
  return found!;
}

const gate = { e: { entry: 'gate', cell: [0, 0] as Cell } };
const won = (when: object, condition?: string) => ({
  id: 'home',
  when,
  ...(condition !== undefined && { if: condition }),
  go: { place: 'end' },
  result: 'won'
});
const late = (after: number | string) => ({ id: 'late', when: { after }, go: { place: 'dark' }, result: 'lost' });
const lampsAt = (...columns: number[]): Record<Id, PlanThing> => ({
  l: { piece: 'lamp', cells: columns.map((x): Cell => [x, 0]) }
});

const leastOf = (document: FlowDocument) => {
  const flow = prepare(document);
  const times = finish(timesOf(flow, 'yard'))!;
  return usualTime(times, flow.levels[0]![1])?.least;
};
const needsOf = (document: FlowDocument) =>
  winsOf(prepare(document), 'yard').map(({ needs, ends }) => [Object.fromEntries(needs), ends]);
const judged = (document: FlowDocument) => check(document, { limit: 100 }).checks.find((each) => each.check === 'time-enough');

describe('what a level asks for before it is won', () => {
  const row = '..........';
  const asking = (condition: string, when: object = { touch: 'stairs' }) =>
    needsOf(yard({ row, things: { ...gate, ...lampsAt(2, 4, 6) }, rules: [won(when, condition)] }))[0]!;

  it('is what its condition counts, however that is said', () => {
    const stairs = { piece: 'stairs' };
    for (const [condition, lamp] of [
      ['taken(lamp) >= 2', 2],
      ['taken(lamp) > 1', 2],
      ['2 <= taken(lamp)', 2],
      ['left(lamp) = 0', 3],
      ['left(lamp) <= 1', 2],
      ['left(lamp) < 1', 3],
      ['all(lamp)', 3],
      ['taken(lamp) >= count(lamp) - 1', 2]
    ] as const)
      expect(asking(condition), condition).to.deep.equal([{ lamp }, stairs]);
    expect(asking('taken(lamp) >= 1 and taken(key) >= 1')).to.deep.equal([{ lamp: 1, key: 1 }, stairs]);
    // what may hold otherwise asks for nothing that is sure
    expect(asking('taken(lamp) >= 1 or taken(key) >= 1')).to.deep.equal([{}, stairs]);
    expect(asking('not taken(lamp) >= 1')).to.deep.equal([{}, stairs]);
  });

  it('is nothing that rules take away by themselves', () => {
    const storm = { id: 'storm', when: { touch: 'gust' }, do: [{ remove: 'lamp' }] };
    const document = yard({
      row,
      things: { ...gate, ...lampsAt(2, 4) },
      rules: [won({ touch: 'stairs' }, 'all(lamp) and taken(key) >= 1'), storm]
    });
    expect(needsOf(document)).to.deep.equal([[{ key: 1 }, { piece: 'stairs' }]]);
  });

  it('is what its trigger collects, or where it leads to', () => {
    expect(asking('true', { collect: 'lamp' })).to.deep.equal([{ lamp: 1 }, undefined]);
    expect(asking('true', { holds: 'all(lamp)' })).to.deep.equal([{ lamp: 3 }, undefined]);
  });
});

describe('the best time of a level', () => {
  it('is that of the shortest route, in seconds', () => {
    const things = { ...gate, ...lampsAt(2, 8), s: { piece: 'stairs', cells: [[5, 0] as Cell] } };
    // to 8, and back to 5: 11 cells
    expect(leastOf(yard({ row: '..........', things, rules: [won({ touch: 'stairs' }, 'all(lamp)')] }))).to.equal(11 / 4);
    expect(leastOf(yard({ row: '..........', things, rules: [won({ touch: 'stairs' }, 'taken(lamp) >= 1')] }))).to.equal(5 / 4);
    // by the quicker of two wins
    const two = [won({ touch: 'stairs' }, 'all(lamp)'), { ...won({ collect: 'lamp' }), id: 'first' }];
    expect(leastOf(yard({ row: '..........', things, rules: two }))).to.equal(2 / 4);
  });

  it('ends in an area, and does not pass what ends the attempt', () => {
    const areas = { far: { name: 'Far', from: [7, 0] as Cell, to: [9, 0] as Cell } };
    expect(leastOf(yard({ row: '..........', things: gate, areas, rules: [won({ reach: 'far' })] }))).to.equal(7 / 4);
    const things = { ...gate, g: { piece: 'gust', cells: [[4, 0] as Cell] } };
    const lost = { id: 'blown', when: { touch: 'gust' }, go: { place: 'dark' }, result: 'lost' };
    expect(leastOf(yard({ row: '..........', things, areas, rules: [won({ reach: 'far' }), lost] }))).to.equal(undefined);
    // a touch that may be survived is passed
    expect(
      leastOf(yard({ row: '..........', things, areas, rules: [won({ reach: 'far' }), { ...lost, if: 'taken(lamp) >= 1' }] }))
    ).to.equal(7 / 4);
  });

  it('is no less than what the win waits for', () => {
    const surviving = (after: number) =>
      yard({ row: '..........', things: { ...gate, ...lampsAt(8) }, rules: [won({ after }, 'all(lamp)')] });
    expect(leastOf(surviving(10))).to.equal(10);
    expect(leastOf(surviving(1))).to.equal(2);
  });

  it('is none of a level without a plan or a win', () => {
    const document = yard({ row: '....', things: gate, rules: [late(5)] });
    expect(finish(timesOf(prepare(document), 'yard'))).to.equal(undefined);
    expect(judged(document)).to.equal(undefined);
    expect(check(document, { limit: 100 }).times).to.equal(undefined);
  });

  it('fills what levels are expected to take, in one edit that can be taken back', () => {
    const document = yard({ row: '..........', things: { ...gate, ...lampsAt(9) }, rules: [won({ collect: 'lamp' }), late(5)] });
    const { times } = check(document, { limit: 100 });
    expect(times).to.deep.equal({ yard: { least: 2.25, most: 2.25, limit: 5 } });
    const rows = timeRows(document, times!);
    expect(rows).to.deep.equal([{ level: 'yard', name: 'Yard', figures: times!.yard, pieces: 4 }]);
    const change = fillEstimates(document, rows);
    const after = apply(document, change.patch);
    expect(timeRows(after, times!)[0]!.estimate).to.equal(3);
    expect(apply(after, change.inverse)).to.deep.equal(document);
  });

  it('is said in words', () => {
    expect(bestWords({ least: 2.25, most: 2.25 })).to.equal('2.25');
    expect(bestWords({ least: 2, most: 3 })).to.equal('2–3');
    expect(bestWords({ least: 2 })).to.equal('≥ 2');
    expect(bestWords({})).to.equal('none');
    expect(figureWords({ least: 31, most: 31, limit: 50 })).to.equal('Best 31 s; given 50 s, 38 % to spare');
  });
});

describe('time-enough', () => {
  const racing = (after: number | string, numbers?: object) =>
    yard({ row: '..........', things: { ...gate, ...lampsAt(8) }, rules: [won({ collect: 'lamp' }), late(after)], numbers });

  it('fails where the shortest route is not below the limit, warns where hardly any time is left, and holds otherwise', () => {
    const short = judged(racing(2))!;
    expect([short.outcome, short.severity, short.message]).to.deep.equal([
      'fails',
      'error',
      'Yard cannot be won in 2 s: the shortest route from Gate takes 2 s.'
    ]);
    const tight = judged(racing(2.1))!;
    expect([tight.outcome, tight.severity]).to.deep.equal(['fails', 'warning']);
    expect(tight.message).to.equal('Yard leaves hardly any time: of 2.1 s the shortest route from Gate takes 2 s.');
    const well = judged(racing(4))!;
    expect([well.outcome, well.message]).to.deep.equal(['holds', 'Yard can be won in time: 4 s, best 2 s, 50 % to spare.']);
  });

  it('speaks only of deadlines that come whatever holds', () => {
    const rules = [won({ collect: 'lamp' }), { ...late(1), if: 'left(lamp) = 1' }];
    expect(judged(yard({ row: '..........', things: { ...gate, ...lampsAt(8) }, rules }))).to.equal(undefined);
  });

  it('is not settled where part of a win can be kept at a save, and says nothing of what stays taken', () => {
    const things = { ...gate, ...lampsAt(2, 8) };
    const resting = { id: 'rest', when: { press: 'Rest' }, do: [{ save: 'always' }] };
    const rules = (condition: string) => [won({ holds: condition }), late(1), resting];
    const split = judged(yard({ row: '..........', things, rules: rules('all(lamp)') }))!;
    expect([split.outcome, split.message]).to.deep.equal([
      'open',
      'Whether Yard can be won in 1 s is not settled: the shortest route from Gate takes 2 s, but the player can save on the way and go on from there.'
    ]);
    // one lamp alone is taken in one attempt
    const whole = yard({ row: '..........', things: { ...gate, ...lampsAt(8) }, rules: rules('all(lamp)') });
    expect(judged(whole)!.outcome).to.equal('fails');
    const document = racing(1);
    (document.places.yard as Level).pieces.lamp!.renew = 'run';
    expect(judged({ ...document })!.outcome).to.equal('holds');
  });

  it('is fixed by giving more time, to a rule or to the number it names', () => {
    for (const document of [racing(1), racing('rush', { rush: { name: 'Rush', value: 1 } })]) {
      const [offer] = repairsOf(document, judged(document)!);
      expect(offer!.label).to.equal('Give 3 s instead of 1 s');
      const after = apply(document, offer!.patch);
      expect(judged(after)!.outcome).to.equal('holds');
      expect((after.places.yard!.rules.at(-1) as Rule).when).to.deep.equal(
        document.numbers.rush ? { after: 'rush' } : { after: 3 }
      );
    }
  });

  it('is not settled where only bounds are known and the limit is between them', () => {
    // more than are sought exactly, on both sides: no bound knows that the player has to turn
    const columns = Array.from({ length: 34 }, (_, n) => (n < 16 ? n + 1 : n + 4));
    const row = '.'.repeat(40);
    const things = {
      e: { entry: 'gate', cell: [18, 0] as Cell },
      ...lampsAt(...columns)
    };
    const document = yard({ row, things, rules: [won({ holds: 'all(lamp)' }), late(100)] });
    const { least, most } = check(document, { limit: 100 }).times!.yard!;
    expect(least).to.be.lessThan(most!);
    const between = yard({ row, things, rules: [won({ holds: 'all(lamp)' }), late((least! + most!) / 2)] });
    expect(judged(between)!.outcome).to.equal('open');
    expect(judged(between)!.message).to.match(/^Whether Yard can be won in .* is not settled: /);
  });
});
