// Everything is killed at random moments while somebody edits, and started again: what was acknowledged is there, once.
import {
  ask,
  demand,
  makeFlow,
  pause,
  revisionsOf,
  sendEdit,
  signal,
  someDocument,
  someFolder,
  startProduct
} from './product.mjs';

/** `times` kills of the whole product, and as many of its database alone. */
export async function kill({ times = 10, writers = 4, checkout } = {}) {
  const { folder, drop } = someFolder();
  const acknowledged = new Map();
  let flow;
  let sent = 0;
  let slowest = 0;
  try {
    for (let n = 0; n < times; n++) {
      const product = await startProduct(folder, { checkout, strict: false });
      flow ??= await makeFlow(product.url, someDocument(20));
      await agrees(product.url, flow, acknowledged);
      let going = true;
      const write = async (writer) => {
        for (let k = 0; going; k++) {
          const editId = `${n}-${writer}-${k}`;
          sent++;
          try {
            const { number } = await sendEdit(product.url, flow, 1, editId, rename(writer, editId));
            if (number) acknowledged.set(editId, number);
          } catch {
            return;
          }
        }
      };
      const writing = Promise.all(Array.from({ length: writers }, (_, writer) => write(writer)));
      // every other time it has come to answering, however slow the machine is
      const enough = n % 2 === 0 ? acknowledged.size + 3 : 0;
      for (const until = Date.now() + 30_000; acknowledged.size < enough && Date.now() < until;) await pause(20);
      await pause(150 + Math.random() * 700);
      await product.kill();
      going = false;
      await writing;
    }
    const product = await startProduct(folder, { checkout });
    await agrees(product.url, flow, acknowledged);
    for (let n = 0; n < times; n++) {
      const before = acknowledged.size;
      const began = performance.now();
      signal(product.mariadb(), 'SIGKILL');
      // the same edit is sent until it is kept, as pages do
      const editId = `database-${n}`;
      for (let kept = false; !kept && performance.now() - began < 30_000;) {
        const { number, status } = await sendEdit(product.url, flow, 1, editId, rename(0, editId));
        demand(number || status === 503, `while the database was away an edit was answered with ${status}`);
        if (number) acknowledged.set(editId, number);
        kept = number !== undefined;
        if (!kept) await pause(50);
      }
      demand(acknowledged.size === before + 1, 'the database did not come back within 30 s');
      slowest = Math.max(slowest, performance.now() - began);
      demand((await ask(product.url, '/api/health')).status === 200, 'the server is not well although it keeps edits');
    }
    await agrees(product.url, flow, acknowledged);
    await product.stop();
  } finally {
    await drop();
  }
  return {
    'kills of everything': times,
    'kills of the database': times,
    'edits sent': sent,
    'edits acknowledged': acknowledged.size,
    'lost or doubled': 0,
    'database back and an edit kept, slowest (ms)': Math.round(slowest)
  };
}

const rename = (writer, name) => [{ op: 'replace', path: `/places/l${writer}/name`, value: name }];

async function agrees(url, flow, acknowledged) {
  const revisions = await revisionsOf(url, flow);
  revisions.forEach(({ number }, index) => demand(number === index + 2, `revision ${index + 2} is missing`));
  const numbers = new Map(revisions.map(({ editId, number }) => [editId, number]));
  demand(numbers.size === revisions.length, 'an edit was kept twice');
  for (const [editId, number] of acknowledged)
    demand(numbers.get(editId) === number, `edit ${editId} was acknowledged as ${number} and is ${numbers.get(editId)}`);
}
