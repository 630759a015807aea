// Writers edit as fast as they are answered while somebody looks at the shelf and checks are asked for.
import {
  ask,
  demand,
  makeFlow,
  memoryOf,
  pause,
  quantile,
  sendEdit,
  someDocument,
  someFolder,
  startProduct
} from './product.mjs';

/**
 * `seconds` of editing by `writers`, each in a place of its own, on `flows` flows together; with `rate` no more than so many
 * edits a second by all.
 */
export async function load({ seconds = 10, writers = 8, flows = 1, checks = 1, rate = 0, checkout } = {}) {
  const { folder, drop } = someFolder();
  try {
    const product = await startProduct(folder, { checkout });
    const { url } = product;
    const ids = [];
    for (let n = 0; n < flows; n++) ids.push(await makeFlow(url, someDocument(60, `Drill ${n}`)));
    // what is measured is a server that has been running for a while
    for (let n = 0; n < 20; n++) await ask(url, '/');
    const until = Date.now() + seconds * 1000;
    let kept = 0;
    const times = { edit: [], shelf: [] };
    const write = async (writer) => {
      const flow = ids[writer % flows];
      let base = 1;
      for (let n = 0; Date.now() < until; n++) {
        const { number, ms, status } = await sendEdit(url, flow, base, `w${writer}-${n}`, [
          { op: 'replace', path: `/places/l${writer}/name`, value: `Street ${n} of ${writer}` }
        ]);
        demand(number, `an edit was answered with ${status}`);
        base = number;
        kept++;
        times.edit.push(ms);
        if (rate > 0) await pause(Math.max(0, (1000 * writers) / rate - ms));
      }
    };
    const look = async () => {
      while (Date.now() < until) {
        times.shelf.push((await ask(url, '/')).ms);
        await pause(40);
      }
    };
    const check = async () => {
      while (checks && Date.now() < until) {
        await ask(url, `/api/flows/${ids[0]}/checks`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: '{}'
        });
        await pause(2000);
      }
    };
    // memory is held against what it is once all code is warm
    const memory = [];
    const watch = async () => {
      for (; Date.now() < until; await pause(Math.max(500, seconds * 20))) memory.push(memoryOf(product.server()));
    };
    await Promise.all([...Array.from({ length: writers }, (_, writer) => write(writer)), look(), check(), watch()]);
    await product.stop();
    const third = Math.ceil(memory.length / 3);
    const mean = (list) => Math.round(list.reduce((sum, each) => sum + each, 0) / list.length);
    return {
      'edits a second': Math.round(kept / seconds),
      'edit, p50 (ms)': Math.round(quantile(times.edit, 0.5)),
      'edit, p99 (ms)': Math.round(quantile(times.edit, 0.99)),
      'shelf, p50 (ms)': Math.round(quantile(times.shelf, 0.5)),
      'shelf, p99 (ms)': Math.round(quantile(times.shelf, 0.99)),
      'memory, second third (MB)': mean(memory.slice(third, 2 * third)),
      'memory, last third (MB)': mean(memory.slice(2 * third))
    };
  } finally {
    await drop();
  }
}
