// npm test: everything, from a fresh checkout. Parts: lint, types, unit, build, recovery, e2e (several may be named).
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { spawn } from 'node:child_process';
import { buildWhenStale } from './lib/build.mjs';
import { root } from './lib/paths.mjs';
import { end, following, freePort } from './lib/process.mjs';
import { Plain, run, say } from './lib/say.mjs';
import { needModules, needPackages } from './lib/system.mjs';

/** Parts to run; what follows a "--" goes to the runner of the browser tests. */
const [asked, named] = [process.argv.slice(2), []];
if (asked.includes('--')) named.push(...asked.splice(asked.indexOf('--')).slice(1));

const all = ['lint', 'types', 'unit', 'build', 'recovery', 'e2e'];

const steps = {
  lint: () => counted('npm', ['run', '--silent', 'lint']),
  types: () => counted('npm', ['run', '--silent', 'types']),
  unit: () => counted('npx', ['mocha']),
  async build() {
    await buildWhenStale();
    return { passed: 1, failed: 0 };
  },
  recovery: () => counted('npx', ['mocha', '--config', 'scripts/test/mocharc.json']),
  async e2e() {
    const folder = mkdtempSync(join(tmpdir(), 'crow-lane-e2e-'));
    const port = await freePort(4270);
    const env = {
      ...process.env,
      CROW_LANE_DATA: folder,
      PORT: String(port),
      LOG_LEVEL: 'warn'
    };
    delete env.DATABASE_URL;
    for (const name of ['HOST', 'CROW_LANE_DATABASE_PORT']) delete env[name];
    const server = spawn(...following(process.execPath, [join(root, 'scripts/start.mjs')]), {
      cwd: root,
      env,
      stdio: ['ignore', 'pipe', 'inherit']
    });
    let said = '';
    try {
      await new Promise((ready, failed) => {
        server.stdout.on('data', (data) => {
          said += data;
          if (said.includes('Crow Lane is at')) ready();
        });
        server.once('exit', () => failed(new Plain('The server for the tests did not start; see above.')));
      });
      const result = await counted('npx', ['playwright', 'test', '-c', 'web/test/playwright.config.ts', ...named], {
        env: { ...env, CROW_LANE_URL: `http://127.0.0.1:${port}` }
      });
      // a fault that a server survives is still one
      const faults = said.split('\n').filter((line) => /unhandled rejection|uncaught exception/.test(line));
      if (faults.length > 0) process.stdout.write(`The server met faults that nothing handled:\n${faults.join('\n')}\n`);
      return { ...result, failed: result.failed + faults.length };
    } finally {
      await end(server.pid);
      rmSync(folder, { recursive: true, force: true });
    }
  }
};

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
    });
  });
}

await run(async () => {
  const unknown = asked.filter((part) => !all.includes(part));
  if (unknown.length) throw new Plain(`There is no part ${unknown.join(', ')}; the parts are ${all.join(', ')}.`);
  const parts = asked.length ? all.filter((part) => asked.includes(part)) : all;
  const total = { passed: 0, failed: 0 };

  await needModules();
  if (parts.includes('recovery') || parts.includes('e2e')) await needPackages('database');
  if (parts.includes('recovery')) await needPackages('dump');
  if (parts.includes('e2e')) await needPackages('browser');
  for (const part of parts) {
    say(`Testing: ${part}`);
    const { passed, failed } = await steps[part]();
    total.passed += passed;
    total.failed += failed;
  }
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  if (total.failed > 0) process.exit(1);
});
