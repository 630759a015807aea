/** Mutated documents: whatever a file holds, the reader answers with a document or with errors, and the rest never breaks. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import fc from 'fast-check';
import { check } from '../src/check/check.ts';
import { Memory } from '../src/check/memory.ts';
import { read } from '../src/document/read.ts';
import { write } from '../src/document/write.ts';
import { layout } from '../src/lane/layout.ts';
import { LanguageError } from '../src/language/ast.ts';
import { parse } from '../src/language/parse.ts';
import { seed } from './support/compare.ts';
import { randoms } from './support/everyday.ts';

const text = readFileSync(join(__dirname, '../../demo/lamplighters-round-with-faults.crow.json'), 'utf8');
const whole = JSON.parse(text) as object;

/** Code that is written for one document serves the next, as between two edits of a designer. */
const memory = new Memory();

/** Every place in a document that can be changed, as a list of keys. */
function paths(value: unknown, at: (string | number)[] = []): (string | number)[][] {
  if (typeof value !== 'object' || value === null) return [at];
  return [at, ...Object.entries(value).flatMap(([key, part]) => paths(part, [...at, Array.isArray(value) ? Number(key) : key]))];
}
const everywhere = paths(whole).filter((path) => path.length > 0);
const strange = fc.oneof(
  fc.constantFrom<unknown>(
    null,
    '',
    0,
    -1,
    1e308,
    true,
    [],
    {},
    'quay',
    'lives',
    'left(lamp) = 0',
    '__proto__',
    'x'.repeat(5000),
    2 ** 53,
    0.5,
    'won',
    { place: 'quay' },
    { move: 'next' },
    { holds: 'true' }
  ),
  fc.jsonValue({ maxDepth: 3 })
);

function survive(file: string): void {
  const { document, errors } = read(file);
  if (!document) {
    expect(errors.length).to.be.greaterThan(0);
    for (const { message } of errors) expect(message).to.be.a('string').and.not.equal('');
    return;
  }
  expect(read(write(document)).document).to.deep.equal(document);
  const report = check(document, { limit: 300, memory });
  expect(report.checks.every(({ message }) => message.length > 0)).to.equal(true);
  layout(document);
}

describe('mutated documents', () => {
  it('with values put where others were', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(everywhere.length - 1), strange), { minLength: 1, maxLength: 3 }), (changes) => {
        const copy = structuredClone(whole);
        for (const [index, value] of changes) {
          const path = everywhere[index]!;
          let at = copy as any;
          for (const key of path.slice(0, -1)) at = at?.[key];
          if (typeof at === 'object' && at !== null) at[path.at(-1)!] = value;
        }
        survive(JSON.stringify(copy));
      }),
      { numRuns: randoms(400), seed }
    );
  }).timeout(600_000);

  it('with parts taken out', () => {
    fc.assert(
      fc.property(fc.nat(everywhere.length - 1), (index) => {
        const copy = structuredClone(whole);
        const path = everywhere[index]!;
        let at = copy as any;
        for (const key of path.slice(0, -1)) at = at[key];
        if (Array.isArray(at)) at.splice(path.at(-1) as number, 1);
        else delete at[path.at(-1)!];
        survive(JSON.stringify(copy));
      }),
      { numRuns: randoms(200), seed }
    );
  }).timeout(600_000);

  it('with letters changed in their text', () => {
    fc.assert(
      fc.property(
        fc.nat(text.length - 1),
        fc.constantFrom('', '"', '{', '}', '[', ']', ',', ':', '0', 'x', '\\', '\u0000', '\n'),
        (index, letter) => {
          survive(text.slice(0, index) + letter + text.slice(index + 1));
        }
      ),
      { numRuns: randoms(200), seed }
    );
  }).timeout(600_000);

  it('with any condition', () => {
    const words = fc.constantFrom(
      'and',
      'or',
      'not',
      '(',
      ')',
      'left',
      'lamp',
      'lives',
      '=',
      '<',
      '-',
      '*',
      '+',
      ',',
      '1',
      '99999999999999999999',
      "'red'",
      'min',
      'wins',
      'true',
      ' ',
      '\u00e9'
    );
    fc.assert(
      fc.property(
        fc.oneof(
          fc.array(words, { maxLength: 30 }).map((list) => list.join(' ')),
          fc.string()
        ),
        (condition) => {
          try {
            parse(condition);
          } catch (error) {
            expect(error).to.be.instanceOf(LanguageError);
          }
        }
      ),
      { numRuns: randoms(2000), seed }
    );
  });
});
