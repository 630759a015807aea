/** Starts the whole product as a user does, kills all of it without warning, and starts it again. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { long } from '../../core/test/support/everyday.ts';

const root = join(__dirname, '../..');
const document = { format: 'crow-lane', version: 1, name: 'Zero', start: 'a', places: { a: { name: 'A', kind: 'menu' } } };

describe('npm start', () => {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-recovery-'));
  const running: ChildProcess[] = [];
  // one that failed leaves nothing to the next
  afterEach(async () => {
    for (const child of running.splice(0)) {
      if (child.exitCode !== null || child.signalCode !== null) continue;
      const gone = new Promise((done) => child.once('exit', done));
      child.kill('SIGTERM');
      await gone;
    }
  });
  after(() => {
    rmSync(folder, { recursive: true, force: true, maxRetries: 20, retryDelay: 200 });
  });

  /** No setting of whoever runs the tests gets in. */
  function environment(more: NodeJS.ProcessEnv): NodeJS.ProcessEnv {
    const env: NodeJS.ProcessEnv = { ...process.env, CROW_LANE_DATA: folder, LOG_LEVEL: 'warn' };
    for (const name of ['DATABASE_URL', 'HOST', 'PORT', 'CROW_LANE_DATABASE_PORT']) delete env[name];
    return { ...env, ...more };
  }
  const script = (name: string, args: string[] = [], more: NodeJS.ProcessEnv = {}) =>
    spawnSync(process.execPath, [`scripts/${name}.mjs`, ...args], {
      cwd: root,
      env: environment(more),
      encoding: 'utf8',
      timeout: 120_000
    });

  function start(more: NodeJS.ProcessEnv = {}): Promise<{ child: ChildProcess; url: string; said: () => string }> {
    const env = environment(more);
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

  long('writes a backup while it runs and while it does not, and restores it with the history', async () => {
    const { child, url } = await start();
    const id = await create(url);
    const ended = new Promise((done) => child.once('exit', done));
    const { name } = await editUntilGone(url, id, () => child.kill('SIGTERM'));
    await ended;
    const file = join(folder, 'flows.sql');
    const second = await start();
    expect(script('backup', [file]).status).to.equal(0);
    // it overwrites nothing
    expect(script('backup', [file]).stderr).to.include('is there already');
    const restored = join(folder, 'restored');
    const into = { CROW_LANE_DATA: restored };
    const ran = script('restore', [file], into);
    expect(ran.status, ran.stderr).to.equal(0);
    // restoring under a running application is refused
    expect(script('restore', [file]).stderr).to.include('running already');
    const gone = new Promise((done) => second.child.once('exit', done));
    second.child.kill('SIGTERM');
    await gone;
    const again = join(folder, 'again.sql');
    expect(script('backup', [again], into).status).to.equal(0);
    const { size } = statSync(again);
    expect(size / statSync(file).size).to.be.within(0.9, 1.1);
    writeFileSync(again, readFileSync(again, 'utf8').slice(0, size / 2));
    const cut = script('restore', [again], into);
    expect([cut.status, cut.stderr.includes('is not a whole backup')]).to.deep.equal([1, true]);

    const third = await start({ CROW_LANE_DATA: restored });
    const flow = (await (await fetch(`${third.url}/api/flows/${id}`)).json()) as { document: { name: string }; revision: number };
    expect(flow.document.name).to.equal(name);
    const { revisions } = (await (await fetch(`${third.url}/api/flows/${id}/revisions?limit=1000`)).json()) as {
      revisions: unknown[];
    };
    expect(revisions).to.have.length(flow.revision - 1);
    third.child.kill('SIGTERM');
    await new Promise((done) => third.child.once('exit', done));
  });

  it('does not build again what has not changed', async () => {
    const { child, said } = await start();
    child.kill('SIGTERM');
    await new Promise((done) => child.once('exit', done));
    expect(said()).not.to.include('Building');
  });

  it('says in one sentence what is in the way', async () => {
    writeFileSync(join(folder, 'stone'), '');
    const taken = createServer();
    await new Promise<void>((done) => taken.listen(0, '127.0.0.1', done));
    const { port } = taken.address() as { port: number };
    const cases: [NodeJS.ProcessEnv, string, string?][] = [
      [{ PORT: String(port) }, 'another program serves on'],
      [{ PORT: 'x' }, 'is not a port'],
      [{ HOST: '203.0.113.7' }, 'not an address of this machine'],
      [{ HOST: '203.0.113.7' }, 'can read, change and delete all flows', '--open'],
      [{ CROW_LANE_ADDRESS: 'flows.studio.example' }, 'the address that people use'],
      [{}, 'choose one', '--open --accounts'],
      [{ CROW_LANE_DATA: '/sys/crow-lane' }, 'may not be written to'],
      [{ CROW_LANE_DATA: join(folder, 'stone', 'inside') }, 'cannot be made'],
      [{ DATABASE_URL: 'mysql://a:b@127.0.0.1:1/c' }, 'does not answer'],
      [{ DATABASE_URL: 'nonsense' }, 'cannot be read']
    ];
    for (const [more, words, options] of cases) {
      const ran = script('start', options?.split(' '), more);
      expect([ran.status, ran.stderr.includes(words)], `${JSON.stringify(more)}: ${ran.stderr}`).to.deep.equal([1, true]);
      expect(ran.stderr).not.to.match(/\n\s+at /);
    }
    taken.close();
  }).timeout(240_000);

  long('leaves nothing running when it is stopped before it is ready', async () => {
    for (const wait of [150, 500, 1200]) {
      const child = spawn(process.execPath, ['scripts/start.mjs'], { cwd: root, env: environment({}), stdio: 'ignore' });
      await new Promise((done) => setTimeout(done, wait));
      const gone = new Promise((done) => child.once('exit', done));
      child.kill('SIGINT');
      await gone;
      const left = spawnSync('pgrep', ['-f', folder], { encoding: 'utf8' }).stdout;
      expect(left, `after ${wait} ms`).to.equal('');
    }
  });

  it('refuses a database that a newer version has made', async () => {
    const { child, url } = await start();
    expect((await fetch(`${url}/api/health`)).ok).to.equal(true);
    // @ts-expect-error a script without types of its own
    const { addressOf } = (await import('../lib/database.mjs')) as { addressOf: (folder: string) => string };
    const { createConnection } = await import('mysql2/promise');
    const connection = await createConnection(addressOf(folder));
    await connection.query("insert into __drizzle_migrations (hash, created_at) values ('newer', 99999999999999)");
    await connection.end();
    child.kill('SIGTERM');
    await new Promise((done) => child.once('exit', done));
    const ran = script('start');
    expect([ran.status, ran.stderr.includes('newer version of Crow Lane')], ran.stderr).to.deep.equal([1, true]);
    expect(ran.stderr).not.to.match(/\n\s+at /);
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
