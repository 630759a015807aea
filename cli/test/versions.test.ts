import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { read } from '@crow-lane/core/document/read';
import { run as runLine } from '../src/commands.ts';

/** A level and a menu, said shortly. */
const flow = (lamps: number, more: { name?: string; menu?: string } = {}) => ({
  format: 'crow-lane',
  version: 1,
  name: 'Lamps',
  start: 'quay',
  places: {
    quay: {
      name: more.name ?? 'Quay Street',
      kind: 'level',
      pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: lamps } },
      rules: [{ id: 'w', when: { holds: 'all(lamp)' }, go: { place: 'end' }, result: 'won' }]
    },
    end: { name: 'The end', kind: 'ending', outcome: 'won' },
    ...(more.menu !== undefined && { options: { name: more.menu, kind: 'menu' } })
  }
});

describe('versions of flows', () => {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-versions-'));
  after(() => rmSync(folder, { recursive: true }));
  const at = (name: string) => join(folder, name);
  const file = (name: string, what: object | string) => {
    writeFileSync(at(name), typeof what === 'string' ? what : JSON.stringify(what));
    return at(name);
  };
  const run = async (...args: string[]) => {
    let [out, err] = ['', ''];
    const code = await runLine(args, {
      out: (text) => (out += `${text}\n`),
      err: (text) => (err += `${text}\n`),
      input: () => Promise.resolve(JSON.stringify(flow(3))),
      lines: () => {
        throw new Error('nothing is typed');
      }
    });
    return { code, out, err };
  };

  it('are told apart in words', async () => {
    const [before, after] = [file('a.crow.json', flow(5)), file('b.crow.json', flow(7, { menu: 'Options' }))];
    const { code, out } = await run('diff', before, after);
    expect(code).to.equal(1);
    expect(out).to.equal('~ Quay Street, Lamp: count 5 → 7.\n+ Options.\n');
    expect(await run('diff', before, before)).to.deep.equal({ code: 0, out: '', err: '' });
    const told = JSON.parse((await run('diff', after, before, '--json')).out) as { is: string }[];
    expect(told.map(({ is }) => is)).to.deep.equal(['changed', 'removed']);
    expect((await run('diff', before)).err).to.include('crow-lane: 2 files are needed.');
    expect((await run('diff', before, at('none.crow.json'))).code).to.equal(2);
    const broken = file('broken.crow.json', '{ "format": "crow-lane",\n  oops }');
    expect((await run('diff', before, broken)).err).to.match(/broken\.crow\.json:2:\d+: /);
  });

  it('are read from revisions of git, and merged by it part by part', async function () {
    this.timeout(60_000);
    const git = (...args: string[]) =>
      execFileSync('git', ['-c', 'user.name=Crow', '-c', 'user.email=crow@lane.invalid', ...args], {
        cwd: folder,
        encoding: 'utf8'
      });
    try {
      git('--version');
    } catch {
      this.skip();
    }
    git('init', '-q', '-b', 'main');
    const main = join(__dirname, '../src/main.ts');
    const tsx = join(__dirname, '../../node_modules/.bin/tsx');
    git('config', 'merge.crow-lane.driver', `"${tsx}" "${main}" merge %O %A %B`);
    file('.gitattributes', '*.crow.json merge=crow-lane\n');
    file('round.crow.json', flow(5));
    git('add', '.gitattributes', 'round.crow.json');
    git('commit', '-qm', 'five');
    file('round.crow.json', flow(6));
    const here = process.cwd();
    process.chdir(folder);
    try {
      expect((await run('diff', 'HEAD:round.crow.json', 'round.crow.json')).out).to.equal('~ Quay Street, Lamp: count 5 → 6.\n');
      const gone = await run('diff', 'HEAD:other.crow.json', 'round.crow.json');
      expect(gone.code).to.equal(2);
      expect(gone.err).to.include('HEAD:other.crow.json: cannot be read');
    } finally {
      process.chdir(here);
    }
    // the whole file is one line: by lines nothing of this would fit together
    git('commit', '-qam', 'six');
    git('switch', '-qc', 'other', 'HEAD~1');
    file('round.crow.json', flow(5, { name: 'The quay' }));
    git('commit', '-qam', 'another name');
    git('merge', '-q', '--no-edit', 'main');
    const { quay } = (JSON.parse(readFileSync(at('round.crow.json'), 'utf8')) as ReturnType<typeof flow>).places;
    expect([quay.name, quay.pieces.lamp.count]).to.deep.equal(['The quay', 6]);
  });

  it('are merged part by part, and conflicts are told in words', async () => {
    const base = file('base.crow.json', flow(5));
    const ours = file('ours.crow.json', flow(7));
    const theirs = file('theirs.crow.json', flow(5, { name: 'The quay', menu: 'Options' }));
    expect(await run('merge', base, ours, theirs)).to.deep.equal({ code: 0, out: '', err: '' });
    const merged = JSON.parse(readFileSync(ours, 'utf8')) as ReturnType<typeof flow>;
    expect(merged.places.quay.name).to.equal('The quay');
    expect(merged.places.quay.pieces.lamp.count).to.equal(7);
    expect(Object.keys(merged.places)).to.deep.equal(['quay', 'end', 'options']);

    const other = file('other.crow.json', flow(9));
    const { code, err } = await run('merge', base, ours, other);
    expect(code).to.equal(1);
    expect(err).to.include('ours.crow.json: The quay, Lamp, count: 7 here, 9 there, before 5.');
    expect(err).to.include('one part was changed on both sides; what is here is kept.');
    expect((JSON.parse(readFileSync(ours, 'utf8')) as ReturnType<typeof flow>).places.quay.pieces.lamp.count).to.equal(7);

    const printed = await run('merge', base, ours, theirs, '--print');
    expect(JSON.parse(printed.out)).to.have.property('name', 'Lamps');
  });

  it('are merged without a version before, where both have begun', async () => {
    const [nothing, ours] = [file('nothing.crow.json', ''), file('mine.crow.json', flow(5))];
    const theirs = file('yours.crow.json', flow(5, { menu: 'Options' }));
    const { code } = await run('merge', nothing, ours, theirs);
    expect(code).to.equal(0);
    expect(Object.keys((JSON.parse(readFileSync(ours, 'utf8')) as ReturnType<typeof flow>).places)).to.include('options');
  });

  it('leave everything as it was where one cannot be read', async () => {
    const ours = file('kept.crow.json', flow(5));
    const before = readFileSync(ours, 'utf8');
    const wrong = file('wrong.crow.json', { ...flow(5), start: 7 });
    expect((await run('merge', ours, ours, wrong)).code).to.equal(2);
    expect((await run('merge', wrong, ours, ours)).code).to.equal(2);
    expect(readFileSync(ours, 'utf8')).to.equal(before);
  });

  it('are written as the application writes them', async () => {
    const [one, two] = [file('one.crow.json', flow(5)), file('two.crow.json', flow(6))];
    const checked = await run('format', one, two, '--check');
    expect(checked).to.include({ code: 1 });
    expect(checked.out).to.include('one.crow.json: is written otherwise');
    expect(readFileSync(one, 'utf8')).to.equal(JSON.stringify(flow(5)));
    expect((await run('format', one, two)).code).to.equal(0);
    expect(readFileSync(one, 'utf8').split('\n').length).to.be.greaterThan(5);
    expect(await run('format', one, two, '--check')).to.deep.equal({ code: 0, out: '', err: '' });
    expect((await run('format', '-')).out).to.include('"format": "crow-lane"');
    expect((await run('format')).err).to.include('a file or folder is missing.');
    expect((await run('format', one, at('none.crow.json'))).code).to.equal(2);
  });

  it('are given in every form, and in no other', async () => {
    const one = file('given.crow.json', flow(5));
    for (const [form, begins] of [
      ['json', '{'],
      ['game', '{"format":"crow-lane-game"'],
      ['markdown', '# Lamps'],
      ['rules', '{"place":"quay","rule":"w"'],
      ['rulescsv', 'place,rule,'],
      ['moves', 'From,When,To'],
      ['levels', 'Name,'],
      ['dot', 'digraph "Lamps" {'],
      ['graphml', '<?xml '],
      ['schema', '{']
    ] as const) {
      const { code, out, err } = await run('convert', one, '--to', form);
      expect([code, err], form).to.deep.equal([0, '']);
      expect(out.slice(0, begins.length), form).to.equal(begins);
    }
    expect((await run('convert', one, '--to', 'pdf')).err).to.include('--to is one of json, html, game,');
    // without a form it is a file again, and its name tells what it was
    expect((await run('convert', one)).out).to.equal((await run('convert', one, '--to', 'json')).out);
    const drawn = file('drawn.dot', 'digraph { rankdir=LR; title -> quay [label="Begin"] }');
    const { code, out, err } = await run('convert', drawn);
    expect([code, err.trim()]).to.deep.equal([0, `${drawn}:1: left out: rankdir=LR`]);
    expect(read(out).document!.places.title!.rules[0]!.when).to.deep.equal({ press: 'Begin' });
    expect((await run('convert', drawn, '--from', 'dot', '--to', 'moves')).out).to.include('title,when Begin is pressed,quay');
    const broken = await run('convert', file('broken.gv', 'digraph {\n a -> }'));
    expect([broken.code, broken.out]).to.deep.equal([2, '']);
    expect(broken.err).to.match(/broken\.gv:2:\d+: this is not DOT/);
    expect((await run('convert', one, '--from', 'pdf')).err).to.include('--from is one of json, dot, levels.');
    expect((await run('convert', '--to', 'dot')).err).to.include('convert takes one file.');
  });
});
