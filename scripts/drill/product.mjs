// What the drills have in common: a product of their own, started as a user does, and what it is asked. Loopback only.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../lib/paths.mjs';
import { end, following, freePort } from '../lib/process.mjs';

const products = new Set();

/** A folder for data that is thrown away by `drop`, with all that still runs on it. */
export function someFolder() {
  const folder = mkdtempSync(join(tmpdir(), 'crow-lane-drill-'));
  return {
    folder,
    async drop() {
      for (const product of products) if (product.folder === folder) await end(product.child.pid, 30);
      rmSync(folder, { recursive: true, force: true, maxRetries: 20, retryDelay: 200 });
    }
  };
}

/** The secret of the link to the first account, as a product with accounts has told it. */
export const firstSecret = (product) => /\/open#(\S+)/.exec(product.said())[1];

/**
 * Starts the product of a checkout on a data folder, or on another's database. Gives its address, what it said, the pids
 * of all its processes, and ways to end it.
 */
export async function startProduct(folder, { checkout = root, database, strict = true, options = [], environment = {} } = {}) {
  const env = {
    ...process.env,
    CROW_LANE_DATA: folder,
    LOG_LEVEL: 'warn',
    PORT: String(await freePort(20_000 + (process.pid % 20_000)))
  };
  for (const name of ['HOST', 'DATABASE_URL', 'CROW_LANE_DATABASE_PORT']) delete env[name];
  if (database) env.DATABASE_URL = database;
  Object.assign(env, environment);
  const child = spawn(...following(process.execPath, ['scripts/start.mjs', ...options]), {
    cwd: checkout,
    env,
    stdio: ['ignore', 'pipe', 'pipe']
  });
  products.add({ folder, child });
  let said = '';
  const url = await new Promise((done, failed) => {
    const read = (data) => {
      said += data;
      const found = /Crow Lane is at (\S+)/.exec(said)?.[1];
      if (found) done(found);
    };
    child.stdout.on('data', read);
    child.stderr.on('data', read);
    child.once('exit', (code) => failed(new Error(`start ended with ${code}: ${said}`)));
  });
  const gone = new Promise((done) => child.once('exit', done));
  const server = () => childrenOf(child.pid).find((pid) => commandOf(pid).includes('build/index.js'));
  const mariadb = () => childrenOf(child.pid).find((pid) => commandOf(pid).includes('mariadbd'));
  return {
    url,
    child,
    server,
    mariadb,
    said: () => said,
    /** Kills all of it without warning. */
    async kill() {
      for (const pid of [child.pid, ...childrenOf(child.pid)]) signal(pid, 'SIGKILL');
      await gone;
    },
    async stop() {
      await end(child.pid, 60);
      if (strict && /unhandled rejection|uncaught/.test(said))
        throw new Error(`The server met a fault that was not handled:\n${said}`);
    }
  };
}

export function signal(pid, name) {
  try {
    if (pid) process.kill(pid, name);
  } catch {
    // gone already
  }
}

function childrenOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').split(' ').filter(Boolean).map(Number);
  } catch {
    return [];
  }
}

const commandOf = (pid) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
};

/** Megabytes of memory that a process holds. */
export const memoryOf = (pid) => Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024);

const agent = new Agent({ keepAlive: true, maxSockets: 600 });

/** Asks a server; gives status, headers, text and how long it took in milliseconds. Rejects when it does not answer. */
export function ask(url, path, options = {}) {
  const { method = 'GET', headers = {}, body, signal: stop } = options;
  const began = performance.now();
  return new Promise((done, failed) => {
    const sent = request(
      new URL(path, url),
      { method, agent, signal: stop, headers: { origin: new URL(url).origin, ...headers } },
      (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (data) => (text += data));
        response.on('end', () =>
          done({ status: response.statusCode, headers: response.headers, text, ms: performance.now() - began })
        );
        response.on('error', failed);
      }
    );
    // a connection that was kept may just have been closed for its age
    sent.on('error', (error) => (sent.reusedSocket ? ask(url, path, options).then(done, failed) : failed(error)));
    sent.end(body);
  });
}

