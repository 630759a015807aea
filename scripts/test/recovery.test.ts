/** Starts the whole product as a user does, kills all of it without warning, and starts it again. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';

const root = join(__dirname, '../..');
const document = { format: 'crow-lane', version: 1, name: 'Zero', start: 'a', places: { a: { name: 'A', kind: 'menu' } } };

describe('npm start', () => {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-recovery-'));
  const running: ChildProcess[] = [];
  after(() => {
    for (const child of running) child.kill('SIGTERM');
    rmSync(folder, { recursive: true, force: true, maxRetries: 20, retryDelay: 200 });
  });

  function start(): Promise<{ child: ChildProcess; url: string; said: () => string }> {
    const env: NodeJS.ProcessEnv = {
      ...process.env,
      CROW_LANE_DATA: folder,
      CROW_LANE_DATABASE_PORT: '43370',
      LOG_LEVEL: 'warn'
    };
    for (const name of ['DATABASE_URL', 'HOST', 'PORT']) delete env[name];
    const child = spawn(process.execPath, ['scripts/start.mjs'], { cwd: root, env, stdio: ['ignore', 'pipe', 'pipe'] });
    running.push(child);
    let text = '';
    return new Promise((done, failed) => {
      const read = (data: Buffer) => {
        text += String(data);
        const url = /Crow Lane is at (\S+)/.exec(text)?.[1];
        if (url) done({ child, url, said: () => text });
      };
      child.stdout!.on('data', read);
      child.stderr!.on('data', read);
      child.once('exit', (code) => failed(new Error(`start ended with ${code}: ${text}`)));
    });
  }

  async function create(url: string): Promise<string> {
    const response = await fetch(`${url}/api/flows`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: url },
      body: JSON.stringify(document)
    });
    expect(response.status).to.equal(201);
    return ((await response.json()) as { id: string }).id;
  }

  /** Edits one after another until the server is gone; gives the name that was acknowledged last. */
  async function editUntilGone(url: string, id: string, begun: () => void): Promise<{ name: string; revision: number }> {
    let kept = { name: 'Zero', revision: 1 };
    for (let n = 1; ; n++) {
      const patch = [{ op: 'replace', path: '/name', value: `Name ${n}` }];
      const headers = {
        'content-type': 'application/json-patch+json',
        'if-match': `"${kept.revision}"`,
        'idempotency-key': `edit-${n}`,
        'edit-label': 'Rename',
        'edit-author': 'Ada',
        origin: url
      };
      try {
        const response = await fetch(`${url}/api/flows/${id}`, { method: 'PATCH', headers, body: JSON.stringify(patch) });
        if (!response.ok) throw new Error(String(response.status));
        kept = { name: `Name ${n}`, revision: Number(/\d+/.exec(response.headers.get('etag')!)![0]) };
      } catch {
        return kept;
      }
      if (n === 5) begun();
    }
  }

  it('recovers after everything was killed, with every acknowledged edit', async () => {
    const first = await start();
    const id = await create(first.url);
    const database = Number(readFileSync(join(folder, 'mariadb.pid'), 'utf8'));
    const children = spawnSync('ps', ['-o', 'pid=', '--ppid', String(first.child.pid)], { encoding: 'utf8' });
    const pids = [first.child.pid!, database, ...(children.stdout ?? '').split(/\s+/).filter(Boolean).map(Number)];
    expect(pids.length).to.be.at.least(3);
    const kept = await editUntilGone(first.url, id, () => {
      for (const pid of new Set(pids)) {
        try {
          process.kill(pid, 'SIGKILL');
        } catch {
          // gone with the one before
        }
      }
    });
    expect(kept.revision).to.be.at.least(6);

    const second = await start();
    const flow = (await (await fetch(`${second.url}/api/flows/${id}`)).json()) as {
      document: { name: string };
      revision: number;
    };
    // an edit whose answer was cut off may have been kept too, one that was answered must have been
    expect(flow.revision).to.be.within(kept.revision, kept.revision + 1);
    if (flow.revision === kept.revision) expect(flow.document.name).to.equal(kept.name);
    const { revisions } = (await (await fetch(`${second.url}/api/flows/${id}/revisions?limit=1000`)).json()) as {
      revisions: { number: number }[];
    };
    expect(revisions.map(({ number }) => number)).to.deep.equal(
      Array.from({ length: flow.revision - 1 }, (_, n) => flow.revision - n)
    );

    // a second start beside it is refused and leaves the first alone
    const beside = spawnSync(process.execPath, ['scripts/start.mjs'], {
      cwd: root,
      env: { ...process.env, CROW_LANE_DATA: folder },
      encoding: 'utf8'
    });
    expect(beside.status).to.equal(1);
    expect(beside.stderr).to.include(`running already`).and.to.include(second.url);
    expect((await fetch(`${second.url}/api/health`)).ok).to.equal(true);

    // Ctrl-C stops both cleanly
    const gone = new Promise((done) => second.child.once('exit', done));
    second.child.kill('SIGINT');
    expect(await gone).to.equal(0);
    expect(() => readFileSync(join(folder, 'mariadb.pid'))).to.throw('ENOENT');
  });

  it('keeps a stale owner file from another process from being in the way', async () => {
    writeFileSync(join(folder, 'owner.json'), JSON.stringify({ pid: 1, began: '0' }));
    const { child, url } = await start();
    const shelf = (await (await fetch(`${url}/api/flows`)).json()) as { flows: unknown[] };
    expect(shelf.flows).to.have.length(5);
    const gone = new Promise((done) => child.once('exit', done));
    child.kill('SIGTERM');
    expect(await gone).to.equal(0);
  });

  it('asks before it empties the data folder', () => {
    const asked = spawnSync(process.execPath, ['scripts/start.mjs', '--fresh'], {
      cwd: root,
      env: { ...process.env, CROW_LANE_DATA: folder },
      encoding: 'utf8',
      input: ''
    });
    expect(asked.status).to.equal(1);
    expect(asked.stderr).to.include('--yes');
  });
});
