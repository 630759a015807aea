// npm run drill -- NAME: breaks the product on purpose, on loopback and for a bounded time, and prints what came of it.
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { accountsDrill } from './drill/accounts.mjs';
import { clusterDrill } from './drill/cluster.mjs';
import { hostile } from './drill/hostile.mjs';
import { kill } from './drill/kill.mjs';
import { load } from './drill/load.mjs';
import { streams } from './drill/streams.mjs';
import { twoServers } from './drill/two-servers.mjs';
import { buildWhenStale } from './lib/build.mjs';
import { needNode, Plain, run, say } from './lib/say.mjs';
import { needModules, needPackages } from './lib/system.mjs';

const drills = { kill, streams, load, hostile, 'two-servers': twoServers, cluster: clusterDrill, accounts: accountsDrill };
const usage = `npm run drill -- ${Object.keys(drills).join('|')} [options]
  --other DIR       the same with another checkout, which has been started once; figures side by side
  --rounds N        both alternately, N times (1); the middle of the figures is printed
  --set NAME=N      another number of what the drill does: times, writers, readers, edits, deaf, seconds, flows, rate, checks, megabytes, places`;

await run(async () => {
  let options;
  try {
    options = parseArgs({
      allowPositionals: true,
      options: {
        other: { type: 'string' },
        rounds: { type: 'string', default: '1' },
        set: { type: 'string', multiple: true, default: [] },
        help: { type: 'boolean' }
      }
    });
  } catch (error) {
    throw new Plain(`${error.message}\n${usage}`);
  }
  const { values, positionals } = options;
  if (values.help) return console.log(usage);
  const drill = drills[positionals[0]];
  if (!drill || positionals.length > 1) throw new Plain(usage);
  const settings = Object.fromEntries(
    values.set.map((text) => {
      const [, name, number] = /^(\w+)=(\d+(?:\.\d+)?)$/.exec(text) ?? [];
      if (name === undefined) throw new Plain(usage);
      return [name, Number(number)];
    })
  );
  needNode();
  await needModules();
  await needPackages('database');
  if (drill === clusterDrill) await needPackages('cluster');
  await buildWhenStale();
  const sides = [{ name: 'here', checkout: undefined }];
  if (values.other) sides.push({ name: 'other', checkout: resolve(values.other) });
  const found = sides.map(() => []);
  for (let round = 0; round < Number(values.rounds); round++)
    for (const [at, { name, checkout }] of sides.entries()) {
      say(`${positionals[0]}, ${name}, ${round + 1} of ${values.rounds}`);
      // another checkout may break what is demanded here: its figures are wanted all the same
      found[at].push(await drill({ ...settings, ...(checkout ? { checkout, strict: false } : {}) }));
    }
  for (const figure of Object.keys(found[0][0])) {
    const cells = found.map((rounds) => middle(rounds.map((each) => each[figure])));
    console.log(`${figure.padEnd(58)} ${cells.map((cell) => String(cell ?? '–').padStart(14)).join(' ')}`);
  }
});

function middle(values) {
  if (values.some((value) => typeof value !== 'number')) return values.at(-1);
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
}
