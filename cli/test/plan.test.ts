import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
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
    const { spots, passages, at, entries } = JSON.parse(out);
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
});
