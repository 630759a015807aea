import { expect } from 'chai';
import fc from 'fast-check';
import { LanguageError, countedIn, spelledOut, variablesIn, piecesIn } from '../src/language/ast.ts';
import { arithmetic, evaluate, type Reading } from '../src/language/evaluate.ts';
import { parse } from '../src/language/parse.ts';
import { print } from '../src/language/print.ts';
import { assignable, typeOf, type Surroundings } from '../src/language/type.ts';
import type { Variable } from '../src/document/types.ts';

const variables: Record<string, Variable> = {
  lives: { name: 'Lives', type: 'number', initial: 2, min: 0, max: 9, scope: 'run' },
  keyed: { name: 'Keyed', type: 'flag', initial: false, scope: 'run' },
  hat: { name: 'Hat', type: 'choice', choices: ['red', 'blue'], initial: 'red', scope: 'run' },
  coat: { name: 'Coat', type: 'choice', choices: ['red', 'green'], initial: 'red', scope: 'run' },
  boot: { name: 'Boot', type: 'choice', choices: ['black', 'brown'], initial: 'black', scope: 'run' }
};
const scope: Surroundings = {
  variable: (id) => variables[id],
  piece: (id) => id === 'lamp',
  spot: (id) => id === 'yard',
  level: (id) => id === 'quay',
  groupOrOrder: (id) => id === 'harbour',
  order: (id) => id === 'main',
  choosing: false,
  likely: (word: string) => (word === 'livs' ? 'Lives' : undefined)
};
const reading: Reading = {
  variable: (id) => ({ lives: 2, keyed: true, hat: 'red', coat: 'green', boot: 'black' })[id]!,
  left: () => 3,
  count: () => 7,
  won: () => false,
  last: 'lost',
  wins: () => 4,
  has: () => true,
  saved: 20,
  spot: 'yard',
  candidate: { it: false, previous: true, position: 5 }
};
const value = (text: string) => evaluate(parse(text), reading);
const errorOf = (text: string, within = scope): LanguageError => {
  try {
    typeOf(parse(text), within);
  } catch (error) {
    if (error instanceof LanguageError) return error;
    throw error;
  }
  throw new Error(`${text} was taken`);
};

describe('language: parsing', () => {
  it('binds as the grammar says', () => {
    expect(value('1 + 2 * 3')).to.equal(7);
    expect(value('(1 + 2) * 3')).to.equal(9);
    expect(value('2 - 1 - 1')).to.equal(0);
    expect(value('not false and false')).to.equal(false);
    expect(value('not (false and false)')).to.equal(true);
    expect(value('true or true and false')).to.equal(true);
    expect(value('not lives = 3')).to.equal(true);
    expect(value('- 2 + 3')).to.equal(1);
    expect(value('--2')).to.equal(2);
  });

  it('says where something is missing or does not belong', () => {
    expect(errorOf('lives =').column).to.equal(8);
    expect(errorOf('lives = 1 2').column).to.equal(11);
    expect(errorOf('(lives = 1').message).to.include('")" is missing');
    expect(errorOf('lives = ]').column).to.equal(9);
    expect(errorOf("hat = 'red").message).to.include('not closed');
    expect(errorOf('left lamp').column).to.equal(6);
    expect(errorOf('left(and)').column).to.equal(6);
    expect(errorOf('').column).to.equal(1);
    expect(errorOf('and').message).to.include('does not belong');
    expect(errorOf('hat = won').message).to.equal(
      'After "won" comes a name in brackets; a choice of this name is written \'won\'.'
    );
  });

  it('says what was expected of a word that names nothing', () => {
    expect(errorOf('hat = red')).to.deep.include({ message: "A choice stands in quotes: 'red'." });
    expect(errorOf('hat = red').column).to.equal(7);
    expect(errorOf('livs = 0').message).to.equal('There is no value "livs": did you mean Lives?');
    expect(errorOf('oil = 0').message).to.equal('There is no value "oil".');
    expect(() => assignable(parse('blue'), variables.hat!, scope)).to.throw("A choice stands in quotes: 'blue'.");
  });

  it('refuses towers and endless lists instead of running out of stack', () => {
    expect(errorOf('('.repeat(1500)).message).to.include('nested');
    expect(errorOf('-'.repeat(1500) + '1').message).to.include('nested');
    expect(errorOf('1' + '+1'.repeat(5000)).message).to.include('longer');
    expect(value('1' + '+1'.repeat(900))).to.equal(901);
  });
});

