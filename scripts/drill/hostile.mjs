// One request after another that should not be: each is answered in order, and nobody else waits for it.
import { ask, demand, makeFlow, pause, quantile, sendEdit, someDocument, someFolder, startProduct } from './product.mjs';

const fileHeaders = { method: 'POST', headers: { 'content-type': 'application/json' } };

/** What is sent, with the statuses that are right. `megabytes`: how large the large ones are; `places` of a large flow. */
function attacks(url, flow, big, { megabytes, places }) {
  const file = (text) => () => ask(url, '/api/flows', { ...fileHeaders, body: text });
  let last = 0;
  const edit =
    (patch, id = flow) =>
    () =>
      sendEdit(url, id, 1, `hostile-${last++}`, patch);
  const size = megabytes * 1e6 - 2000;
  const head = '{"format":"crow-lane","version":1,"name":"X","start":"a",';
  const many = (unit) => unit.repeat(Math.floor(size / unit.length)).slice(0, -1);
  const keyed = (value) => {
    let text = '"p":0';
    for (let n = 0; text.length < size; n++) text += `,"p${n}":${value}`;
    return text;
  };
  const value = (text) => [{ op: 'add', path: '/brief', value: text }];
  return [
    ['wrong places', [422], file(`${head}"places":{${keyed('{"kind":"menu"}')}}}`)],
    ['wrong rules', [422], file(`${head}"places":{},"rules":[${many('{"id":1},')}]}`)],
    [
      'one place with wrong rules',
      [422],
      file(`${head}"places":{"a":{"name":"A","kind":"menu","rules":[${many('{"id":1},')}]}}}`)
    ],
    ['unknown keys', [422], file(`${head}"places":{},${keyed('0')}}`)],
    ['doubled keys', [422], file(`${head}"places":{},${many('"a":1,')}}`)],
    ['a list of lists', [422], file(`[${many('[],')}]`)],
    ['brackets', [422], file('['.repeat(size))],
    ['no JSON', [422], file('x'.repeat(size))],
    ['too long', [413], file(' '.repeat(16_000_000))],
    ['a patch of 20,000 operations', [200, 422], edit(many20000())],
    ['a patch of many operations', [400], edit(`[${many('{"op":"remove","path":"/a"},')}]`)],
    ['a patch nested 5,000 deep', [422], edit(`[{"op":"add","path":"/brief","value":${'['.repeat(5000)}${']'.repeat(5000)}}]`)],
    ['half a character', [422], edit('[{"op":"replace","path":"/name","value":"\\ud83d"}]')],
    ['half a character in a key', [422], edit('[{"op":"add","path":"/places/l0/look","value":{"\\ud83d":1}}]')],
    ['__proto__ in a path', [422], edit([{ op: 'add', path: '/__proto__/x', value: 1 }])],
    ['__proto__ in a value', [422], edit('[{"op":"add","path":"/places/l0/look","value":{"__proto__":1}}]')],
    ['constructor/prototype', [422], edit([{ op: 'add', path: '/constructor/prototype/x', value: 1 }])],
    ['a long text', [422], edit(value('x'.repeat(size)))],
    [`the report of ${places} places`, [200], () => ask(url, `/api/flows/${big}/report?format=html`)],
    [`the report of ${places} places as SARIF`, [200], () => ask(url, `/api/flows/${big}/report?format=sarif`)],
    [`an edit of ${places} places`, [200], edit([{ op: 'replace', path: '/places/l0/name', value: 'Other' }], big)],
    [`${places} places as a file`, [200], () => ask(url, `/api/flows/${big}/file`)],
    [`a copy of ${places} places`, [201], () => ask(url, `/api/flows/${big}/copy`, { method: 'POST' })]
  ];
}

function many20000() {
  return Array.from({ length: 20_000 }, (_, n) => ({ op: 'replace', path: '/places/l0/name', value: `Name ${n}` }));
}

export async function hostile({ megabytes = 7.9, places = 9900, idle = 3, strict = true, checkout } = {}) {
  const { folder, drop } = someFolder();
  const figures = {};
  try {
    const product = await startProduct(folder, { checkout, strict });
    const { url } = product;
    const flow = await makeFlow(url, someDocument(20));
    const big = await makeFlow(url, someDocument(places - 2));
    // checked once: what is measured is the telling
    await ask(url, `/api/flows/${big}/report?format=json`);
    const before = await healthWhile(url, pause(idle * 1000));
    figures['health when idle, p99 (ms)'] = round(quantile(before, 0.99));
    const all = [];
    for (const [what, right, attack] of attacks(url, flow, big, { megabytes, places })) {
      let answer;
      const waits = await healthWhile(
        url,
        attack().then(
          (given) => (answer = given),
          (error) => (answer = { status: error.code, text: '' })
        )
      );
      all.push(...waits);
      figures[`${what}: ${answer.status}, health p99, most (ms)`] =
        `${round(quantile(waits, 0.99))}, ${round(Math.max(...waits))}`;
      if (!strict) continue;
      // who is refused before everything was sent may see the connection closed
      demand(
        right.includes(answer.status) || (right.includes(413) && ['EPIPE', 'ECONNRESET'].includes(answer.status)),
        `${what} was answered with ${answer.status} ${answer.text.slice(0, 200)}`
      );
      demand(answer.status < 400 || answer.text.length < 200_000, `${what} was answered at length`);
    }
    figures['health while attacked, p99 (ms)'] = round(quantile(all, 0.99));
    figures['as often as idle'] = round(quantile(all, 0.99) / quantile(before, 0.99));
    await product.stop();
    return figures;
  } finally {
    await drop();
  }
}

const round = (value) => Math.round(value * 10) / 10;

/** How long `/api/health` takes, asked again and again until something has ended. */
async function healthWhile(url, going) {
  let over = false;
  const ended = Promise.resolve(going).finally(() => (over = true));
  const waits = [];
  do {
    waits.push((await ask(url, '/api/health')).ms);
    await pause(5);
  } while (!over);
  await ended;
  return waits;
}
