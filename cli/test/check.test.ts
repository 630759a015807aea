import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import { expect } from 'chai';
import type { Report } from '@crow-lane/core/report/report';
import { checkCommand } from '../src/check.ts';
import { run as runLine } from '../src/commands.ts';
import { longest } from '../src/files.ts';

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
  let stdin = '';
  const run = async (...args: string[]) => {
    let out = '';
    let err = '';
    const code = await checkCommand(args, {
      out: (text) => (out += `${text}\n`),
      err: (text) => (err += `${text}\n`),
      input: () => Promise.resolve(stdin),
      lines: () => {
        throw new Error('nothing is typed here');
      }
    });
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
    expect(out).to.include('Candle collected: 0 to 3');
    expect(out).to.include('route: let the next deadline pass · press Continue');
  });

  it('gives the report as JSON, a list for several files', async () => {
    const one = JSON.parse((await run(small, '--json')).out) as { format: string; complete: boolean };
    expect(one).to.include({ format: 'crow-lane-report', complete: true });
    // a list stays one where only some of the files can be read
    const unread = file('unread.crow.json', '{');
    const some = await run('--json', small, unread);
    expect(JSON.parse(some.out)).to.be.an('array').with.length(1);
    expect((await run('--json', unread)).out.trim()).to.equal('null');
    expect((await run('--format', 'junit', unread)).out).to.include('<testsuites>');
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

  it('says 3 when nothing fails and something is open, and tells it in every format', async () => {
    const cut = (...more: string[]) => run(round, '--limit', '500', ...more);
    const text = await cut();
    expect(text.code).to.equal(3);
    expect(text.out).to.include('open').and.to.include('--limit');
    const junit = await cut('--format', 'junit');
    expect([junit.code, junit.out.includes('<skipped message="open: ')]).to.deep.equal([3, true]);
    const sarif = JSON.parse((await cut('--format', 'sarif')).out) as {
      runs: { invocations: { toolExecutionNotifications?: { message: { text: string } }[] }[] }[];
    };
    expect(sarif.runs[0]!.invocations[0]!.toolExecutionNotifications![0]!.message.text).to.match(/^\d+ verdicts are open/);
    // a failure weighs more
    expect((await run(faults, '--limit', '500')).code).to.equal(1);
  });

  it('refuses a file by its size, before it is read', async () => {
    const path = join(folder, 'huge.crow.json');
    writeFileSync(path, '');
    truncateSync(path, longest + 1);
    const { code, err } = await run(path);
    expect([code, err]).to.deep.equal([2, `${path}: is longer than 50 MB, which no flow document is\n`]);
  });

  it('finds nothing wrong with the demo', async () => {
    const { code, out } = await run(round);
    expect(code).to.equal(0);
    expect(out).to.include('12 of 12 levels can be completed, 28 of 28 places are reached');
  });

  it('reads standard input and folders', async () => {
    stdin = readFileSync(small, 'utf8');
    expect((await run('-')).code).to.equal(0);
    stdin = '{';
    expect((await run('-')).err).to.include('-:1:2: this is not JSON');
    const folders = JSON.parse((await run(demo, '--json')).out) as unknown[];
    expect(folders).to.have.length(4);
    expect((await run(mkdtempSync(join(folder, 'empty-')))).code).to.equal(2);
  });

  it('shows only the verdicts asked for', async () => {
    const { out, code } = await run(round, '--only', 'name-unique', '--json');
    expect(new Set((JSON.parse(out) as Report).checks.map(({ check }) => check))).to.deep.equal(new Set(['name-unique']));
    expect(code).to.equal(0);
    expect((await run(faults, '--only', 'colour')).err).to.include('There is no check "colour"');
  });

  it('writes a page to print, of one file', async () => {
    const { out, code } = await run(faults, '--format', 'html');
    expect(code).to.equal(1);
    expect(out)
      .to.match(/^<!doctype html>/)
      .and.include('Chapel Rise can never be won');
    expect((await run(faults, round, '--format', 'html')).err).to.include('one file at a time');
  });

  it('shows the routes of a subject step by step', async () => {
    const { out } = await run(round, '--route', 'dark');
    expect(out).to.include('Lights out is reached in 8 steps');
    expect(out).to.match(/3 {2}Quay Street: touch Harbour water → Overboard/);
    expect((await run(round, '--route', 'nowhere')).out).to.include('no verdict on "nowhere" has a route');
  });

  it('writes JUnit XML whose counts agree with its cases', async () => {
    const { out, code } = await run(faults, '--format', 'junit');
    expect(code).to.equal(1);
    const [, tests, failures, skipped] = /tests="(\d+)" failures="(\d+)" errors="0" skipped="(\d+)"/.exec(out)!.map(Number);
    expect(out.match(/<testcase /g)).to.have.length(tests!);
    expect(out.match(/<failure /g)).to.have.length(failures!);
    expect(out.match(/<skipped /g)).to.have.length(skipped!);
    expect(out)
      .to.include('&quot;manual&quot;')
      .and.not.to.match(/message="[^"]*[<>]/);
  });

  it('writes SARIF as its schema wants it', async () => {
    const schema = JSON.parse(readFileSync(require.resolve('schemastore/schemas/json/sarif-2.1.0.json'), 'utf8'));
    // the schema names formats (uri and the like) that need a package of their own
    const valid = new Ajv({ strict: false, validateFormats: false, unicodeRegExp: false }).compile(schema);
    const log = JSON.parse((await run(round, faults, '--format', 'sarif')).out);
    expect(valid(log), JSON.stringify(valid.errors)).to.equal(true);
    log.runs[0].results[0].level = 'terrible';
    expect(valid(log)).to.equal(false);
  });

  it('writes SARIF with the place of each finding in its file', async () => {
    const log = JSON.parse((await run(faults, '--format', 'sarif')).out) as any;
    expect(log.version).to.equal('2.1.0');
    const [{ tool, results }] = log.runs;
    const lines = readFileSync(faults, 'utf8').split('\n');
    for (const { ruleId, ruleIndex, level, locations } of results) {
      expect(tool.driver.rules[ruleIndex].id).to.equal(ruleId);
      expect(['error', 'warning', 'note']).to.include(level);
      expect(locations[0].physicalLocation.artifactLocation.uri).to.match(/with-faults.crow.json$/);
    }
    const chapel = results.find((each: any) => each.partialFingerprints['subject/v1'] === 'level-completable chapel');
    expect(lines[chapel.locations[0].physicalLocation.region.startLine - 1]).to.include('"chapel": {');
    const accepted = results.find((each: any) => each.ruleId === 'goal-partial');
    expect(accepted.suppressions).to.deep.equal([
      { kind: 'inSource', justification: 'Three lamps are enough for the ferryman.' }
    ]);
  });
});