describe('language: types', () => {
  it('keeps numbers, flags and choices apart', () => {
    for (const good of [
      "hat = 'blue'",
      'hat = coat',
      'keyed = (lives > 1)',
      'won(quay) and wins(harbour) >= 2',
      'left(lamp) + taken(lamp) = 7',
      'max(lives, 2) > 1'
    ]) {
      expect(typeOf(parse(good), scope), good).to.deep.equal({ is: 'flag' });
    }
  });

  const wrong: [string, number, string][] = [
    ['keyed + 1', 1, 'a flag'],
    ['lives and keyed', 1, 'a number'],
    ['hat < 2', 1, 'a choice'],
    ["hat = 'green'", 1, 'never be the same'],
    ['hat = boot', 1, 'never be the same'],
    ['hat = lives', 1, 'compares'],
    ['lives = 1 and oil > 2', 15, 'no value "oil"'],
    ['left(moth) = 0', 1, 'no piece'],
    ['won(loft)', 1, 'no level'],
    ['wins(quay) > 1', 1, 'no group or order'],
    ['won(it)', 1, 'chooses a level'],
    ['position > 2', 1, 'chooses a level'],
    ["hat = 'No Choice'", 7, 'cannot be a choice']
  ];
  for (const [text, column, message] of wrong) {
    it(`refuses ${text}`, () => {
      const error = errorOf(text);
      expect(error.column).to.equal(column);
      expect(error.message).to.include(message);
    });
  }

  it('knows candidates only in the condition of a choose rule', () => {
    expect(typeOf(parse('won(previous) or position <= 2'), { ...scope, choosing: true })).to.deep.equal({ is: 'flag' });
  });

  it('sets a choice only from what fits wholly', () => {
    expect(() => assignable(parse("'blue'"), variables.hat!, scope)).not.to.throw();
    expect(() => assignable(parse('hat'), variables.hat!, scope)).not.to.throw();
    expect(() => assignable(parse('coat'), variables.hat!, scope)).to.throw('cannot be green');
    expect(() => assignable(parse('lives'), variables.hat!, scope)).to.throw('a number');
    expect(() => assignable(parse('hat = coat'), variables.keyed!, scope)).not.to.throw();
  });
});

describe('language: values', () => {
  it('reads what the state says', () => {
    expect(value('taken(lamp)')).to.equal(4);
    expect(value('left(lamp) = 3 and not won(quay) and wins(harbour) = 4')).to.equal(true);
    expect(value('won(previous) and not won(it) and position = 5')).to.equal(true);
    expect(value("hat = 'red' and hat != coat")).to.equal(true);
    expect(value('min(3, lives) + max(3, lives)')).to.equal(5);
    expect(value('min(3, 3)')).to.equal(3);
  });

  it('is exact beyond what a number holds', () => {
    const big = '2147483647 * 2147483647 * 2147483647';
    expect(value(`${big} - ${big} + 1`)).to.equal(1);
    expect(value(`${big} > ${big} - 1`)).to.equal(true);
    expect(value(`${big} = ${big} + 1 - 1`)).to.equal(true);
    expect(value('9007199254740993 - 9007199254740992')).to.equal(1);
    expect(Object.is(value('0 * -1'), 0)).to.equal(true);
  });

  it('agrees with BigInt on any numbers', () => {
    const number = fc.bigInt({ min: -(2n ** 60n), max: 2n ** 60n });
    fc.assert(
      fc.property(number, number, fc.constantFrom('+', '-', '*'), (a, b, operator) => {
        const small = (n: bigint) => (Number.isSafeInteger(Number(n)) ? Number(n) : n);
        const expected = operator === '+' ? a + b : operator === '-' ? a - b : a * b;
        const result = arithmetic(operator as '+', small(a), small(b));
        expect(BigInt(result)).to.equal(expected);
        expect(typeof result).to.equal(Number.isSafeInteger(Number(expected)) ? 'number' : 'bigint');
      })
    );
  });
});

