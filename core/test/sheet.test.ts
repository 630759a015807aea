import { expect } from 'chai';
import fc from 'fast-check';
import { check } from '../src/check/check.ts';
import {
  addLevels,
  groupAround,
  levelsInOrder,
  moveLevels,
  patternOf,
  progressFromOrder,
  renumber
} from '../src/document/edits/levels.ts';
import { setDraw, setListed } from '../src/document/edits/lists.ts';
import { addRow, completeRow, completeRows, removeRow, setRow, shuffledRows } from '../src/document/edits/orders.ts';
import { apply, type Change } from '../src/document/patch.ts';
import { levelsOf, type FlowDocument, type Id, type Level, type Order } from '../src/document/types.ts';
import { validate } from '../src/document/read.ts';
import { readBlock, readCsv, readTable, takeTable, writeBlock, writeCsv } from '../src/formats/levels-csv.ts';
import { answerOf, answerRows, fillingRule } from '../src/sheet/answers.ts';
import { columnsOf, writeCells } from '../src/sheet/columns.ts';
import { afterLast, alikeAmong, alikeTwice, drawnRun, rowFaults } from '../src/sheet/draws.ts';
import { heldBySaves, savePoints } from '../src/sheet/saves.ts';
import { addSelect, byGroup, openAfter, selectsOf, setLock, whyNotByGroup } from '../src/sheet/select.ts';
import { stroke } from '../src/sheet/strokes.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';
import { randomFrom } from '../src/document/random.ts';
import { seed } from './support/compare.ts';

const round = demo('lamplighters-round');
const flow = flowOf(threeLamps);

/** After a change; every change has to give a document that is read, and to be taken back whole. */
function after(document: FlowDocument, change: Change): FlowDocument {
  const now = apply(document, change.patch);
  expect(validate(now).errors, change.label).to.equal(undefined);
  expect(apply(now, change.inverse), `${change.label}, taken back`).to.deep.equal(document);
  return now;
}

const write = (document: FlowDocument, level: string, column: string, text: string) =>
  writeCells(document, [{ level, column, text }]);
const cell = (document: FlowDocument, level: string, title: string) =>
  columnsOf(document)
    .find((column) => column.title === title)!
    .read(document, level);

describe('the sheet of levels', () => {
  it('shows what the rules say', () => {
    expect(cell(flow, 'quay', 'Won by')).to.equal('Lamp × 3');
    expect(cell(flow, 'quay', 'Lost by')).to.equal('Harbour water is touched');
    expect(cell(flow, 'loft', 'Lost by')).to.equal('');
    expect(cell(flow, 'quay', 'Next')).to.equal('the next level, or The town aglow');
    expect(cell(flow, 'quay', 'Lamp')).to.equal('3');
    expect(cell(flow, 'loft', 'Harbour water')).to.equal('');
  });

  it('takes back in every cell of every level what it shows, and changes nothing by it', () => {
    for (const document of [flow, round])
      for (const [level] of levelsOf(document))
        for (const column of columnsOf(document)) {
          const { change, refused } = write(document, level, column.key, column.read(document, level));
          expect([change.patch, refused], `${level} ${column.key}`).to.deep.equal([[], []]);
        }
  });

  it('writes numbers, names, groups made on the spot and pieces that get the id of the others', () => {
    const set = (column: string, text: string, level = 'quay') => after(flow, write(flow, level, column, text).change);
    expect(set('name', 'Pier').places.quay!.name).to.equal('Pier');
    const grouped = set('group', 'Old town');
    expect(grouped.groups[(grouped.places.quay as Level).group!]!.name).to.equal('Old town');
    expect((set('piece lamp', '7').places.quay as Level).pieces.lamp!.count).to.equal(7);
    expect((set('piece lamp', '').places.quay as Level).pieces).not.to.have.property('lamp');
    expect((set('piece water', '2', 'loft').places.loft as Level).pieces.water).to.deep.equal({
      name: 'Harbour water',
      kind: 'hazard',
      count: 2
    });
    expect((set('progress', '40').places.quay as Level).progress).to.equal(40);
    expect((set('estimate chance', '62,5 %').places.quay as Level).estimate).to.deep.equal({ chance: 0.625 });
    expect((set('load megabytes', '12').places.quay as Level).load).to.deep.equal({ megabytes: 12 });
    const timed = set('deadline', '30');
    expect((timed.places.quay as Level).rules.at(-1)).to.deep.include({ when: { after: 30 }, result: 'lost' });
    expect(cell(after(timed, write(timed, 'quay', 'deadline', '45').change), 'quay', 'Deadline (s)')).to.equal('45');
  });

  it('refuses with a reason what cannot be, and writes the rest as one edit', () => {
    const { change, refused } = writeCells(flow, [
      { level: 'quay', column: 'piece lamp', text: 'many' },
      { level: 'quay', column: 'won', text: 'always' },
      { level: 'loft', column: 'piece lamp', text: '9' },
      { level: 'loft', column: 'name', text: ' ' },
      { level: 'loft', column: 'progress', text: '101' }
    ]);
    expect(refused.map(({ column }) => column)).to.deep.equal(['piece lamp', 'won', 'name', 'progress']);
    expect(change.label).to.equal('Net Loft: Lamp 2 → 9');
    expect((after(flow, change).places.loft as Level).pieces.lamp!.count).to.equal(9);
  });
});

