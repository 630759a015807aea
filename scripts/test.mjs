// npm test: from a fresh checkout, in two halves: what computes (the unit tests in a process for each core; beside them the
// build, lint and types); then what waits for answers (the browser tests, some at a time; beside them recovery), which would
// wait in vain beside the first. That takes eight minutes, as not all is tested every day: fewer random documents, and some
// of what takes long. With --all it is all; parts that are named are tested whole: lint, types, unit, build, recovery, e2e.
import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { firstSecret, someFolder, startProduct } from './drill/product.mjs';
import { buildWhenStale } from './lib/build.mjs';
import { root } from './lib/paths.mjs';
import { freePort } from './lib/process.mjs';
import { Plain, run, say } from './lib/say.mjs';
import { needModules, needPackages } from './lib/system.mjs';

/** Parts to run; what follows a "--" goes to the runner of the browser tests. */
const [asked, named] = [process.argv.slice(2), []];
if (asked.includes('--')) named.push(...asked.splice(asked.indexOf('--')).slice(1));
const everyday = asked.length + named.length === 0;
if (asked.includes('--all')) asked.length = 0;
// heard by the tests themselves
if (everyday) process.env.CROW_LANE_EVERYDAY = '1';

/** So many processes of unit tests work side by side, and browsers, each at a product of its own, which takes more than a core. */
const processes = Number(process.env.CROW_LANE_PROCESSES) || Math.min(8, Math.max(2, availableParallelism()));
const browsers = Math.max(2, Math.ceil(processes / 2));
const halves = [
  [['unit'], ['build', 'lint', 'types']],
  [['e2e'], ['recovery']]
];
const all = halves.flat(2);
/** What is built: the application, and what leaves it. */
const everything = ['player', 'runtime', 'cli', 'example', 'web'];
/** By file the titles of the browser tests of every day. */
const everydayFile = 'web/test/everyday.json';
const everydayTitles = () => JSON.parse(readFileSync(join(root, everydayFile), 'utf8'));
/** By file or part: the seconds of processor time that it is meant to take. */
const budgets = JSON.parse(readFileSync(join(root, 'scripts/test/budgets.json'), 'utf8'));

const steps = {
  lint: () => counted('npm', ['run', '--silent', 'lint']),
  types: () => counted('npm', ['run', '--silent', 'types']),
  async unit() {
    const [shares, sum] = [unitShares(), { passed: 0, failed: 0 }];
    // whichever is done takes the next
    const worker = async () => {
      for (let files; (files = shares.shift());) {
        const { passed, failed } = await counted('npx', ['mocha', ...files]);
        sum.passed += passed;
        sum.failed += failed;
      }
    };
    await Promise.all(Array.from({ length: processes }, worker));
    return sum;
  },
  async build() {
    await buildWhenStale(everything);
    return { passed: 1, failed: 0 };
  },
  recovery: () => counted('npx', ['mocha', '--config', 'scripts/test/mocharc.json']),
  async e2e() {
    // once for all products, which would build at the same time
    await buildWhenStale(everything);
    const folders = Array.from({ length: browsers + 1 }, someFolder);
    let standIn;
    try {
      // the last one has accounts, and a place to sign in elsewhere
      const started = await Promise.all(folders.slice(0, -1).map(({ folder }) => startProduct(folder)));
      const elsewhere = await withAccounts(folders.at(-1).folder);
      standIn = elsewhere.standIn;
      const products = [...started, elsewhere.product];
      const env = {
        ...process.env,
        CROW_LANE_URL: started.map(({ url }) => url).join(' '),
        CROW_LANE_HOUSE: `${elsewhere.product.url} ${firstSecret(elsewhere.product)}`
      };
      const result = await counted('npx', ['playwright', 'test', '-c', 'web/test/playwright.config.ts', ...named], { env });
      // a test that is called otherwise now would go missing
      const missing = everyday ? Object.values(everydayTitles()).flat().length - result.passed - result.failed : 0;
      if (missing > 0) {
        process.stdout.write(`${missing} of the tests in ${everydayFile} were not run: is there one by that name?\n`);
        result.failed += missing;
      }
      // a fault that a server survives is still one
      const said = products.flatMap((product) => product.said().split('\n'));
      const faults = said.filter((line) => /unhandled rejection|uncaught exception/.test(line));
      if (faults.length > 0) process.stdout.write(`The server met faults that nothing handled:\n${faults.join('\n')}\n`);
      return { ...result, failed: result.failed + faults.length };
    } finally {
      await Promise.all(folders.map(({ drop }) => drop()));
      await standIn?.stop();
    }
  }
};

