import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { decides } from '../src/report/report.ts';
import { read } from '../src/document/read.ts';
import { shapes, type Answers } from '../src/document/shapes.ts';
import { write } from '../src/document/write.ts';

describe('starting shapes', () => {
  const answers: Answers[] = [
    { levels: 1 },
    { levels: 3, lives: 1 },
    { levels: 4, lives: 3, score: 'run' },
    { levels: 2, score: 'attempt' },
    { levels: 5, lives: 2, groups: 2, saves: true, pause: true, options: true, credits: true },
    { levels: 3, pause: true },
    { levels: 1, options: true, groups: 9 }
  ];
  for (const shape of shapes) {
    it(`${shape.name}: passes every check, whatever is answered, and is read back as it was written`, () => {
      for (const given of answers) {
        const document = shape.make('Evening', given);
        const report = check(document);
        expect(report.complete, JSON.stringify(given)).to.equal(true);
        const failing = report.checks.filter(decides).map(({ message }) => message);
        expect(failing, JSON.stringify(given)).to.deep.equal([]);
        expect(
          report.checks.filter(({ check: name, outcome }) => name === 'level-completable' && outcome === 'holds')
        ).to.have.length(Object.values(document.places).filter(({ kind }) => kind === 'level').length);
        const again = read(write(document));
        expect(again.errors).to.equal(undefined);
        expect(again.document).to.deep.equal(document);
      }
    });
  }

  it('stay within reach of the checks with many levels and a score', () => {
    for (const shape of shapes.filter(({ key }) => key === 'straight' || key === 'loop')) {
      const report = check(shape.make('Evening', { levels: 40, lives: 3, score: 'run' }));
      expect(report.complete, shape.name).to.equal(true);
    }
  });
});
