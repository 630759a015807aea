import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Memory } from '@crow-lane/core/check/memory';
import { check } from '@crow-lane/core/check/check';
import { apply } from '@crow-lane/core/document/patch';
import { read } from '@crow-lane/core/document/read';
import { repairsOf } from '@crow-lane/core/repair/repairs';
import { expect } from 'chai';
import { steps } from '../../src/lib/tour/steps.ts';
import { long } from '../../../core/test/support/everyday.ts';

const demo = read(readFileSync(join(__dirname, '../../../demo/lamplighters-round-with-faults.crow.json'), 'utf8')).document!;
const report = check(demo);

describe('the tour', () => {
  it('names only what the demo has', () => {
    const places = Object.values(demo.places).map(({ name }) => name);
    for (const name of ['Chapel Rise', 'Best rounds', 'Old well', 'Lighthouse', 'Net Lofts', 'Quay Street'])
      expect(places).to.include(name);
    const said = steps.flatMap(({ text }) => text).join(' ');
    let quotations = 0;
    for (const [, quoted] of said.matchAll(/"((?:Once|Chapel|The rule)[^"]*)"/g)) {
      // the reader compares the words with those of the finding
      const plain = (text: string) => text.replaceAll(/[“”]/g, '');
      quotations++;
      const words = plain(quoted!.replace(/[.,]$/, ''));
      expect(
        report.checks.some(({ message, outcome }) => outcome === 'fails' && plain(message).includes(words)),
        words
      ).to.equal(true);
    }
    expect(quotations).to.be.greaterThan(0);
  });

  long('asks for what is not done yet and can be done by one repair, or by a run', () => {
    const asking = steps.filter(({ done }) => done);
    expect(asking.length).to.be.greaterThan(4);
    // most of what is explored is the same each time
    const memory = new Memory();
    const mended = report.checks
      .filter(({ outcome, severity, check: name }) => outcome === 'fails' && (severity === 'error' || name === 'fresh-start'))
      .flatMap((verdict) => repairsOf(demo, verdict).slice(0, 1))
      .map(({ patch }) => apply(demo, patch))
      .map((document) => ({ document, report: check(document, { memory }) }));
    for (const { title, done } of asking) {
      expect(done!({ document: demo, report }), title).to.equal(false);
      const kept = done!({ document: { ...demo, runs: { a: { name: 'A', steps: [] } } }, report });
      expect(kept || mended.some((now) => done!(now)), title).to.equal(true);
    }
  }).timeout(300_000);

  it('takes nothing for done before there is a report', () => {
    for (const { done } of steps) expect(done?.({ document: demo, report: undefined }) ?? false).to.equal(false);
  });
});