describe('the sheet as text', () => {
  it('goes out as CSV and comes back without a change', () => {
    const text = writeCsv(round);
    expect(text.split('\r\n')[0]).to.match(/^Name,Group,Brief,Objectives,Won by,/);
    const back = readCsv(round, text, 'round');
    expect(back).to.deep.include({ added: 0, changed: 0, refused: [] });
  });

  it('quotes what has commas, quotes and line ends, and reads it back', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 60 }), (brief) => {
        const wanted = brief.replaceAll(/\s*\n\s*/g, ' ').trim();
        const document = after(flow, write(flow, 'quay', 'brief', brief).change);
        const bare = readCsv(flow, writeCsv(document), 'main');
        if ('error' in bare) throw new Error(bare.error);
        expect(bare.refused).to.deep.equal([]);
        expect(cell(apply(flow, bare.change.patch), 'quay', 'Brief').trim()).to.equal(wanted);
      }),
      { numRuns: 100, seed: 20261128, examples: [['";;']] }
    );
  });

  it('writes nothing that a spreadsheet would run, and reads all back as it was', () => {
    const names = ['=1+1', '+1', '-1', '@SUM(A1)', "'=x", "''+x", "'plain", 'a=b', '=HYPERLINK("http://x","y")', '\tx'];
    const document = structuredClone(flow);
    names.forEach((name, n) => {
      document.places[`x${n}`] = { ...structuredClone(document.places.quay!), name, rules: [] };
    });
    const text = writeCsv(document);
    for (const [, cell] of text.matchAll(/(?:^|,)"?([^",\r\n]*)/gm)) expect(cell).not.to.match(/^[=+\-@\t]/);
    const back = readCsv(document, text, 'main');
    expect(back).to.deep.include({ added: 0, changed: 0, refused: [] });
    expect(readBlock(writeBlock([names]))).to.deep.equal([names]);
  });

  it('adds and changes by name, refuses bad rows with their number and takes the others', () => {
    const text =
      'Name,Lamp,Group\r\nQuay Street,5,Harbour\r\nNew Pier,4,\r\n,3,\r\nNet Loft,lots,\r\nQuay Street,1,\r\nA,1,x,y\r\n';
    const back = readCsv(flow, text, 'main');
    if ('error' in back) throw new Error(back.error);
    expect(back.refused.map(({ line }) => line)).to.deep.equal([4, 5, 6, 7]);
    expect(back.refused[1]).to.deep.include({ title: 'Lamp', text: 'lots' });
    expect([back.added, back.changed]).to.deep.equal([1, 1]);
    const now = after(flow, back.change);
    expect((now.places.quay as Level).pieces.lamp!.count).to.equal(5);
    expect(now.orders.main!.levels).to.deep.equal(['quay', 'loft', 'new_pier']);
    expect((now.places.new_pier as Level).pieces.lamp!.count).to.equal(4);
    expect((now.places.loft as Level).pieces.lamp!.count).to.equal(2);
    // blank lines are counted, as a spreadsheet counts them
    const spread = readCsv(flow, '\r\nName,Lamp\r\n\r\nQuay Street,5\r\n,,\r\n,3\r\n', 'main');
    if ('error' in spread) throw new Error(spread.error);
    expect(spread.refused).to.deep.equal([{ line: 6, reason: 'It has no name.' }]);
    expect(readCsv(flow, '', 'main')).to.have.property('error');
    expect(readCsv(flow, '1,2\n3,4', 'main')).to.have.property('error');
  });

  it('guesses what the columns of a file from elsewhere are, and takes what it is told', () => {
    const text = 'Level;World;Coin;Mood;Goal;Empty\nPier;Harbour;7;"calm; wet";reach Ferry;\nMole;Harbour;;windy;;\n';
    const table = readTable(flow, text)!;
    expect(table.guess).to.deep.equal([{ column: 'name' }, { column: 'group' }, 'piece', 'note', { column: 'won' }, 'note']);
    const taken = takeTable(flow, table, 'main');
    if ('error' in taken) throw new Error(taken.error);
    expect([taken.added, taken.refused]).to.deep.equal([2, []]);
    expect(readTable(flow, 'Name,lamps\nx,1')!.guess[1]).to.deep.equal({ column: 'piece lamp' });
    const now = after(flow, taken.change);
    const [pier, mole] = ['pier', 'mole'].map((id) => now.places[id] as Level);
    expect(pier!.pieces.coin).to.deep.equal({ name: 'Coin', kind: 'pickup', count: 7 });
    expect(mole!.pieces).to.not.have.property('coin');
    expect([pier!.brief, mole!.brief]).to.deep.equal(['Mood: calm; wet', 'Mood: windy']);
    expect([cell(now, 'pier', 'Won by'), pier!.group]).to.deep.equal(['reach Ferry', mole!.group]);

    const told = takeTable(flow, table, 'main', [
      { column: 'name' },
      'nothing',
      'nothing',
      { column: 'brief' },
      'nothing',
      'nothing'
    ]);
    if ('error' in told) throw new Error(told.error);
    const plain = after(flow, told.change).places.pier as Level;
    expect([plain.brief, plain.group, plain.pieces]).to.deep.equal(['calm; wet', undefined, {}]);
    for (const wrong of [table.guess.with(0, 'nothing'), table.guess.with(3, { column: 'group' })])
      expect(takeTable(flow, table, 'main', wrong)).to.have.property('error');
  });

  it('tells every bad cell of a row, and leaves the row out', () => {
    const back = readCsv(flow, 'Name,Lamp,Won by,Progress\nQuay Street,lots,somehow,900\n', 'main');
    if ('error' in back) throw new Error(back.error);
    expect(back.refused.map(({ line, title, text }) => [line, title, text])).to.deep.equal([
      [2, 'Lamp', 'lots'],
      [2, 'Won by', 'somehow'],
      [2, 'Progress', '900']
    ]);
    expect(back.change.patch).to.deep.equal([]);
  });

  it('reads back all that it writes, also what levels are won by and what comes next', () => {
    const bare = structuredClone(flow);
    for (const id of ['quay', 'loft']) delete bare.places[id];
    bare.orders = {};
    bare.rules = [];
    const own = structuredClone(flow);
    own.rules = [];
    const back = readCsv(bare, writeCsv(own), undefined);
    if ('error' in back) throw new Error(back.error);
    expect(back.refused).to.deep.equal([]);
    const now = after(bare, back.change);
    for (const [id, { name }] of levelsOf(own)) {
      const again = levelsOf(now).find(([, each]) => each.name === name)![0];
      for (const title of ['Won by', 'Next', 'Lamp']) expect(cell(now, again, title), title).to.equal(cell(own, id, title));
    }
  });

  it('puts blocks on a clipboard as spreadsheets do', () => {
    const cells = [
      ['a', 'with\ttab'],
      ['', 'with "quotes"\nand a line']
    ];
    expect(readBlock(writeBlock(cells))).to.deep.equal(cells);
    expect(readBlock('1\t2\r\n3\t4\r\n')).to.deep.equal([
      ['1', '2'],
      ['3', '4']
    ]);
  });
});

