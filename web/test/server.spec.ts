import { request as http } from 'node:http';
import { baseOf, expect, faults, put, small, test } from './support/page.ts';

/** A bare request, so that Host and Origin can be whatever a stranger would send. */
function ask(path: string, headers: Record<string, string>, method = 'GET', body = ''): Promise<number> {
  const { hostname, port } = new URL(baseOf());
  return new Promise((done, failed) => {
    const sent = http(
      {
        hostname,
        port,
        path,
        method,
        headers: { 'content-type': 'application/json', 'content-length': String(Buffer.byteLength(body)), ...headers }
      },
      (response) => {
        response.resume();
        done(response.statusCode!);
      }
    );
    sent.on('error', failed);
    sent.end(body);
  });
}
const { host } = new URL(baseOf());
const origin = new URL(baseOf()).origin;

test('refuses foreign hosts and origins', async () => {
  expect(await ask('/api/flows', { host })).toBe(200);
  expect(await ask('/api/flows', { host: 'crow.example' })).toBe(421);
  expect(await ask('/api/flows', { host: 'crow.example:4170' })).toBe(421);
  expect(await ask('/api/flows', { host, origin: 'http://evil.example' })).toBe(403);
  const body = JSON.stringify(small);
  expect(await ask('/api/flows', { host, origin: 'http://127.0.0.1:1' }, 'POST', body)).toBe(403);
  expect(await ask('/api/flows', { host }, 'POST', body)).toBe(403);
  expect(await ask('/api/flows', { host, origin }, 'POST', body)).toBe(201);
});

test('refuses what is not an edit, saying why', async ({ page }) => {
  const id = await put(page, small);
  const good = {
    'content-type': 'application/json-patch+json',
    'if-match': '"1"',
    'idempotency-key': 'one',
    'edit-label': 'Edit',
    'edit-author': 'Ada',
    origin
  };
  const send = async (headers: Record<string, string | undefined>, data: unknown) => {
    const kept = Object.fromEntries(
      Object.entries({ ...good, ...headers }).filter((entry): entry is [string, string] => entry[1] !== undefined)
    );
    return (
      await page.request.patch(`/api/flows/${id}`, {
        headers: kept,
        data: typeof data === 'string' ? data : JSON.stringify(data)
      })
    ).status();
  };
  const rename = [{ op: 'replace', path: '/name', value: 'Renamed' }];
  expect(await send({ 'content-type': 'application/json' }, rename)).toBe(415);
  expect(await send({ 'if-match': undefined }, rename)).toBe(428);
  expect(await send({ 'if-match': '"99"' }, rename)).toBe(412);
  expect(await send({ 'edit-author': undefined }, rename)).toBe(400);
  expect(await send({}, '[')).toBe(400);
  expect(await send({}, [])).toBe(400);
  expect(await send({}, [{ op: 'copy', from: '/name', path: '/brief' }])).toBe(400);
  expect(await send({}, [{ op: 'replace', path: 'name', value: 'x' }])).toBe(400);
  expect(await send({}, [{ op: 'replace', path: '/name', value: '' }])).toBe(422);
  expect(await send({}, [{ op: 'add', path: '/__proto__/x', value: 1 }])).toBe(422);
  expect(await send({}, [{ op: 'remove', path: '/places/none' }])).toBe(409);
  expect(await send({ 'idempotency-key': 'two' }, rename)).toBe(200);
  const flow = (await (await page.request.get(`/api/flows/${id}`)).json()) as { revision: number; document: { name: string } };
  expect(flow).toMatchObject({ revision: 2, document: { name: 'Renamed' } });
  const { revisions } = (await (await page.request.get(`/api/flows/${id}/revisions`)).json()) as {
    revisions: { number: number; inverse?: object[]; at: string }[];
  };
  expect(revisions).toHaveLength(1);
  // the history is told in words, and what takes a revision back when it is asked for
  expect(revisions[0]).not.toHaveProperty('patch');
  const one = (await (await page.request.get(`/api/flows/${id}/revisions/2`)).json()) as { inverse: object[] };
  expect(one.inverse.at(-1)).toEqual({ op: 'replace', path: '/name', value: 'Two lamps' });
});

test('refuses a body that is too long', async ({ page }) => {
  const response = await page.request.post('/api/flows', {
    headers: { 'content-type': 'application/json', origin },
    data: ' '.repeat(17_000_000)
  });
  expect(response.status()).toBe(413);
});

test('sends a strict content security policy', async ({ page }) => {
  const policy = (await page.request.get('/')).headers()['content-security-policy']!;
  expect(policy).toContain("default-src 'none'");
  expect(policy).not.toContain("'unsafe-inline'");
  expect(policy).not.toContain("'unsafe-eval'");
});

