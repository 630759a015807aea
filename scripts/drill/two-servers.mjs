// Two servers on one database: edits at both are heard at both, and a check asked of one is known to the other.
import { addressOf } from '../lib/database.mjs';
import {
  ask,
  askJson,
  demand,
  listen,
  makeFlow,
  pause,
  revisionsOf,
  sendEdit,
  someDocument,
  someFolder,
  startProduct
} from './product.mjs';

export async function twoServers({ seconds = 5, writers = 8 } = {}) {
  const [one, two] = [someFolder(), someFolder()];
  const ends = [];
  try {
    const first = await startProduct(one.folder);
    const second = await startProduct(two.folder, { database: addressOf(one.folder) });
    const urls = [first.url, second.url];
    const flow = await makeFlow(first.url, someDocument(20));
    const heard = [[], []];
    urls.forEach((url, at) =>
      ends.push(
        listen(url, `/api/flows/${flow}/events?after=1`, (event, data) => {
          if (event === 'revision') heard[at].push(JSON.parse(data).revision.number);
        })
      )
    );
    const end = Date.now() + seconds * 1000;
    const numbers = [];
    await Promise.all(
      Array.from({ length: writers }, async (_, writer) => {
        for (let n = 0; Date.now() < end; n++) {
          const patch = [{ op: 'replace', path: `/places/l${writer}/name`, value: `Street ${n}` }];
          const { number, status } = await sendEdit(urls[writer % 2], flow, 1, `w${writer}-${n}`, patch);
          demand(number, `an edit was answered with ${status}`);
          numbers.push(number);
        }
      })
    );
    const most = Math.max(...numbers);
    for (const limit = Date.now() + 10_000; heard.some((list) => list.length < most - 1) && Date.now() < limit;) await pause(50);
    demand(new Set(numbers).size === most - 1, 'a revision was given twice or left out');
    for (const list of heard)
      demand(list.length === most - 1 && list.every((number, index) => number === index + 2), 'a listener missed revisions');
    demand((await revisionsOf(second.url, flow)).length === most - 1, 'the history has a gap');

    // a check that takes long, asked of one, seen and stopped at the other
    const large = await makeFlow(first.url, anyOrder());
    const begin = async (url, limit) =>
      JSON.parse(
        (
          await ask(url, `/api/flows/${large}/checks`, {
            method: 'POST',
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify({ limit })
          })
        ).text
      );
    const stateAt = async (url, { id }) => (await askJson(url, `/api/checks/${id}`)).state;
    const until = async (url, job, states, seconds) => {
      for (const limit = Date.now() + seconds * 1000; Date.now() < limit; await pause(100))
        if (states.includes(await stateAt(url, job))) break;
      return await stateAt(url, job);
    };
    const stop = async (url, { id }) => (await ask(url, `/api/checks/${id}`, { method: 'DELETE' })).status;
    const jobs = [await begin(first.url, 5_000_000)];
    demand(
      (await until(second.url, jobs[0], ['running'], 15)) === 'running',
      'a check asked of one server is not seen at the other'
    );
    // it keeps the first server busy: the second takes the next
    jobs.push(await begin(second.url, 4_000_000));
    demand((await until(first.url, jobs[1], ['running'], 15)) === 'running', 'the other server takes no check');

    // a check whose server goes is taken by the other, once that has time
    await second.kill();
    const began = performance.now();
    demand((await stop(first.url, jobs[0])) === 204, 'a check cannot be stopped');
    demand((await stateAt(first.url, jobs[0])) === 'cancelled', 'a check was stopped and goes on');
    await pause(1000);
    const before = (await askJson(first.url, `/api/checks/${jobs[1].id}`)).progress?.states ?? 0;
    let again = false;
    for (const limit = Date.now() + 30_000; !again && Date.now() < limit; await pause(100)) {
      const { state, progress } = await askJson(first.url, `/api/checks/${jobs[1].id}`);
      again = state === 'running' && (progress?.states ?? 0) > 0 && progress.states !== before;
    }
    demand(again, 'a check whose server went is not taken by the other');
    demand((await stop(first.url, jobs[1])) === 204, 'it cannot be stopped there');
    const taken = performance.now() - began;
    for (const end of ends.splice(0)) end();
    await first.stop();
    return {
      'edits at two servers': most - 1,
      'edits a second': Math.round((most - 1) / seconds),
      'missed by a listener': 0,
      'a check whose server went was taken by the other after (s)': Math.round(taken / 100) / 10
    };
  } finally {
    for (const end of ends) end();
    await two.drop();
    await one.drop();
  }
}

/** Thirty levels won in any order: too many states to look at. */
function anyOrder() {
  const levels = Array.from({ length: 30 }, (_, n) => `l${n}`);
  const level = (id) => ({
    name: id,
    kind: 'level',
    pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 1 } },
    rules: [{ id: `w_${id}`, when: { holds: 'left(lamp) = 0' }, go: { place: 'hub' }, result: 'won' }]
  });
  const hub = {
    name: 'Hub',
    kind: 'menu',
    rules: [
      { id: 'pick', when: { choose: 'all' }, go: { move: 'chosen' } },
      { id: 'over', when: { press: 'End' }, if: levels.map((id) => `won(${id})`).join(' and '), go: { place: 'end' } }
    ]
  };
  const places = Object.fromEntries(levels.map((id) => [id, level(id)]));
  return {
    format: 'crow-lane',
    version: 1,
    name: 'Any order',
    start: 'hub',
    orders: { all: { name: 'All', draw: 'fixed', levels } },
    places: { hub, ...places, end: { name: 'End', kind: 'ending', outcome: 'won' } }
  };
}