export const askJson = async (...args) => JSON.parse((await ask(...args)).text);

/** Makes a flow and gives its id. */
export async function makeFlow(url, document, headers = {}) {
  const { status, text } = await ask(url, '/api/flows', {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body: JSON.stringify(document)
  });
  if (status !== 201) throw new Error(`The flow was not made: ${status} ${text.slice(0, 300)}`);
  return JSON.parse(text).id;
}

/** Sends an edit; gives the answer with the revision's number, where it was kept. */
export async function sendEdit(url, flow, base, editId, patch, rest = {}) {
  const answer = await ask(url, `/api/flows/${flow}`, {
    method: 'PATCH',
    headers: {
      'content-type': 'application/json-patch+json',
      'if-match': `"${base}"`,
      'idempotency-key': editId,
      'edit-label': 'Drill',
      'edit-author': 'Ada'
    },
    body: typeof patch === 'string' ? patch : JSON.stringify(patch),
    ...rest
  });
  return { ...answer, number: answer.status === 200 ? JSON.parse(answer.text).revision.number : undefined };
}

/** A flow of some places in a row, about as large as flows are: 60 places make 30 kB. */
export function someDocument(places, name = 'Drill') {
  const list = Array.from({ length: places }, (_, n) => `l${n}`);
  return {
    format: 'crow-lane',
    version: 1,
    name,
    start: 'title',
    orders: { main: { name: 'Round', draw: 'fixed', levels: list } },
    places: {
      title: {
        name: 'Title',
        kind: 'menu',
        rules: [{ id: 'begin', when: { press: 'Begin' }, go: { move: 'first', order: 'main' } }]
      },
      ...Object.fromEntries(
        list.map((id, n) => [
          id,
          {
            name: `Street ${n + 1}`,
            kind: 'level',
            pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 3 } },
            rules: [
              { id: `w_${id}`, when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'aglow' } }, result: 'won' },
              { id: `b_${id}`, when: { press: 'Give up' }, go: { place: 'title' }, result: 'lost' }
            ]
          }
        ])
      ),
      aglow: {
        name: 'The town aglow',
        kind: 'ending',
        outcome: 'won',
        rules: [{ id: 'home', when: { press: 'Title' }, go: { place: 'title' } }]
      }
    }
  };
}

/** All revisions of a flow, oldest first. */
export async function revisionsOf(url, flow) {
  const all = [];
  for (let before; ;) {
    const { revisions } = await askJson(url, `/api/flows/${flow}/revisions?limit=1000${before ? `&before=${before}` : ''}`);
    all.push(...revisions);
    if (revisions.length < 1000) return all.reverse();
    before = revisions.at(-1).number;
  }
}

/** Reads a stream of events until it ends; `hear` gets the name and the data of each. Gives a function that ends it. */
export function listen(url, path, hear, ended = () => {}) {
  const sent = request(new URL(path, url), { agent: false, headers: { accept: 'text/event-stream' } }, (response) => {
    let rest = '';
    response.setEncoding('utf8');
    response.on('data', (data) => {
      const parts = (rest + data).split('\n\n');
      rest = parts.pop();
      for (const part of parts) {
        const event = /^event: (.*)$/m.exec(part)?.[1];
        if (event) hear(event, /^data: (.*)$/m.exec(part)?.[1] ?? '');
      }
    });
    response.on('error', () => {});
    response.on('close', ended);
  });
  sent.on('error', () => ended());
  sent.end();
  return () => sent.destroy();
}

/** The value below which a share of the values lies. */
export function quantile(values, share) {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}

export const pause = (ms) => new Promise((done) => setTimeout(done, ms));

/** Throws, with what was found, unless something holds. */
export function demand(holds, words) {
  if (!holds) throw new Error(words);
}
