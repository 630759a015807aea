import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { decides } from '../src/report/report.ts';
import { write } from '../src/document/write.ts';
import { documentFrom } from './support/flows.ts';

const folder = join(__dirname, '../../demo');
const files = readdirSync(folder);

describe('the demo flows', () => {
  it('are four', () => {
    expect(files).to.have.members([
      'ferry-rooms.crow.json',
      'lamplighters-round-with-faults.crow.json',
      'lamplighters-round.crow.json',
      'night-market.crow.json'
    ]);
  });

  for (const file of files) {
    it(`${file} is written as we write, and ${file.includes('faults') ? 'fails' : 'passes every check'}`, () => {
      const text = readFileSync(join(folder, file), 'utf8');
      const document = documentFrom(text);
      expect(write(document)).to.equal(text);
      const report = check(document);
      expect(report.complete).to.equal(true);
      const failing = report.checks.filter(decides).map(({ check: name, subject }) => `${name} ${subject}`);
      if (file.includes('faults')) expect(failing.length).to.be.greaterThan(10);
      else expect(failing).to.deep.equal([]);
    });
  }
});
