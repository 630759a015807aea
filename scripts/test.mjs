// npm test: everything, from a fresh checkout. Parts: lint, types, unit, build, recovery, e2e (several may be named).
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { spawn } from 'node:child_process';
import { root } from './lib/paths.mjs';
import { end, following, freePort } from './lib/process.mjs';
import { Plain, run, say } from './lib/say.mjs';
import { needModules, needPackages } from './lib/system.mjs';

const all = ['lint', 'types', 'unit', 'build', 'recovery', 'e2e'];

const steps = {
  lint: () => counted('npm', ['run', '--silent', 'lint']),
  types: () => counted('npm', ['run', '--silent', 'types']),
  unit: () => counted('npx', ['mocha']),
  build: () => counted('npm', ['run', '--silent', 'build'], { quiet: true }),
  recovery: () => counted('npx', ['mocha', '--config', 'scripts/test/mocharc.json']),
  async e2e() {
    const folder = mkdtempSync(join(tmpdir(), 'crow-lane-e2e-'));
    const port = await freePort(4270);
    const env = {
      ...process.env,
      CROW_LANE_DATA: folder,
      PORT: String(port),
      CROW_LANE_DATABASE_PORT: '43270',
      LOG_LEVEL: 'warn'
    };
    delete env.DATABASE_URL;
    delete env.HOST;
    const server = spawn(...following(process.execPath, [join(root, 'scripts/start.mjs')]), {
      cwd: root,
      env,
      stdio: ['ignore', 'pipe', 'inherit']
    });
    try {
      await new Promise((ready, failed) => {
        server.stdout.on('data', (data) => String(data).includes('Crow Lane is at') && ready());
        server.once('exit', () => failed(new Plain('The server for the tests did not start; see above.')));
      });
      return await counted('npx', ['playwright', 'test', '-c', 'web/test/playwright.config.ts'], {
        env: { ...env, CROW_LANE_URL: `http://127.0.0.1:${port}` }
      });
    } finally {
      await end(server.pid);
      rmSync(folder, { recursive: true, force: true });
    }
  }
};

/** Runs a command and counts its closing line "N passed, N failed"; without one the command itself is the one test. */
function counted(file, args, { env = process.env, quiet = false } = {}) {
  return new Promise((done, failed) => {
    const child = spawn(file, args, { cwd: root, env, stdio: ['ignore', 'pipe', quiet ? 'pipe' : 'inherit'] });
    let text = '';
    child.stdout.on('data', (data) => {
      text += data;
      if (!quiet) process.stdout.write(data);
    });
    child.stderr?.on('data', (data) => (text += data));
    child.once('error', failed);
    child.once('close', (code) => {
      if (quiet && code !== 0) process.stdout.write(text);
      const lines = [...text.matchAll(/^(\d+) passed, (\d+) failed$/gm)];
      const [, passed, broken] = lines.at(-1) ?? [];
      // a runner that breaks without counting a failure has failed all the same
      if (passed === undefined) done({ passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 });
      else done({ passed: Number(passed), failed: Math.max(Number(broken), code === 0 ? 0 : 1) });
    });
  });
}

await run(async () => {
  const named = process.argv.slice(2);
  const unknown = named.filter((part) => !all.includes(part));
  if (unknown.length) throw new Plain(`There is no part ${unknown.join(', ')}; the parts are ${all.join(', ')}.`);
  const parts = named.length ? all.filter((part) => named.includes(part)) : all;
  const total = { passed: 0, failed: 0 };

  await needModules();
  if (parts.includes('recovery') || parts.includes('e2e')) needPackages('database');
  if (parts.includes('e2e')) needPackages('browser');
  for (const part of parts) {
    say(`Testing: ${part}`);
    const { passed, failed } = await steps[part]();
    total.passed += passed;
    total.failed += failed;
  }
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  if (total.failed > 0) process.exit(1);
});
