/** Whether there is a next level, or one before: asked by conditions, so that a control need not be there in vain. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import type { CheckName } from '../src/report/report.ts';
import { validate } from '../src/document/read.ts';
import { apply } from '../src/document/patch.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { versionOf } from '../src/document/version.ts';
import { parse } from '../src/language/parse.ts';
import { bothOf, print } from '../src/language/print.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { ConditionNames } from '../src/words/named.ts';
import { conditionWords } from '../src/words/words.ts';
import { flowOf, Player, threeLamps } from './support/flows.ts';

/** Three lamps with one screen after each attempt, whose "Next" leads along the order. */
const screened = (condition?: string, order?: object): FlowDocument =>
  flowOf({
    ...threeLamps,
    ...(order && { orders: { main: order } }),
    places: {
      ...threeLamps.places,
      quay: {
        ...threeLamps.places.quay,
        rules: [{ id: 'lit', when: { holds: 'left(lamp) = 0' }, go: { place: 'splash' }, result: 'won' }]
      },
      loft: {
        ...threeLamps.places.loft,
        rules: [{ id: 'lit2', when: { holds: 'left(lamp) = 0' }, go: { place: 'splash' }, result: 'won' }]
      },
      splash: {
        name: 'After it',
        kind: 'menu',
        rules: [
          { id: 'over', when: { arrive: true }, if: 'lives = 0', go: { place: 'dark' } },
          { id: 'next', when: { press: 'Next' }, ...(condition && { if: condition }), go: { move: 'next' } },
          { id: 'before', when: { press: 'Before' }, if: 'has(previous)', go: { move: 'previous' } },
          { id: 'menu', when: { press: 'Menu' }, go: { place: 'title' } }
        ]
      }
    }
  });
const lit = (player: Player, lamps: number) => player.do(...Array.from({ length: lamps }, () => ({ collect: 'lamp' })));
const outcomes = (document: FlowDocument, name: CheckName) =>
  Object.fromEntries(check(document).checks.flatMap((each) => (each.check === name ? [[each.subject, each.outcome]] : [])));

describe('has(next) and has(previous)', () => {
  it('are true exactly where the move would resolve, along a fixed order', () => {
    const player = lit(new Player(screened('has(next)')).press('Begin'), 3);
    expect(player.press('Before').at, 'before the first there is none').to.equal('splash');
    expect(player.press('Next').at).to.equal('loft');
    lit(player, player.left('lamp'));
    expect(player.press('Next').at, 'after the last there is none').to.equal('splash');
    expect(player.press('Before').at).to.equal('quay');
    expect(outcomes(screened('has(next)'), 'never-stranded')).to.include({ next: 'holds', before: 'holds' });
    expect(outcomes(screened(), 'never-stranded')).to.include({ next: 'fails', before: 'holds' });
  });

  it('look at what is drawn, and draw nothing', () => {
    const orders = {
      table: { name: 'Round', draw: 'table', levels: ['quay', 'loft'], rows: [['quay'], ['quay', 'loft']] },
      bag: { name: 'Round', draw: 'bag', levels: ['quay'] }
    };
    for (const [draw, order] of Object.entries(orders)) {
      const document = screened('has(next, main)', order);
      const undrawn = new Player({ ...document, start: 'splash' });
      expect(undrawn.press('Next').at, `${draw}, nothing drawn`).to.equal('splash');
      const title = document.places.title!;
      const begin = { ...title.rules[0]!, do: [{ draw: 'main' }] };
      const drawn = { ...document, places: { ...document.places, title: { ...title, rules: [begin] } } };
      // out of a bag of one that is played nothing more comes
      const [fires, leads] = draw === 'table' ? ['holds', 'holds'] : ['fails', 'unreached'];
      expect(outcomes(drawn, 'rule-fires').next, draw).to.equal(fires);
      expect(outcomes(drawn, 'never-stranded').next, draw).to.equal(leads);
    }
  });

  it('hide a control that would lead nowhere: the second offer where the game can be won, else the first', () => {
    const stranded = check(screened()).checks.find(
      ({ check: name, subject }) => name === 'never-stranded' && subject === 'next'
    )!;
    const offered = repairsOf(screened(), stranded);
    expect(offered.map(({ label }) => label)).to.deep.equal([
      'Otherwise to The town aglow',
      'Only while there is a next level',
      'Otherwise to Title'
    ]);
    const hidden = apply(screened(), offered[1]!.patch);
    expect(hidden.places.splash!.rules[1]!.if).to.equal('has(next)');
    expect(outcomes(hidden, 'never-stranded')).to.include({ next: 'holds' });
    const named = screened('lives > 0 or lives = 0');
    named.places.splash!.rules[1]!.go = { move: 'next', order: 'main' };
    const [, only] = repairsOf(named, { ...stranded });
    expect(apply(named, only!.patch).places.splash!.rules[1]!.if).to.equal('(lives > 0 or lives = 0) and has(next, main)');
  });

  it('are written with or without an order, and a value may have the name', () => {
    for (const text of ['has(next)', 'not has(previous)', 'has(next, main) and has']) expect(print(parse(text))).to.equal(text);
    const document = screened('has(next)');
    const errors = (text: string) => check(screened(text)).checks.find(({ check: name }) => name === 'condition')?.message;
    expect(errors('has(next, mian)')).to.include('There is no order "mian".');
    expect(errors('has(first)')).to.include('What there can be is next, previous, save or slot.');
    expect(errors('has(next')).to.include('")" is missing here.');
    expect(conditionWords(document, { place: 'splash' }, 'not has(next, main)')).to.equal('not there is a next level in Round');
    const names = new ConditionNames(document, { place: 'splash' });
    expect(names.shown('has(next, main)').text).to.equal('has(next, Round)');
    expect(names.kept('has(previous, Round) and all(Round)').text).to.equal('has(previous, main) and all(main)');
    expect([versionOf(document), versionOf(flowOf(threeLamps))]).to.deep.equal([2, 1]);
    expect(bothOf(undefined, 'has(next)')).to.equal('has(next)');
    expect(validate(JSON.parse(JSON.stringify(document))).errors).to.equal(undefined);
  });
});
