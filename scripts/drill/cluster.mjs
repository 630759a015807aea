// Two servers on a Galera cluster of three nodes: edits go on while each node in turn is killed and comes back.
import { startCluster } from '../lib/galera.mjs';
import {
  demand,
  listen,
  makeFlow,
  pause,
  quantile,
  revisionsOf,
  sendEdit,
  someDocument,
  someFolder,
  startProduct
} from './product.mjs';

/** Three nodes, and two servers that know all of them, below a folder. */
export async function startHouse(folder) {
  const cluster = await startCluster(`${folder}/cluster`);
  const servers = [];
  try {
    for (const name of ['one', 'two']) servers.push(await startProduct(`${folder}/${name}`, { database: cluster.address }));
  } catch (error) {
    await cluster.stop();
    throw error;
  }
  return {
    cluster,
    servers,
    async stop() {
      await Promise.all(servers.map((server) => server.stop()));
      await cluster.stop();
    }
  };
}

/** Tables whose rows have to be the same on all nodes. */
const tables = ['flows', 'revisions', 'snapshots', 'verdicts'];

export async function clusterDrill({ writers = 8, seconds = 4, listeners = 200, rate = 20 } = {}) {
  const place = someFolder();
  let house;
  const ends = [];
  try {
    house = await startHouse(place.folder);
    const { cluster, servers } = house;
    const [one, two] = servers.map(({ url }) => url);
    const flow = await makeFlow(one, someDocument(20));

    // changes at one server are heard at the other
    const heardFlow = await makeFlow(one, someDocument(20));
    const sent = new Map();
    const late = [];
    for (let n = 0; n < listeners; n++)
      ends.push(
        listen(two, `/api/flows/${heardFlow}/events?after=1`, (event, data) => {
          if (event === 'revision') late.push(performance.now() - sent.get(JSON.parse(data).revision.editId));
        })
      );
    await pause(1500);
    const edits = seconds * rate;
    for (let n = 0; n < edits; n++) {
      sent.set(`h${n}`, performance.now());
      const { status } = await sendEdit(one, heardFlow, n + 1, `h${n}`, [
        { op: 'replace', path: '/places/l0/name', value: `Street ${n}` }
      ]);
      demand(status === 200, `an edit was answered with ${status}`);
      await pause(1000 / rate);
    }
    for (const limit = Date.now() + 20_000; late.length < edits * listeners && Date.now() < limit;) await pause(50);
    demand(late.length === edits * listeners, `${edits * listeners - late.length} events were not heard`);
    for (const end of ends.splice(0)) end();

    // eight writers at both servers, while each node in turn goes and comes back
    const acknowledged = [];
    const waits = [];
    let writing = true;
    let refused = 0;
    const done = Promise.all(
      Array.from({ length: writers }, async (_, writer) => {
        for (let n = 0; writing; n++) {
          const id = `w${writer}-${n}`;
          const patch = [{ op: 'replace', path: `/places/l${writer}/name`, value: `Street ${n}` }];
          const began = performance.now();
          // as a page does it: what is not acknowledged is sent again, and kept once
          for (let tries = 0; ; tries++) {
            const answer = await sendEdit(servers[(writer + tries) % 2].url, flow, 1, id, patch).catch(() => undefined);
            if (answer?.number) {
              acknowledged.push([id, answer.number]);
              break;
            }
            demand(
              !answer || [500, 502, 503].includes(answer.status),
              `an edit was answered with ${answer?.status}: ${answer?.text}`
            );
            refused++;
            await pause(100);
          }
          waits.push(performance.now() - began);
        }
      })
    );
    await pause(seconds * 1000);
    for (const node of cluster.nodes) {
      await node.kill();
      await pause(seconds * 1000);
      await node.begin(cluster.nodes);
      await pause(1000);
    }
    writing = false;
    await done;

    const kept = new Map((await revisionsOf(one, flow)).map(({ editId, number }) => [editId, number]));
    const lost = acknowledged.filter(([id, number]) => kept.get(id) !== number);
    demand(lost.length === 0, `${lost.length} edits that were acknowledged are lost: ${lost.slice(0, 3).join(' ')}`);
    demand(kept.size === acknowledged.length, `${kept.size} edits are kept, ${acknowledged.length} were acknowledged`);
    demand(Math.max(...waits) < 10_000, `an edit waited for ${Math.round(Math.max(...waits))} ms`);
    // what one has acknowledged the others have a moment later
    let states = [];
    for (const limit = Date.now() + 10_000; new Set(states).size !== 1 && Date.now() < limit; await pause(100)) {
      states = [];
      for (const node of cluster.nodes) states.push(JSON.stringify(await node.ask(`checksum table ${tables.join(', ')}`)));
    }
    demand(new Set(states).size === 1, `the nodes differ: ${states.join(' ')}`);
    await house.stop();
    house = undefined;
    return {
      'edits acknowledged while three nodes were killed': acknowledged.length,
      'of these lost': lost.length,
      'answers that had to be asked for again': refused,
      'an edit waited, most of the time (ms)': Math.round(quantile(waits, 0.5)),
      'an edit waited at the most (ms)': Math.round(Math.max(...waits)),
      'a change was heard at the other server, 99 of 100 (ms)': Math.round(quantile(late, 0.99)),
      'streams that heard it': listeners
    };
  } finally {
    for (const end of ends) end();
    await house?.stop().catch(() => {});
    await place.drop();
  }
}