/** A product with accounts, and a stand-in for where people sign in elsewhere. */
async function withAccounts(folder) {
  // only after the packages are there
  const { startStandIn } = await import('./test/oidc.mjs');
  const [port, own] = [await freePort(0), await freePort(0)];
  const client = { id: 'crow-lane', secret: 'stand-in', back: `http://127.0.0.1:${own}/sign-in/elsewhere/back` };
  const standIn = await startStandIn(port, client);
  const environment = {
    ...{ PORT: String(own), CROW_LANE_OIDC_ISSUER: standIn.issuer, CROW_LANE_OIDC_NAME: 'the studio' },
    ...{ CROW_LANE_OIDC_ID: client.id, CROW_LANE_OIDC_SECRET: client.secret, CROW_LANE_OIDC_ROLE: 'designer' }
  };
  return { standIn, product: await startProduct(folder, { options: ['--accounts'], environment }) };
}

/** The files of the unit tests in shares of two minutes at least, the longest first: how long they take differs from run to run. */
function unitShares() {
  const files = ['core/test', 'runtime/test', 'cli/test', 'web/test/unit'].flatMap((folder) =>
    readdirSync(join(root, folder))
      .filter((name) => name.endsWith('.test.ts'))
      .map((name) => `${folder}/${name}`)
  );
  const shares = [];
  let taken = Infinity;
  for (const file of files.sort((a, b) => secondsOf(b) - secondsOf(a))) {
    if (taken >= 120) {
      shares.push([]);
      taken = 0;
    }
    shares.at(-1).push(file);
    taken += secondsOf(file);
  }
  return shares;
}
const secondsOf = (file) => budgets[file] ?? 1;

/** Runs a command and counts its closing line "N passed, N failed"; without one the command itself is the one test. */
function counted(file, args, { env = process.env } = {}) {
  return new Promise((done, failed) => {
    const child = spawn(file, args, { cwd: root, env, stdio: ['ignore', 'pipe', 'inherit'] });
    let text = '';
    child.stdout.on('data', (data) => {
      text += data;
      process.stdout.write(data);
    });
    child.once('error', failed);
    child.once('close', (code) => {
      const lines = [...text.matchAll(/^(\d+) passed, (\d+) failed$/gm)];
      const [, passed, broken] = lines.at(-1) ?? [];
      // a runner that breaks without counting a failure has failed all the same
      if (passed === undefined) done({ passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 });
      else done({ passed: Number(passed), failed: Math.max(Number(broken), code === 0 ? 0 : 1) });
      for (const [, took, name] of text.matchAll(/^took (\S+) s: (\S+)$/gm)) spent.set(name, Number(took));
    });
  });
}

/** By file of the unit tests: its processor time; by other part how long it took. */
const spent = new Map();

/** What was spent beside what is meant to be, so that growth is seen; noise of a busy machine is no failure. */
function tell() {
  const rows = [...spent].filter(([, took]) => took >= 5).sort(([, a], [, b]) => b - a);
  for (const [name, took] of rows) {
    const budget = budgets[name];
    const over = budget !== undefined && took > budget * 1.5 ? '  over its budget' : '';
    console.log(`${took.toFixed(1).padStart(7)} s of ${String(budget ?? '–').padStart(4)}  ${name}${over}`);
  }
}

await run(async () => {
  const unknown = asked.filter((part) => !all.includes(part));
  if (unknown.length) throw new Plain(`There is no part ${unknown.join(', ')}; the parts are ${all.join(', ')}.`);
  const parts = asked.length ? all.filter((part) => asked.includes(part)) : all;
  const total = { passed: 0, failed: 0 };

  await needModules();
  if (parts.includes('unit')) await needPackages('python');
  if (parts.includes('recovery') || parts.includes('e2e')) await needPackages('database');
  if (parts.includes('recovery')) await needPackages('dump');
  if (parts.includes('e2e')) await needPackages('browser');
  const began = Date.now();
  for (const lanes of halves)
    await Promise.all(
      lanes.map(async (lane) => {
        for (const part of lane.filter((each) => parts.includes(each))) {
          say(`Testing: ${part}`);
          const start = Date.now();
          const { passed, failed } = await steps[part]();
          if (part !== 'unit') spent.set(part, (Date.now() - start) / 1000);
          say(`${part}: ${passed} passed, ${failed} failed`);
          total.passed += passed;
          total.failed += failed;
        }
      })
    );
  console.log('');
  tell();
  console.log(`\nAll of it took ${Math.round((Date.now() - began) / 1000)} s.`);
  console.log(`${total.passed} passed, ${total.failed} failed`);
  if (total.failed > 0) process.exit(1);
});
