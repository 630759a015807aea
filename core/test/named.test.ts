import { expect } from 'chai';
import fc from 'fast-check';
import { ConditionNames } from '../src/words/named.ts';
import { flowOf } from './support/flows.ts';

const number = (name: string) => ({ name, type: 'number', initial: 0, min: 0, max: 9, scope: 'run' });
const document = flowOf({
  variables: {
    balls: number('Balls'),
    lit: number('Lamps lit'),
    a: number('Score'),
    b: number('Score'),
    c: number('and'),
    d: number('Lives and keys'),
    weather: { name: 'Weather', type: 'choice', choices: ['storm', 'clear'], initial: 'clear', scope: 'run' }
  },
  groups: { harbour: { name: 'The harbour', rules: [] } },
  orders: { main: { name: 'Main round', draw: 'fixed', levels: ['quay'] } },
  places: {
    title: { name: 'Title', kind: 'menu', rules: [] },
    quay: {
      name: 'Quay Street',
      kind: 'level',
      group: 'harbour',
      pieces: { lamp: { name: 'Street lamp', kind: 'pickup' } },
      rules: []
    }
  }
});
const names = new ConditionNames(document, { place: 'quay' });

describe('conditions with names', () => {
  const pairs = [
    ['balls = 0', 'Balls = 0'],
    ['lit >= 3 and left(lamp) = 0', 'Lamps lit >= 3 and left(Street lamp) = 0'],
    ['won(quay) or wins(harbour) = 1 and wins(main) > 0', 'won(Quay Street) or wins(The harbour) = 1 and wins(Main round) > 0'],
    ['d + max(lit, balls) < 3', 'Lives and keys + max(Lamps lit, Balls) < 3'],
    ["weather = 'storm'", "Weather = 'storm'"],
    ['all(lamp) and all(harbour) or count(main) > 1', 'all(Street lamp) and all(The harbour) or count(Main round) > 1'],
    // what two have, and words of the language, stay ids
    ['a + b + c = 2', 'a + b + c = 2']
  ] as const;
  for (const [kept, shown] of pairs)
    it(`keeps ${kept} and shows ${shown}`, () => {
      expect(names.shown(kept).text).to.equal(shown);
      expect(names.kept(shown).text).to.equal(kept);
    });

  it('reads names however they are written, and ids as before', () => {
    expect(names.kept('LAMPS LIT = 1 and lit = 1').text).to.equal('lit = 1 and lit = 1');
    expect(names.kept('taken(street lamp)>=2').text).to.equal('taken(lamp)>=2');
    expect(names.kept('Ballsy = 1').text).to.equal('Ballsy = 1');
  });

  it('tells where what stands in one stands in the other', () => {
    const { text, before } = names.kept('Lamps lit >= Blls + lit');
    expect(text).to.equal('lit >= Blls + lit');
    expect(before(text.indexOf('Blls'))).to.equal('Lamps lit >= '.length);
    expect(before(text.lastIndexOf('lit'))).to.equal('Lamps lit >= Blls + '.length);
    expect(before(1)).to.equal(0);
  });

  it('comes back to what it was from any text of ours', () => {
    const part = fc.constantFrom(
      'balls',
      'lit',
      'a',
      'd',
      'left(lamp)',
      'wins(main)',
      'won(quay)',
      '3',
      "weather = 'storm'",
      'not',
      '(',
      ')',
      '+',
      '>=',
      'and'
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 12 }), (words) => {
        const text = words.join(' ');
        expect(names.kept(names.shown(text).text).text).to.equal(text);
      }),
      { numRuns: 500, seed: 20261128 }
    );
  });
});
