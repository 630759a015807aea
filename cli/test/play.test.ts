import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { playCommand } from '../src/play.ts';

const demo = join(__dirname, '../../demo');
const ferry = join(demo, 'ferry-rooms.crow.json');
const market = join(demo, 'night-market.crow.json');

describe('crow-lane play', () => {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-play-'));
  after(() => rmSync(folder, { recursive: true }));
  const script = (steps: unknown) => {
    const path = join(folder, 'steps.json');
    writeFileSync(path, typeof steps === 'string' ? steps : JSON.stringify(steps));
    return path;
  };
  const run = async (args: string[], typed: string[] = []) => {
    let out = '';
    let err = '';
    const code = await playCommand(args, {
      out: (text) => (out += `${text}\n`),
      err: (text) => (err += `${text}\n`),
      input: () => Promise.resolve(''),
      async *lines() {
        yield* typed;
        return undefined;
      }
    });
    return { code, out, err };
  };

  it('is played by numbers, taken back, and says what was done', async () => {
    const { code, out } = await run([ferry], ['1', '9', 'back', '1', 'tape', 'quit']);
    expect(code).to.equal(0);
    expect(out).to.include('== Title (menu)');
    expect(out).to.include('1  Press Step aboard: to Deck');
    expect(out.match(/== Deck \(level\)/g)).to.have.length.greaterThan(1);
    expect(out).to.include('Touch Ladder to the lamp room: nothing: only if Lamp key');
    expect(out).to.include('There is no "9" here.');
    expect(out).to.match(/ 1 {2}press Step aboard: to Deck \(/);
  });

  it('ends when nothing more is typed', async () => {
    expect((await run([ferry])).code).to.equal(0);
  });

  it('plays a script to its end, or says which step cannot happen', async () => {
    const steps = [{ press: 'Step aboard' }, { touch: 'to_cabin' }, { collect: 'key_ring' }];
    const whole = await run([ferry, '--script', script(steps)]);
    expect(whole).to.deep.include({ code: 0, err: '' });
    expect(whole.out).to.include('Lamp key no → yes').and.include('ends in Cabin');
    const broken = await run([ferry, '--script', script([...steps, { touch: 'to_hold' }])]);
    expect(broken.code).to.equal(1);
    expect(broken.err).to.include('step 4 cannot happen in Cabin: {"touch":"to_hold"}');
    expect((await run([ferry, '--script', script('{')])).code).to.equal(2);
    expect((await run([ferry, '--script', script({ press: 'x' })])).err).to.include('a script is a list of steps');
  });

  it('plays what a page to play has saved, and says what is wrong with it', async () => {
    const then = { in: 'title' };
    const saved = (step: object) => ({
      format: 'crow-lane-run',
      version: 1,
      flow: 'Ferry Rooms',
      run: {
        name: 'Stuck',
        steps: [
          { start: true, then },
          { ...step, then: { in: 'deck' } }
        ]
      }
    });
    const whole = await run([ferry, '--script', script(saved({ press: 'Step aboard' }))]);
    expect(whole).to.deep.include({ code: 0, err: '' });
    expect(whole.out).to.include('ends in Deck');
    const wrong = await run([ferry, '--script', script(saved({ jump: 1 }))]);
    expect([wrong.code, wrong.out]).to.deep.equal([2, '']);
    expect(wrong.err).to.match(/:\d+:\d+: \/run\/steps\/1/);
  });

  it('plays recorded runs again, and says which go another way', async () => {
    expect((await run([ferry, '--runs'])).out).to.include('has no recorded runs');
    const steps = [
      { start: true, then: { in: 'title' } },
      { press: 'Step aboard', then: { in: 'deck', rules: ['aboard'] } }
    ];
    const flow = JSON.parse(readFileSync(ferry, 'utf8')) as object;
    const path = join(folder, 'runs.crow.json');
    writeFileSync(path, JSON.stringify({ ...flow, runs: { in: { name: 'Going aboard', steps } } }));
    expect(await run([path, '--runs'])).to.deep.equal({ code: 0, out: 'as recorded   Going aboard (1 events)\n', err: '' });
    steps[1]!.then = { in: 'cabin', rules: ['aboard'] };
    writeFileSync(path, JSON.stringify({ ...flow, runs: { in: { name: 'Going aboard', steps } } }));
    const other = await run([path, '--runs']);
    expect(other.code).to.equal(1);
    expect(other.out).to.include('DIFFERENTLY   Going aboard, event 1: press Step aboard');
    expect(other.out).to.include('recorded: in Cabin').and.include('now:      in Deck');
  });

  it('plays games at random that a seed repeats', async () => {
    const first = await run([market, '--random', '200', '--seed', '4', '--most', '300']);
    expect(first.code).to.equal(0);
    expect(first.out).to.match(/200 games at random, seed 4/);
    expect(first.out).to.match(/%\s+\d+ {2}Dark stalls/);
    expect(first.out).to.equal((await run([market, '--random', '200', '--seed', '4', '--most', '300'])).out);
    expect(first.out).not.to.equal((await run([market, '--random', '200', '--seed', '5', '--most', '300'])).out);
  });

  it('refuses what it cannot understand', async () => {
    for (const args of [
      [],
      [ferry, market],
      [ferry, '--random', 'many'],
      [ferry, '--seed', '-1'],
      [ferry, '--loud'],
      [join(folder, 'none')]
    ])
      expect((await run(args)).code, args.join(' ')).to.equal(2);
  });

  it('holds runs to what they expect, and names those that show a known bug', async () => {
    const document = JSON.parse(readFileSync(ferry, 'utf8')) as { runs?: object };
    const step = { press: 'Step aboard', then: { in: 'deck', rules: ['nothing_like_it'] } };
    const start = { start: true, then: { in: 'title' } };
    const withRun = (more: object, steps: object[]) => {
      const path = join(folder, 'runs.crow.json');
      writeFileSync(path, JSON.stringify({ ...document, runs: { a: { name: 'Aboard', steps, ...more } } }));
      return path;
    };
    expect((await run([withRun({}, [start, step]), '--runs'])).code).to.equal(1);
    const known = await run([withRun({ bug: 'the gangway is up' }, [start, step]), '--runs']);
    expect(known.code).to.equal(0);
    expect(known.out)
      .to.match(/known bug +Aboard, event 1: press Step aboard/)
      .and.include('the gangway is up');
    const mended = await run([withRun({ bug: 'the gangway is up' }, [start]), '--runs']);
    expect(mended.out).to.include('as recorded').and.include('no longer does');
    const against = await run([withRun({}, [{ ...start, expects: ['wins(nowhere) = 3'] }]), '--runs']);
    expect(against.code).to.equal(1);
    expect(against.out).to.include('expected: wins(nowhere) = 3 (which cannot be read there)');
  });

  it('weighs what is done at random', async () => {
    const games = (...args: string[]) => run([ferry, '--random', '20', '--most', '30', ...args]);
    expect((await games('--weight', 'press Step aboard=0')).out).to.match(/never entered: .*Deck/);
    expect((await games('--weight', 'press Step aboard')).err).to.include('--weight takes an event');
  });
});