describe('crow-lane', () => {
  const run = async (...args: string[]) => {
    let [out, err] = ['', ''];
    const nothing = () => {
      throw new Error('nothing is read here');
    };
    const code = await runLine(args, {
      out: (text) => (out += `${text}\n`),
      err: (text) => (err += `${text}\n`),
      input: nothing,
      lines: nothing
    });
    return { code, out, err };
  };

  it('tells how it is used, in whole and by command, and its version', async () => {
    for (const args of [['help'], ['--help'], ['-h']]) {
      const { code, out } = await run(...args);
      expect([
        code,
        out.includes('crow-lane check'),
        out.includes('crow-lane play'),
        out.includes('3 nothing fails')
      ]).to.deep.equal([0, true, true, true], args.join(' '));
    }
    for (const args of [
      ['help', 'check'],
      ['check', '--help'],
      ['check', 'x', '-h']
    ]) {
      const { code, out } = await run(...args);
      expect([code, out.includes('--route'), out.includes('--random')]).to.deep.equal([0, true, false], args.join(' '));
    }
    expect(await run('--version')).to.deep.include({ code: 0, err: '' });
    expect((await run('--version')).out).to.match(/^\d+\.\d+\.\d+\n$/);
    expect((await run()).code).to.equal(2);
    expect((await run('chekc')).err).to.include('there is no command "chekc"');
    expect((await run('help', 'chekc')).code).to.equal(2);
  });

  it('tells what fails by its causes, with the fix that removes most', async () => {
    const won = (id: string, holds: string) => ({
      id,
      when: { holds },
      go: { move: 'next', else: { place: 'end' } },
      result: 'won'
    });
    const level = (name: string, rule: object) => ({
      name,
      kind: 'level',
      pieces: { candle: { name: 'Candle', kind: 'pickup', count: 3 } },
      rules: [rule]
    });
    const document = {
      format: 'crow-lane',
      version: 1,
      name: 'Candles',
      start: 'one',
      orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two', 'three'] } },
      places: {
        one: level('Crypt', won('w1', 'left(candle) = 0')),
        two: level('Chapel', won('w2', 'taken(candle) >= 4')),
        three: level('Lighthouse', won('w3', 'left(candle) = 0')),
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    };
    const folder = mkdtempSync(join(tmpdir(), 'crow-lane-test-'));
    after(() => rmSync(folder, { recursive: true }));
    const candles = join(folder, 'candles.crow.json');
    writeFileSync(candles, JSON.stringify(document));
    const { code, out } = await run('check', candles, '--causes');
    expect(code).to.equal(1);
    expect(out).to.match(/ {2}fix: Ask for all: Candle × 3 \(removes \d+ findings\)\n/);
    expect(out).to.include('  follows: Lighthouse is never reached.');
    // each finding once
    expect(out.split('Lighthouse is never reached.')).to.have.length(2);
  });
});