test('checks a revision as a job: told as it goes on, kept by revision, given on in open formats', async ({ page }) => {
  const id = await put(page, faults());
  const headers = { 'content-type': 'application/json', origin };
  expect((await page.request.get(`/api/flows/${id}/checks`)).status()).toBe(204);
  const begun = await page.request.post(`/api/flows/${id}/checks`, { headers, data: {} });
  expect(begun.status()).toBe(202);
  const job = begun.headers()['location']!;
  // the stream ends with the check
  const events = await (await page.request.get(`${job}/events`)).text();
  const states = [...events.matchAll(/^data: (.*)$/gm)].map(([, data]) => (JSON.parse(data!) as { state: string }).state);
  expect(states.at(-1)).toBe('done');
  expect(((await (await page.request.get(job)).json()) as { state: string }).state).toBe('done');
  const told = await page.request.get(`/api/flows/${id}/checks`);
  expect(told.headers()['etag']).toBe('"1"');
  const report = (await told.json()) as {
    complete: boolean;
    checks: { outcome: string; route?: object[]; length?: number }[];
  };
  expect(report.complete).toBe(true);
  expect(report.checks.some(({ outcome, route }) => outcome === 'fails' && route)).toBe(true);
  expect(report.checks.some(({ outcome, route }) => outcome === 'holds' && route)).toBe(false);
  // the shelf knows of it too
  const { flows } = (await (await page.request.get('/api/flows')).json()) as { flows: { id: string; verdict: object | null }[] };
  expect(flows.find((flow) => flow.id === id)!.verdict).not.toBeNull();

  const given = async (format: string) => {
    const response = await page.request.get(`/api/flows/${id}/report?format=${format}`);
    expect(response.status()).toBe(200);
    return await response.text();
  };
  expect((JSON.parse(await given('sarif')) as { version: string }).version).toBe('2.1.0');
  expect(await given('junit')).toContain('<testsuite name=');
  expect(await given('html')).toContain('Chapel Rise can never be won');
  await page.goto(`/api/flows/${id}/report`);
  await expect(page.getByRole('heading', { name: 'Accepted' })).toBeVisible();
  expect((await page.pdf({ preferCSSPageSize: true })).length).toBeGreaterThan(20_000);

  expect((await page.request.get(`/api/flows/${id}/report?format=docx`)).status()).toBe(400);
  const graph = await page.request.get(`/api/flows/${id}/file?as=dot`);
  expect(graph.headers()).toMatchObject({ 'content-type': 'text/vnd.graphviz; charset=utf-8' });
  expect(graph.headers()['content-disposition']).toMatch(/\.dot$/);
  expect(await graph.text()).toMatch(/^digraph "/);
  expect((await page.request.get(`/api/flows/${id}/file?as=pdf`)).status()).toBe(400);
  expect((await page.request.post(`/api/flows/${id}/checks`, { headers, data: { revision: 7 } })).status()).toBe(404);
  expect((await page.request.post(`/api/flows/${id}/checks`, { headers, data: { limit: 'all' } })).status()).toBe(400);
  expect((await page.request.get('/api/checks/none')).status()).toBe(404);
});

test('a long check is stopped, and others wait for it in line', async ({ page }) => {
  // thirty levels won in any order: too many states to look at
  const levels = Array.from({ length: 30 }, (_, n) => `l${n}`);
  const places = Object.fromEntries(
    levels.map((level) => [
      level,
      {
        name: level,
        kind: 'level',
        pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 1 } },
        rules: [{ id: `w_${level}`, when: { holds: 'left(lamp) = 0' }, go: { place: 'hub' }, result: 'won' }]
      }
    ])
  );
  const hub = {
    name: 'Hub',
    kind: 'menu',
    rules: [
      { id: 'pick', when: { choose: 'all' }, go: { move: 'chosen' } },
      { id: 'over', when: { press: 'End' }, if: `${levels.map((level) => `won(${level})`).join(' and ')}`, go: { place: 'end' } }
    ]
  };
  const id = await put(page, {
    format: 'crow-lane',
    version: 1,
    name: 'Any order',
    start: 'hub',
    orders: { all: { name: 'All', draw: 'fixed', levels } },
    places: { hub, ...places, end: { name: 'End', kind: 'ending', outcome: 'won' } }
  });
  const headers = { 'content-type': 'application/json', origin };
  const begin = async (limit: number) =>
    (await (await page.request.post(`/api/flows/${id}/checks`, { headers, data: { limit } })).json()) as {
      id: string;
      state: string;
    };
  const job = await begin(5_000_000);
  expect((await begin(5_000_000)).id).toBe(job.id);
  const stateOf = async () =>
    (await (await page.request.get(`/api/checks/${job.id}`)).json()) as { state: string; progress?: { states: number } };
  // while checks of other flows have the workers it waits as well, and takes a place of the flow's share
  await expect.poll(async () => (await stateOf()).progress?.states ?? 0, { timeout: 60_000 }).toBeGreaterThan(0);
  const others = [];
  for (let n = 0; n < 4; n++) others.push(await begin(4_000_000 + n));
  expect(others.at(-1)!.state).toBe('waiting');
  // one flow takes no more than its share of what may wait
  const more = await page.request.post(`/api/flows/${id}/checks`, { headers, data: { limit: 3_000_000 } });
  expect([more.status(), more.headers()['content-type']]).toEqual([503, 'application/problem+json']);
  for (const { id: other } of others) expect((await page.request.delete(`/api/checks/${other}`, { headers })).status()).toBe(204);
  expect((await page.request.delete(`/api/checks/${job.id}`, { headers })).status()).toBe(204);
  expect((await stateOf()).state).toBe('cancelled');
  expect((await page.request.delete(`/api/checks/${job.id}`, { headers })).status()).toBe(409);
});
