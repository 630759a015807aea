// node scripts/cluster.mjs: three nodes of a Galera cluster and two servers on loopback, to try by hand, until Ctrl-C.
import { startHouse } from './drill/cluster.mjs';
import { someFolder } from './drill/product.mjs';
import { buildWhenStale } from './lib/build.mjs';
import { needNode, run, say } from './lib/say.mjs';
import { needModules, needPackages } from './lib/system.mjs';

await run(async () => {
  needNode();
  await needModules();
  for (const need of ['database', 'cluster']) await needPackages(need);
  await buildWhenStale();
  const place = someFolder();
  try {
    const house = await startHouse(place.folder);
    for (const { name, port } of house.cluster.nodes) console.log(`${name} is at 127.0.0.1:${port}`);
    for (const { url } of house.servers) console.log(`Crow Lane is at ${url}`);
    say('Ready. Ctrl-C stops all of it; nothing of it is kept.');
    await new Promise((done) => {
      for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.once(signal, done);
    });
    say('Stopping');
    await house.stop();
  } finally {
    await place.drop();
  }
});