describe('many levels at once', () => {
  it('are added by a pattern, winnable at once, or as independent copies of a model', async () => {
    const made = addLevels(flow, 'main', 10, 'Street {n}');
    const now = after(flow, made);
    expect(now.orders.main!.levels).to.have.length(12);
    expect(now.places[made.ids[0]!]!.name).to.equal('Street 3');
    const { checks } = await check(now);
    expect(checks.filter(({ check: name, outcome }) => name === 'level-completable' && outcome !== 'holds')).to.deep.equal([]);

    const copies = addLevels(flow, 'main', 2, 'Copy {n}', 'quay');
    const copied = after(flow, copies);
    expect(copied.orders.main!.levels).to.deep.equal(['quay', 'loft', ...copies.ids]);
    expect((copied.places[copies.ids[0]!] as Level).pieces).to.deep.equal((flow.places.quay as Level).pieces);
  });

  it('are moved together along their order', () => {
    const levels = Array.from({ length: 7 }, (_, n) => `l${n}`);
    const places = Object.fromEntries(levels.map((id) => [id, { name: id.toUpperCase(), kind: 'level' }]));
    const document = flowOf({ start: 'l0', places, orders: { main: { name: 'Main', draw: 'fixed', levels } } });
    fc.assert(
      fc.property(fc.subarray(levels, { minLength: 1 }), fc.nat(7), (moved, index) => {
        const change = moveLevels(document, 'main', moved, index);
        const rest = levels.filter((id) => !moved.includes(id));
        const at = Math.min(index, rest.length);
        expect(after(document, change).orders.main!.levels).to.deep.equal([...rest.slice(0, at), ...moved, ...rest.slice(at)]);
        // no more is touched than what moves
        expect(change.patch.filter(({ op }) => op === 'add')).to.have.length.at.most(moved.length);
      })
    );
  });

  it('stand by their groups, or are known to stand in the middle of another', () => {
    expect(levelsInOrder(round, 'round', 'oldtown')).to.deep.equal(round.orders.round!.levels.slice(4, 8));
    const [first] = round.orders.round!.levels;
    const strayed = after(round, moveLevels(round, 'round', [first!], 5));
    expect(groupAround(strayed, 'round', first!)).to.equal('oldtown');
    expect(groupAround(round, 'round', first!)).to.equal(undefined);
    expect(whyNotByGroup(strayed, 'round')).to.equal('The levels of Harbour do not stand together.');
    expect(whyNotByGroup(round, 'round')).to.equal(undefined);
    expect(whyNotByGroup(flow, 'main')).to.equal(undefined);
    const whole = moveLevels(round, 'round', levelsInOrder(round, 'round', 'harbour'), 4);
    expect(whole.label).to.equal('Move 4 levels of Main round to place 5');
    expect(levelsInOrder(after(round, whole), 'round', 'harbour')).to.deep.equal(round.orders.round!.levels.slice(0, 4));
  });

  it('keep their names in step with the order', async () => {
    const numbered = after(flow, addLevels(flow, 'main', 4, 'Street {n}'));
    const moved = after(numbered, moveLevels(numbered, 'main', ['street_6'], 2));
    expect(patternOf(moved, 'main')!.pattern).to.equal('Street {n}');
    const verdict = async (document: FlowDocument) =>
      (await check(document)).checks.find(({ check: name }) => name === 'name-number');
    expect((await verdict(numbered))!.outcome).to.equal('holds');
    expect(await verdict(moved)).to.deep.include({ outcome: 'fails', subject: 'main' });
    const now = after(moved, renumber(moved, 'main'));
    expect((await verdict(now))!.outcome).to.equal('holds');
    expect(now.places.street_6!.name).to.equal('Street 3');
    expect(await verdict(flow)).to.equal(undefined);
  });

  it('get progress from their order', () => {
    const now = after(round, progressFromOrder(round, 'round'));
    const values = round.orders.round!.levels.map((id) => (now.places[id] as Level).progress ?? 0);
    expect(values[0]).to.equal(0);
    expect(values).to.deep.equal([...values].sort((a, b) => a - b));
    expect(progressFromOrder(now, 'round').patch).to.deep.equal([]);
  });

  it('load within a limit, or a finding says what is too much', async () => {
    const heavy = writeCells(round, [
      { level: 'quay', column: 'load megabytes', text: '300' },
      { level: round.orders.round!.levels[1]!, column: 'load megabytes', text: '150.5' }
    ]).change;
    const document = { ...apply(round, heavy.patch), limit: { megabytes: 400 } };
    const found = (await check(document, { limit: 10 })).checks.filter(({ check: name }) => name === 'load-limit');
    expect(found.filter(({ outcome }) => outcome === 'fails').map(({ message }) => message)).to.deep.equal([
      'The levels of Harbour load 504.5 MB of at most 400 MB.'
    ]);
  });
});