describe('language: printing', () => {
  const leaf = fc.constantFrom('lives', 'left(lamp)', 'taken(lamp)', '7', 'wins(harbour)', 'position');
  const { sum } = fc.letrec<{ sum: string }>((tie) => ({
    sum: fc.oneof(
      { maxDepth: 4 },
      leaf,
      fc.tuple(tie('sum'), fc.constantFrom('+', '-', '*'), tie('sum')).map(([a, o, b]) => `(${a}) ${o} (${b})`),
      tie('sum').map((a) => `-(${a})`),
      fc.tuple(tie('sum'), tie('sum')).map(([a, b]) => `max(${a}, ${b})`)
    )
  }));
  const { flag } = fc.letrec<{ flag: string }>((tie) => ({
    flag: fc.oneof(
      { maxDepth: 4 },
      fc.constantFrom('keyed', 'true', 'won(quay)', "hat = 'red'"),
      fc.tuple(sum, fc.constantFrom('=', '<', '>='), sum).map(([a, o, b]) => `${a} ${o} ${b}`),
      fc.tuple(tie('flag'), fc.constantFrom('and', 'or'), tie('flag')).map(([a, o, b]) => `(${a}) ${o} (${b})`),
      tie('flag').map((a) => `not (${a})`)
    )
  }));
  const bare = (text: string) => JSON.stringify(parse(text), (key, part: unknown) => (key === 'at' ? undefined : part));

  it('gives a text that parses to the same tree, and to the same text again', () => {
    fc.assert(
      fc.property(flag, (text) => {
        const printed = print(parse(text));
        expect(bare(printed)).to.equal(bare(text));
        expect(print(parse(printed))).to.equal(printed);
      })
    );
  });

  it('uses no bracket that is not needed', () => {
    expect(print(parse('((lives) + (2 * 3)) = (7)'))).to.equal('lives + 2 * 3 = 7');
    expect(print(parse('(keyed and (keyed and true)) or false'))).to.equal('keyed and (keyed and true) or false');
  });

  it('lists what a text names', () => {
    const tree = parse('lives > 1 and left(lamp) = 0 or lives = min(oil, taken(moth))');
    expect(variablesIn(tree).sort()).to.deep.equal(['lives', 'oil']);
    expect(piecesIn(tree).sort()).to.deep.equal(['lamp', 'moth']);
  });
});

describe('language: all and count', () => {
  const counted = (id: string) => (id === 'lamp' ? ('piece' as const) : id === 'harbour' ? { levels: 4 } : undefined);
  const names = { counted, numbered: () => undefined, within: (id: string) => (id === 'court' ? ['hall', 'loft'] : undefined) };
  const said = (text: string) => print(spelledOut(parse(text), names));

  it('are said in the other words of the language, of a piece before a group or an order', () => {
    expect(said('all(lamp)')).to.equal('left(lamp) = 0');
    expect(said('at(court) or at(yard)')).to.equal('at(hall) or at(loft) or at(yard)');
    expect(said('all(harbour) and not all(lamp)')).to.equal('wins(harbour) = 4 and not left(lamp) = 0');
    expect(said('count(harbour) - 1')).to.equal('4 - 1');
    expect(said('taken(lamp) < count(lamp)')).to.equal('taken(lamp) < left(lamp) + taken(lamp)');
    expect(said('max(count(lamp), -count(harbour)) > 2')).to.equal('max(left(lamp) + taken(lamp), -4) > 2');
  });

  it('mean what they say', () => {
    const worth = (text: string) => evaluate(spelledOut(parse(text), names), reading);
    expect([worth('all(lamp)'), worth('count(lamp)'), worth('all(harbour)'), worth('count(harbour)')]).to.deep.equal([
      false,
      7,
      true,
      4
    ]);
  });

  it('are no words that an id could not be', () => {
    expect(variablesIn(parse('all + count > 2'))).to.deep.equal(['all', 'count']);
    expect(countedIn(parse('all(lamp) and count(x) > 2 and all'))).to.deep.equal(['lamp', 'x']);
    expect(print(parse('all(lamp) or count(harbour) = 2'))).to.equal('all(lamp) or count(harbour) = 2');
  });

  it('name what there is, else say so', () => {
    expect(errorOf('all(nobody)').message).to.equal('There is no piece, group or order "nobody" here.');
    expect(errorOf('lives = 2 and all(nobody)').column).to.equal(15);
    expect(() => spelledOut(parse('all(nobody)'), names)).to.not.throw();
    expect(said('all(nobody)')).to.equal('all(nobody)');
  });
});
