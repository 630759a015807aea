import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { run as runLine } from '../src/commands.ts';

const flow = {
  format: 'crow-lane',
  version: 2,
  name: 'Gate',
  start: 'yard',
  places: {
    yard: {
      name: 'Yard',
      kind: 'level',
      entries: { front: { name: 'the front' } },
      pieces: {
        key: { name: 'Key', kind: 'pickup' },
        lamp: { name: 'Lamp', kind: 'pickup' },
        bell: { name: 'Bell', kind: 'switch' }
      },
      plan: {
        view: 'above',
        rows: ['.......', '...#.#.', '######.'],
        things: {
          start: { entry: 'front', cell: [0, 0] },
          key: { piece: 'key', cells: [[2, 1]] },
          lamps: {
            piece: 'lamp',
            cells: [
              [4, 1],
              [6, 2]
            ]
          },
          bell: { piece: 'bell', cells: [[5, 0]] },
          gate: { gate: 'taken(key) >= 1', cells: [[3, 0]] }
        }
      },
      rules: [
        { id: 'w', when: { holds: 'left(lamp) = 0' }, go: { place: 'end' }, result: 'won' },
        { id: 'r', when: { touch: 'bell' }, do: [{ restore: 'key' }] }
      ]
    },
    hall: { name: 'Hall', kind: 'level' },
    end: { name: 'End', kind: 'ending', outcome: 'won' }
  }
};

describe('crow-lane plan', () => {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-plan-'));
  after(() => rmSync(folder, { recursive: true }));
  const file = join(folder, 'gate.crow.json');
  writeFileSync(file, JSON.stringify(flow));
  const run = async (...args: string[]) => {
    let [out, err] = ['', ''];
    const code = await runLine(['plan', ...args], {
      out: (text) => (out += `${text}\n`),
      err: (text) => (err += `${text}\n`),
      input: () => Promise.resolve(JSON.stringify(flow)),
      lines: () => {
        throw new Error('nothing is typed here');
      }
    });
    return { code, out, err };
  };

  it('prints what follows from a plan as JSON', async () => {
    const { code, out } = await run(file, 'yard', '--json');
    expect(code).to.equal(0);
    const { spots, passages, at, entries, best } = JSON.parse(out);
    // to the key, through the gate to one lamp and past the bell to the other
    expect(best).to.deep.equal({ front: 12 });
    expect(Object.keys(spots)).to.deep.equal(['s0_0', 's4_0', 's6_0']);
    expect(spots.s4_0).to.deep.equal({
      name: 'Lamp ground',
      cells: [
        [4, 0],
        [4, 1]
      ]
    });
    expect(passages).to.deep.include({ id: 's0_0_s4_0', from: 's0_0', to: 's4_0', if: ['taken(key) >= 1'], through: [] });
    expect(passages).to.deep.include({ id: 's4_0_s6_0', from: 's4_0', to: 's6_0', if: [], through: ['bell'] });
    expect(at.lamp).to.deep.equal([
      { spots: ['s4_0'], n: 1 },
      { spots: ['s6_0'], n: 1 }
    ]);
    expect(at.bell).to.deep.equal([{ spots: ['s4_0', 's6_0'], n: 1 }]);
    expect(entries).to.deep.equal({ front: 's0_0' });
  });

  it('tells it in words, of a level by its name, from standard input too', async () => {
    const { code, out } = await run('-', 'Yard');
    expect(code).to.equal(0);
    expect(out).to.include('Yard: 3 spots, 4 passages');
    expect(out).to.include('  to s4_0  Lamp ground, if taken(key) >= 1');
    expect(out).to.include('past Bell');
  });

  it('says 2 for a level that is not there, one without a plan, and a command that is wrong', async () => {
    expect(await run(file, 'cellar')).to.deep.include({ code: 2, err: `${file}: there is no level "cellar"\n` });
    expect(await run(file, 'hall')).to.deep.include({ code: 2, err: `${file}: Hall has no plan\n` });
    expect((await run(file)).err).to.include('plan takes a file and a level.');
    expect((await run(join(folder, 'none.json'), 'yard')).code).to.equal(2);
  });

  it('draws a plan from the level file of a game, and remembers what its characters mean', async () => {
    const grid = join(folder, 'yard.csv');
    writeFileSync(grid, '1,1,1,1,1,1\r\n1,0,8,9,9,1\r\n1,1,1,1,1,1\r\n');
    const asked = await run(file, 'yard', '--from', grid);
    expect(asked).to.deep.include({ code: 2, out: '' });
    expect(asked.err).to.include('not known what these mean: "1" (14), "0" (1), "8" (1), "9" (2)');
    const reads = ['1=solid', '0=open', '8=Key', '9=lamp'].flatMap((each) => ['--read', each]);
    const { code, out } = await run(file, 'Yard', '--from', grid, ...reads);
    expect(code).to.equal(0);
    const { plan } = JSON.parse(out).places.yard;
    expect(plan.rows).to.deep.equal(['######', '#....#', '######']);
    expect(plan.things.lamps.cells).to.have.deep.members([
      [3, 1],
      [4, 1]
    ]);
    expect(plan.reads['8']).to.deep.equal({ piece: 'key' });
    // what no character speaks of stays where it can
    expect(plan.things.gate.cells).to.deep.equal([[3, 0]]);
    // written, and renewed without being told again
    const copy = join(folder, 'copy.crow.json');
    writeFileSync(copy, out);
    writeFileSync(grid, '1,1,1,1\n1,8,9,1\n1,1,1,1\n');
    const written = await run(copy, 'yard', '--from', grid, '--write');
    expect(written).to.deep.include({ code: 0, err: '' });
    expect(written.out).to.match(/copy\.crow\.json: Yard: \d+ spots?, \d+ passages?/);
    const again = JSON.parse(readFileSync(copy, 'utf8')).places.yard;
    expect(again.plan.rows).to.deep.equal(['####', '#..#', '####']);
    expect(again.plan.things.lamps.cells).to.deep.equal([[2, 1]]);
    expect(again.spots).to.equal(undefined);
  });

  it('begins a plan where it is told how it is seen, and refuses a grid that is too large or not there', async () => {
    const grid = join(folder, 'hall.txt');
    writeFileSync(grid, '####\n#..#\n####\n');
    expect((await run(file, 'hall', '--from', grid)).err).to.equal('Hall has no plan yet: say --view side or --view above\n');
    const { code, out } = await run(file, 'hall', '--from', grid, '--view', 'side');
    expect(code).to.equal(0);
    expect(JSON.parse(out).places.hall.plan).to.deep.equal({ view: 'side', rows: ['####', '#..#', '####'] });
    writeFileSync(grid, `${'.'.repeat(241)}\n`);
    expect((await run(file, 'hall', '--from', grid, '--view', 'side')).err).to.include('The grid has 241 × 1 cells.');
    expect((await run(file, 'hall', '--from', join(folder, 'none'), '--view', 'side')).code).to.equal(2);
    expect((await run(file, 'hall', '--view', 'side')).err).to.include('--view, --read and --write go with --from.');
    expect((await run(file, 'hall', '--from', grid, '--view', 'side', '--read', '9')).err).to.include('say CHARACTER=MEANING');
  });
});