describe('winning and losing in one stroke', () => {
  const go = { move: 'next' as const, else: { place: 'aglow' } };
  it('makes ordinary rules, and the pieces that are missing', async () => {
    const many = after(flow, stroke(flow, ['quay', 'loft'], 'won', { by: 'reach', piece: 'Ladder' }, go, true));
    for (const id of ['quay', 'loft']) {
      const level = many.places[id] as Level;
      expect(level.pieces.ladder).to.deep.equal({ name: 'Ladder', kind: 'exit' });
      expect(level.rules.map(({ when, result }) => ({ when, result }))).to.deep.equal([
        { when: { touch: 'ladder' }, result: 'won' }
      ]);
    }
    const { checks } = await check(many);
    expect(checks.some(({ outcome, severity }) => outcome === 'fails' && severity === 'error')).to.equal(false);
  });

  it('keeps what is there unless told otherwise, and makes the count fit', () => {
    const now = after(flow, stroke(flow, ['loft'], 'won', { by: 'some', piece: 'lamp', count: 5 }, go, false));
    const loft = now.places.loft as Level;
    expect(loft.rules).to.have.length(2);
    expect(loft.rules[1]!.when).to.deep.equal({ holds: 'taken(lamp) >= 5' });
    expect(loft.pieces.lamp!.count).to.equal(5);
    const lost = after(flow, stroke(flow, ['quay'], 'lost', { by: 'within', seconds: 20 }, { place: 'splash' }, false));
    expect((lost.places.quay as Level).rules.at(-1)).to.deep.include({
      when: { after: 20 },
      go: { place: 'splash' },
      result: 'lost'
    });
  });

  it('asks for a value, and keeps how the move looked that it takes the place of', () => {
    const by = { style: 'fade', out: 0.5, in: 0.5 } as const;
    const faded = structuredClone(flow);
    faded.places.quay!.rules.find(({ result }) => result === 'won')!.by = by;
    const won = stroke(faded, ['quay'], 'won', { by: 'value', variable: 'lives', number: 2 }, go, true);
    expect(won.label).to.equal('Quay Street won by a value reaching Lives 2');
    const rules = after(faded, won).places.quay!.rules.filter(({ result }) => result === 'won');
    expect(rules.map(({ when, by: look }) => ({ when, look }))).to.deep.equal([{ when: { holds: 'lives >= 2' }, look: by }]);
    const lost = after(flow, stroke(flow, ['quay'], 'lost', { by: 'value', variable: 'lives', number: 0 }, go, false));
    expect(lost.places.quay!.rules.at(-1)!.when).to.deep.equal({ holds: 'lives <= 0' });
  });
});

