import { request as http } from 'node:http';
import { baseOf, expect, put, small, test } from './support/page.ts';

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
  expect(await send({}, [{ op: 'add', path: '/__proto__/x', value: 1 }])).toBe(409);
  expect(await send({}, [{ op: 'remove', path: '/places/none' }])).toBe(409);
  expect(await send({ 'idempotency-key': 'two' }, rename)).toBe(200);
  const flow = (await (await page.request.get(`/api/flows/${id}`)).json()) as { revision: number; document: { name: string } };
  expect(flow).toMatchObject({ revision: 2, document: { name: 'Renamed' } });
  const { revisions } = (await (await page.request.get(`/api/flows/${id}/revisions`)).json()) as {
    revisions: { inverse: object[]; at: string }[];
  };
  expect(revisions).toHaveLength(1);
  expect(revisions[0]!.inverse.at(-1)).toEqual({ op: 'replace', path: '/name', value: 'Two lamps' });
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
