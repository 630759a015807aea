// What accounts cost: the same asked of a product without and of one with them, alternately.
import { ask, demand, firstSecret, makeFlow, quantile, someDocument, someFolder, startProduct } from './product.mjs';

export async function accountsDrill({ rounds = 7, seconds = 2, writers = 8, loads = 60 } = {}) {
  const places = [someFolder(), someFolder()];
  try {
    const without = await startProduct(places[0].folder);
    const withThem = await startProduct(places[1].folder, { options: ['--accounts'] });
    const cookie = await signedIn(withThem);
    const sides = [
      { url: without.url, headers: {} },
      { url: withThem.url, headers: { cookie } }
    ];
    for (const side of sides) {
      side.flow = await makeFlow(side.url, someDocument(20), side.headers);
      side.edits = [];
      side.shelf = [];
      side.opening = [];
    }
    // what is done first is slow, on either side
    for (const side of sides) await Promise.all([write(side, 'warm', writers, 1), load(side, 20)]);
    for (let round = 0; round < rounds; round++)
      for (const side of round % 2 ? [...sides].reverse() : sides) {
        side.edits.push(await write(side, `r${round}`, writers, seconds));
        const { shelf, opening } = await load(side, loads);
        side.shelf.push(shelf);
        side.opening.push(opening);
      }
    const ratio = (what) => middle(sides[1][what]) / middle(sides[0][what]);
    const spread = (what) =>
      Math.max(...sides.map((side) => (Math.max(...side[what]) - Math.min(...side[what])) / middle(side[what])));
    const figures = {};
    for (const [what, words] of [
      ['edits', 'edits a second'],
      ['shelf', 'the list of flows (ms)'],
      ['opening', 'a flow (ms)']
    ]) {
      figures[`${words}, without accounts`] = Math.round(middle(sides[0][what]) * 10) / 10;
      figures[`${words}, with accounts`] = Math.round(middle(sides[1][what]) * 10) / 10;
      figures[`${words}, with by without`] = Math.round(ratio(what) * 1000) / 1000;
      figures[`${words}, spread of the rounds`] = Math.round(spread(what) * 1000) / 1000;
    }
    await Promise.all([without.stop(), withThem.stop()]);
    return figures;
  } finally {
    for (const place of places) await place.drop();
  }
}

const middle = (values) => quantile(values, 0.5);

/** The cookie of the first account. */
async function signedIn(product) {
  const { headers, status } = await ask(product.url, '/api/links/use', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ secret: firstSecret(product), name: 'Ada', password: 'lantern otter copper' })
  });
  demand(status === 201, `the first account was not made: ${status}`);
  return headers['set-cookie'][0].split(';')[0];
}

/** Edits a second. */
async function write({ url, headers, flow }, round, writers, seconds) {
  const end = Date.now() + seconds * 1000;
  let kept = 0;
  await Promise.all(
    Array.from({ length: writers }, async (_, writer) => {
      for (let n = 0; Date.now() < end; n++) {
        const patch = [{ op: 'replace', path: `/places/l${writer}/name`, value: `Street ${round} ${n}` }];
        const { status } = await ask(url, `/api/flows/${flow}`, {
          method: 'PATCH',
          headers: {
            ...headers,
            ...{ 'content-type': 'application/json-patch+json', 'if-match': '"1"', 'edit-label': 'Drill', 'edit-author': 'Ada' },
            'idempotency-key': `${round}-${writer}-${n}`
          },
          body: JSON.stringify(patch)
        });
        demand(status === 200, `an edit was answered with ${status}`);
        kept++;
      }
    })
  );
  return kept / seconds;
}

/** How long the list of flows and a flow take, in milliseconds. */
async function load({ url, headers, flow }, times) {
  const took = { shelf: [], opening: [] };
  for (let n = 0; n < times; n++) {
    took.shelf.push((await ask(url, '/', { headers })).ms);
    took.opening.push((await ask(url, `/api/flows/${flow}`, { headers })).ms);
  }
  return { shelf: middle(took.shelf), opening: middle(took.opening) };
}