describe('which level answers what', () => {
  it('marks blanks, and fills them as the others do', () => {
    const document = flowOf({
      ...threeLamps,
      rules: [],
      places: {
        ...threeLamps.places,
        quay: {
          ...threeLamps.places.quay,
          rules: [{ id: 'slip', when: { touch: 'water' }, go: { place: 'splash' }, result: 'lost' }]
        },
        loft: {
          ...threeLamps.places.loft,
          pieces: { water: { name: 'Harbour water', kind: 'hazard' }, rope: { name: 'Rope', kind: 'exit' } }
        }
      }
    });
    const levels = ['quay', 'loft'];
    const rows = answerRows(document, levels);
    expect(rows.map(({ what }) => what)).to.deep.equal(['Harbour water', 'Rope']);
    expect(rows.map((row) => levels.map((level) => answerOf(document, level, row).is))).to.deep.equal([
      ['answered', 'blank'],
      ['absent', 'blank']
    ]);
    expect(fillingRule(document, 'loft', rows[0]!, levels)).to.deep.equal({
      when: { touch: 'water' },
      go: { place: 'splash' },
      result: 'lost'
    });
    expect(fillingRule(document, 'loft', rows[1]!, levels)).to.deep.include({ when: { touch: 'rope' }, result: 'won' });
  });
});

