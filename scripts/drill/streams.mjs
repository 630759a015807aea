// Many listen, some never read, some come and go: everybody who reads gets every event, in order, and memory stays small.
import { request } from 'node:http';
import {
  demand,
  listen,
  makeFlow,
  memoryOf,
  pause,
  quantile,
  sendEdit,
  someDocument,
  someFolder,
  startProduct
} from './product.mjs';

export async function streams({ readers = 500, edits = 74, deaf = 20, guests = 20, large = 40, checkout } = {}) {
  const { folder, drop } = someFolder();
  const ends = [];
  try {
    const product = await startProduct(folder, { checkout });
    const { url } = product;
    const flow = await makeFlow(url, someDocument(60));
    const path = `/api/flows/${flow}/events?after=1`;
    let heard = 0;
    const late = [];
    const sentAt = new Map();
    const gaps = [];
    for (let n = 0; n < readers; n++) {
      let last = 1;
      ends.push(
        listen(url, path, (event, data) => {
          if (event !== 'revision') return;
          // the whole event names its flow, an older server's is the revision itself
          const told = JSON.parse(data);
          const { number, editId } = told.revision ?? told;
          if (number !== last + 1) gaps.push([last, number]);
          last = number;
          heard++;
          late.push(performance.now() - sentAt.get(editId));
        })
      );
    }
    await pause(1500);
    let coming = true;
    let visits = 0;
    const visit = async () => {
      while (coming) {
        const end = listen(url, path, () => {});
        visits++;
        await pause(Math.random() * 40);
        end();
      }
    };
    const visiting = Promise.all(Array.from({ length: guests }, visit));
    const began = performance.now();
    for (let n = 0; n < edits; n++) {
      const editId = `edit-${n}`;
      sentAt.set(editId, performance.now());
      const { number } = await sendEdit(url, flow, 1, editId, [{ op: 'replace', path: '/places/l0/name', value: `Street ${n}` }]);
      demand(number, 'an edit was refused');
    }
    for (const until = Date.now() + 20_000; heard < readers * edits && Date.now() < until;) await pause(50);
    const seconds = (performance.now() - began) / 1000;
    coming = false;
    await visiting;
    for (const end of ends.splice(0)) end();
    await pause(500);

    // those who never read are told of large edits
    const before = memoryOf(product.server());
    for (let n = 0; n < deaf; n++) {
      const sent = request(new URL(path, url), { agent: false }, (response) => response.pause());
      sent.on('error', () => {});
      sent.end();
      ends.push(() => sent.destroy());
    }
    await pause(500);
    for (let n = 0; n < large; n++)
      await sendEdit(url, flow, 1 + edits + n, `large-${n}`, [
        { op: 'add', path: '/places/l1/brief', value: 'x'.repeat(3500) },
        ...briefs(n)
      ]);
    const most = memoryOf(product.server());
    for (const end of ends.splice(0)) end();
    await product.stop();
    demand(gaps.length === 0, `revisions came out of order: ${gaps[0]}`);
    demand(heard === readers * edits, `${heard} of ${readers * edits} events came`);
    return {
      'events heard': heard,
      'events that should be': readers * edits,
      'visits meanwhile': visits,
      'events a second': Math.round(heard / seconds),
      'from sending to hearing, p50 (ms)': Math.round(quantile(late, 0.5)),
      'from sending to hearing, p99 (ms)': Math.round(quantile(late, 0.99)),
      [`memory for ${deaf} who never read (MB)`]: most - before
    };
  } finally {
    for (const end of ends) end();
    await drop();
  }
}

/** An edit of 50 places, with 200 kB of text. */
const briefs = (n) =>
  Array.from({ length: 50 }, (_, k) => ({
    op: n === 0 ? 'add' : 'replace',
    path: `/places/l${k + 2}/brief`,
    value: `${n} `.repeat(1900).slice(0, 3900)
  }));
