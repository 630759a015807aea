import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { checkCommand } from '../src/check.ts';

const demo = join(__dirname, '../../demo');
const round = join(demo, 'lamplighters-round.crow.json');
const faults = join(demo, 'lamplighters-round-with-faults.crow.json');

describe('crow-lane check', () => {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-test-'));
  after(() => rmSync(folder, { recursive: true }));
  const file = (name: string, text: string) => {
    const path = join(folder, name);
    writeFileSync(path, text);
    return path;
  };
  const run = async (...args: string[]) => {
    let out = '';
    let err = '';
    const code = await checkCommand(args, { out: (text) => (out += `${text}\n`), err: (text) => (err += `${text}\n`) });
    return { code, out, err };
  };
  const small = file(
    'small.crow.json',
    JSON.stringify({
      format: 'crow-lane',
      version: 1,
      name: 'Small',
      start: 'a',
      places: {
        a: { name: 'Quay', kind: 'level', rules: [{ id: 'w', when: { press: 'Win' }, go: { place: 'e' }, result: 'won' }] },
        e: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    })
  );

  it('says 0 and a table when all holds', async () => {
    const { code, out, err } = await run(small);
    expect([code, err]).to.deep.equal([0, '']);
    expect(out).to.include('1 of 1 levels can be completed, 2 of 2 places are reached');
    expect(out).to.match(/Quay +level +yes \(0\) +yes \(1\)/);
  });

  it('says 1, why, and by which route when something fails', async () => {
    const { code, out } = await run(faults);
    expect(code).to.equal(1);
    expect(out).to.include('error level-completable chapel: Chapel Rise can never be won.');
    expect(out).to.include('Candles collected: 0 to 3');
    expect(out).to.include('route: let the next deadline pass · press Continue');
  });

  it('gives the report as JSON, a list for several files', async () => {
    const one = JSON.parse((await run(small, '--json')).out) as { format: string; complete: boolean };
    expect(one).to.include({ format: 'crow-lane-report', complete: true });
    const both = await run('--json', small, faults);
    expect(both.code).to.equal(1);
    expect((JSON.parse(both.out) as { flow: string }[]).map(({ flow }) => flow)).to.deep.equal([
      'Small',
      "Lamplighter's Round, with faults"
    ]);
  });

  it('says 2 with file, line and column when the input is wrong', async () => {
    const broken = file(
      'broken.crow.json',
      '{\n  "format": "crow-lane",\n  "version": 1,\n  "name": "",\n  "start": "a",\n  "places": {}\n}'
    );
    const { code, err } = await run(small, broken);
    expect(code).to.equal(2);
    expect(err).to.include(`${broken}:4:11: /name`);
    expect((await run(join(folder, 'none.crow.json'))).err).to.include('ENOENT');
  });

  it('says 2 when the command is wrong', async () => {
    for (const args of [[], ['--limit', 'x', small], ['--limit', '0', small], ['--colour', small]])
      expect((await run(...args)).code, args.join(' ')).to.equal(2);
  });

  it('leaves open what the limit cuts, and that is no failure', async () => {
    const { code, out } = await run(round, '--limit', '50');
    expect(code).to.equal(0);
    expect(out).to.include('open').and.to.include('--limit');
  });

  it('finds nothing wrong with the demo', async () => {
    const { code, out } = await run(round);
    expect(code).to.equal(0);
    expect(out).to.include('12 of 12 levels can be completed, 25 of 25 places are reached');
  });
});