describe('drawn orders', () => {
  const table = after(flow, setDraw(flow, 'main', 'table'));
  it('have rows that are added, changed, completed, shuffled and removed', () => {
    const two = after(table, addRow(table, 'main'));
    const broken = after(two, setRow(two, 'main', 1, ['loft', 'loft']));
    const order = broken.orders.main as Order & { rows: string[][] };
    expect(rowFaults(order, order.rows[1]!)).to.deep.equal({ cells: [undefined, 'repeat'], missing: ['quay'] });
    expect(rowFaults(order, ['splash', 'quay']).cells).to.deep.equal(['stranger', undefined]);
    expect((after(broken, completeRow(broken, 'main', 1)).orders.main as typeof order).rows[1]).to.deep.equal(['loft', 'quay']);
    expect((after(broken, completeRows(broken, 'main')).orders.main as typeof order).rows).to.deep.equal([
      ['quay', 'loft'],
      ['loft', 'quay']
    ]);
    expect((after(two, removeRow(two, 'main', 0)).orders.main as typeof order).rows).to.have.length(1);
    expect(removeRow(table, 'main', 0).patch).to.deep.equal([]);
    const drawn = apply(round, setDraw(round, 'round', 'table').patch);
    const shuffled = shuffledRows(drawn, 'round', 5, 7);
    expect(shuffled.patch).to.deep.equal(shuffledRows(drawn, 'round', 5, 7).patch);
    const { rows } = after(drawn, shuffled).orders.round as typeof order;
    for (const row of rows) expect([...row].sort()).to.deep.equal([...round.orders.round!.levels].sort());
  });

  it('take a level out of their rows with it, and put it into all', () => {
    const without = after(table, setListed(table, 'main', 'quay', false));
    expect((without.orders.main as { rows: string[][] }).rows).to.deep.equal([['loft']]);
    const again = after(without, setListed(without, 'main', 'quay', true));
    expect((again.orders.main as { rows: string[][] }).rows).to.deep.equal([['loft', 'quay']]);
  });

  it('say how likely runs are alike, as counting all cases does', () => {
    const order = (rows: string[][]): Order => ({ name: 'T', draw: 'table', levels: ['a', 'b'], rows });
    expect(alikeTwice(order([['a'], ['b'], ['c'], ['d'], ['e']]))).to.be.closeTo(0.2, 1e-12);
    expect(alikeTwice({ name: 'B', draw: 'bag', levels: ['a', 'b', 'c'] })).to.be.closeTo(1 / 6, 1e-12);
    expect(alikeTwice({ name: 'F', draw: 'fixed', levels: ['a'] })).to.equal(1);
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', 'b', 'c'), { minLength: 1, maxLength: 4 }),
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 1, max: 5 }),
        (rows, alike, runs) => {
          // every series of rows is equally likely: count those with enough alike
          let [good, all] = [0, 0];
          const count = (drawn: string[]): void => {
            if (drawn.length === runs) {
              all++;
              if (['a', 'b', 'c'].some((kind) => drawn.filter((each) => each === kind).length >= alike)) good++;
            } else for (const row of rows) count([...drawn, row]);
          };
          count([]);
          expect(alikeAmong(order(rows.map((row) => [row])), alike, runs)).to.be.closeTo(good / all, 1e-9);
        }
      ),
      { numRuns: 60, seed }
    );
    expect(alikeAmong({ name: 'B', draw: 'bag', levels: ['a', 'b'] }, 2, 2)).to.be.closeTo(0.5, 1e-12);
  });

  it('say what comes after the last level, over screens on the way and however they go round', () => {
    const market = demo('night-market');
    expect(afterLast(market, market.orders.night!)).to.equal('Sold, then Dawn at the market');
    expect(afterLast(flow, flow.orders.main!)).to.equal('The town aglow');
    const round = structuredClone(market);
    round.places.sold!.rules[0]!.go = { move: 'next', else: { place: 'sold' } };
    expect(afterLast(round, round.orders.night!)).to.equal('Sold, then Sold');
  });

  it('draw runs that a seed repeats', () => {
    const bag = apply(round, setDraw(round, 'round', 'bag').patch);
    const runs = (seed: number) => {
      const random = randomFrom(seed);
      return Array.from({ length: 10 }, () => drawnRun(bag, 'round', random));
    };
    expect(runs(3)).to.deep.equal(runs(3));
    expect(runs(3)).not.to.deep.equal(runs(4));
    for (const run of runs(5)) expect([...run].sort()).to.deep.equal([...round.orders.round!.levels].sort());
  });
});

describe('level selects and saves', () => {
  it('open at once, in turn or by a condition, and show what is open after winning', () => {
    const made = addSelect(flow, 'title', 'main', 'in turn');
    const now = after(flow, made);
    const [select] = selectsOf(now);
    expect(select).to.deep.include({ place: 'title', order: 'main', lock: 'in turn' });
    expect(openAfter(now, select!, new Set())).to.deep.equal(['quay']);
    expect(openAfter(now, select!, new Set(['quay']))).to.deep.equal(['quay', 'loft']);
    const all = after(now, setLock(now, select!, undefined));
    expect(selectsOf(all)[0]!.lock).to.equal('all');
    expect(openAfter(all, selectsOf(all)[0]!, new Set())).to.deep.equal(['quay', 'loft']);
    const two = after(now, setLock(now, select!, 'wins(main) >= position - 1'));
    expect(selectsOf(two)[0]!.lock).to.equal('by condition');
    expect(openAfter(two, selectsOf(two)[0]!, new Set(['loft']))).to.deep.equal(['quay', 'loft']);
    expect(openAfter(apply(now, setLock(now, select!, 'wins(moon) > 0').patch), selectsOf(now)[0]!, new Set())).to.equal(
      undefined
    );
  });

  it('open group by group where the groups stand one behind the other', () => {
    const made = addSelect(round, 'title', 'round', 'all');
    const now = after(round, made);
    const select = selectsOf(now).find(({ rule }) => rule.id === made.id)!;
    const text = byGroup(now, 'round')!;
    expect(text).to.equal('position <= 4 or position <= 8 and all(harbour) or position <= 12 and all(oldtown)');
    const locked = after(now, setLock(now, select, text));
    const world = selectsOf(locked).find(({ rule }) => rule.id === made.id)!;
    expect(world.lock).to.equal('by group');
    const { levels } = round.orders.round!;
    expect(openAfter(locked, world, new Set(levels.slice(0, 3)))).to.deep.equal(levels.slice(0, 4));
    expect(openAfter(locked, world, new Set(levels.slice(0, 4)))).to.deep.equal(levels.slice(0, 8));
    // with numbers it means the same while they fit
    const numbered = (levels: number) =>
      selectsOf(after(locked, setLock(locked, world, text.replace(/all\((\w+)\)/g, `wins($1) = ${levels}`)))).find(
        ({ rule }) => rule.id === made.id
      )!.lock;
    expect([numbered(4), numbered(5)]).to.deep.equal(['by group', 'by condition']);
    expect(byGroup(flow, 'main')).to.equal(undefined);
    const mixed = apply(round, moveLevels(round, 'round', [levels[0]!], 6).patch);
    expect(byGroup(mixed, 'round')).to.equal(undefined);
  });

  it('find the chain of save points and mark where progress falls', () => {
    const places = {
      ...threeLamps.places,
      quay: {
        ...threeLamps.places.quay,
        progress: 30,
        pieces: { shrine: { name: 'Shrine', kind: 'checkpoint', progress: 50 } },
        rules: [{ id: 'kneel', when: { touch: 'shrine' }, do: [{ save: 'forward' }] }]
      },
      loft: { ...threeLamps.places.loft, progress: 40, rules: [{ id: 'in', when: { arrive: true }, do: [{ save: 'always' }] }] }
    };
    const document = flowOf({ ...threeLamps, rules: [], places });
    expect(savePoints(document, 'main')).to.deep.equal([
      { level: 'quay', piece: 'shrine', rule: 'kneel', progress: 50, how: 'forward', falls: false },
      { level: 'loft', piece: undefined, rule: 'in', progress: 40, how: 'always', falls: true }
    ]);
    expect(heldBySaves(document)).to.deep.equal({ attempt: [], run: ['Lives'], pieces: ['Lamp'] });
  });
});

describe('what a level is won and lost by, and what comes next, typed into the sheet', () => {
  const read = (document: FlowDocument, id: Id, column: string) =>
    columnsOf(document)
      .find(({ key }) => key === column)!
      .read(document, id);
  const type = (document: FlowDocument, level: Id, column: string, text: string) => {
    const { change, refused } = writeCells(document, [{ level, column, text }]);
    return { after: after(document, change), refused: refused.map(({ reason }) => reason) };
  };

  it('is read as it is shown', () => {
    for (const [id, { rules }] of levelsOf(round)) {
      if (rules.filter(({ result }) => result === 'won').length !== 1) continue;
      for (const column of ['won', 'next']) {
        const shown = read(round, id, column);
        const cleared = structuredClone(round);
        cleared.places[id]!.rules = rules.filter(({ result }) => result !== 'won');
        const { after: typed, refused } = type(cleared, id, column, shown);
        expect(refused, `${id} ${column} ${shown}`).to.deep.equal([]);
        expect(read(typed, id, column)).to.equal(shown);
      }
    }
  });

  it('changes one rule of the level, and leaves where it leads, how it looks, and the rest', () => {
    const faded = structuredClone(flow);
    const by = { style: 'fade', out: 1 } as const;
    faded.places.quay!.rules.find(({ result }) => result === 'won')!.by = by;
    const { after: now } = type(faded, 'quay', 'won', 'Lamp × 2');
    const [won] = now.places.quay!.rules.filter(({ result }) => result === 'won');
    const { go } = faded.places.quay!.rules.find(({ result }) => result === 'won')!;
    expect(won).to.deep.include({ when: { holds: 'taken(lamp) >= 2' }, go, by });
    expect(read(type(flow, 'quay', 'won', 'last 20 s').after, 'quay', 'won')).to.equal('last 20 s');
    expect(read(type(flow, 'quay', 'won', 'reach Ferry').after, 'quay', 'won')).to.equal('reach Ferry');
    expect(read(type(flow, 'quay', 'won', 'Oil can x 3').after, 'quay', 'won')).to.equal('Oil can × 3');
    expect(type(flow, 'quay', 'won', 'somehow').refused).to.deep.equal(['Write it as “Lamp × 7”, “reach Exit” or “last 20 s”.']);
  });

  it('leads where the words say: a place, an entry, a move, and where else', () => {
    const go = (text: string, document = flow) => {
      const { after: now, refused } = type(document, 'quay', 'next', text);
      return refused[0] ?? now.places.quay!.rules.find(({ result }) => result === 'won')!.go;
    };
    expect(go('net loft')).to.deep.equal({ place: 'loft' });
    expect(go('next')).to.deep.equal({ move: 'next' });
    expect(go('the next level, or else to The town aglow')).to.deep.equal({ move: 'next', else: { place: 'aglow' } });
    expect(go('the same level again, or the first level')).to.deep.equal({ move: 'again', else: { move: 'first' } });
    const entered = structuredClone(flow);
    (entered.places.loft as Level).entries = { back: { name: 'Back door' } };
    expect(go('Net Loft at back door', entered)).to.deep.equal({ place: 'loft', entry: 'back' });
    for (const nothing of ['Nowhere', 'Net Loft, or Nowhere', 'the next level of Nothing', 'the chosen level'])
      expect(go(nothing)).to.match(/^There is no place/);
  });

  it('is refused where a rule that levels share decides', () => {
    const shared = structuredClone(flow);
    shared.places.quay!.rules = [];
    shared.rules = [{ id: 'all', when: { holds: 'left(lamp) = 0' }, go: { move: 'next' }, result: 'won' }];
    for (const column of ['won', 'next']) expect(type(shared, 'quay', column, 'Net Loft').refused[0]).to.match(/levels share/);
    expect(type(flow, 'quay', 'lost', 'somehow').refused[0]).to.match(/^(Write it as|It is lost by a rule)/);
  });

  it('says by what a level is lost', () => {
    const alone = structuredClone(flow);
    alone.rules = [];
    const gust = type(alone, 'quay', 'lost', 'touch Gust').after;
    expect((gust.places.quay as Level).pieces.gust).to.deep.equal({ name: 'Gust', kind: 'hazard' });
    expect(read(gust, 'quay', 'lost')).to.equal('Gust is touched');
    expect(read(type(gust, 'quay', 'lost', '20 s').after, 'quay', 'lost')).to.equal('20 s');
  });
});
