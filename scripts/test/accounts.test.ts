/** A product with accounts: every route as asked by everybody there can be, and what is protected from whom. */
import { expect } from 'chai';
import { createConnection } from 'mysql2/promise';
import { rules } from '../../web/src/lib/server/accounts/rules.ts';

interface Product {
  url: string;
  said(): string;
}
interface Drill {
  someFolder(): { folder: string; drop(): Promise<void> };
  startProduct(folder: string, settings: object): Promise<Product>;
  firstSecret(product: Product): string;
}
const document = { format: 'crow-lane', version: 1, name: 'Zero', start: 'a', places: { a: { name: 'A', kind: 'menu' } } };
const password = 'lantern otter copper';

describe('accounts', () => {
  let place: ReturnType<Drill['someFolder']>;
  let url: string;

  /** Somebody who asks: with cookies of their own, or a token. */
  class Caller {
    private readonly jar = new Map<string, string>();
    constructor(
      readonly token?: string,
      readonly origin = url
    ) {}
    async ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
      const cookie = [...this.jar].map(([name, value]) => `${name}=${value}`).join('; ');
      const response = await fetch(url + path, {
        method,
        redirect: 'manual',
        headers: {
          ...(this.token ? { authorization: `Bearer ${this.token}` } : { origin: this.origin, ...(cookie ? { cookie } : {}) }),
          ...(body === undefined ? {} : { 'content-type': 'application/json' }),
          ...headers
        },
        ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) })
      });
      for (const set of response.headers.getSetCookie()) {
        const [, name, value] = /^([^=]+)=([^;]*)/.exec(set)!;
        if (/max-age=0/i.test(set)) this.jar.delete(name!);
        else this.jar.set(name!, value!);
      }
      return response;
    }
    async json<T>(method: string, path: string, body?: unknown): Promise<T> {
      const response = await this.ask(method, path, body);
      expect(response.ok, `${method} ${path}: ${response.status}`).to.equal(true);
      return (await response.json()) as T;
    }
    /** An own copy: what it signs out of, the other stays in. */
    copy(): Caller {
      const other = new Caller(this.token);
      for (const [name, value] of this.jar) other.jar.set(name, value);
      return other;
    }
    readonly cookies = () => [...this.jar.keys()];
  }

  const secretOf = ({ path }: { path: string }) => path.replace(/^.*#/, '');
  let admin: Caller;
  const callers: Record<string, Caller> = {};
  const people: Record<string, string> = {};
  let flow: string;

  async function join(name: string, role: string): Promise<Caller> {
    const link = await admin.json<{ path: string }>('POST', '/api/invitations', { role, note: name, days: 1 });
    const caller = new Caller();
    await caller.json('POST', '/api/links/use', { secret: secretOf(link), name, password });
    people[name] = (await caller.json<{ person: { id: string } }>('GET', '/api/account')).person.id;
    return caller;
  }
  const share = (name: string, may: string) => admin.json('PUT', `/api/flows/${flow}/rights`, { person: people[name], may });

  /** Changes something in the database behind the server's back: days pass slowly. */
  async function change(query: string): Promise<void> {
    const connection = await createConnection(address);
    await connection.query(query);
    await connection.end();
  }

  let drill: Drill;
  let address: string;
  before(async () => {
    drill = (await import('../drill/product.mjs' as string)) as Drill;
    place = drill.someFolder();
    const product = await drill.startProduct(place.folder, { options: ['--accounts'] });
    url = product.url;
    const { addressOf } = (await import('../lib/database.mjs' as string)) as { addressOf(folder: string): string };
    address = addressOf(place.folder);
    admin = new Caller();
    await admin.json('POST', '/api/links/use', { secret: drill.firstSecret(product), name: 'Ada', password });
    const owner = await join('Owen', 'designer');
    flow = (await owner.json<{ id: string }>('POST', '/api/flows', document)).id;
    for (const name of ['Edda', 'Rhea', 'Pia', 'Sten']) callers[name] = await join(name, 'designer');
    callers.Gus = await join('Gus', 'guest');
    await share('Edda', 'edit');
    await share('Rhea', 'read');
    await share('Pia', 'play');
    // a guest of the house looks on, whatever was granted
    await share('Gus', 'edit');
    const token = async (body: object) => new Caller((await owner.json<{ token: string }>('POST', '/api/tokens', body)).token);
    callers['a token to read'] = await token({ name: 'r', may: 'read' });
    callers['a token to edit'] = await token({ name: 'w', may: 'edit' });
    callers['a token of the flow'] = await token({ name: 'f', may: 'edit', flow });
    const other = (await owner.json<{ id: string }>('POST', '/api/flows', document)).id;
    callers['a token of another flow'] = await token({ name: 'o', may: 'edit', flow: other });
    for (const may of ['read', 'play']) {
      const link = await owner.json<{ path: string }>('POST', `/api/flows/${flow}/links`, { may, days: 1 });
      const holder = new Caller();
      await holder.json('POST', '/api/links', { secret: secretOf(link) });
      callers[`a link to ${may}`] = holder;
    }
    callers.nobody = new Caller();
    callers.Owen = owner;
    callers.Ada = admin;
  });
  after(() => place.drop());

  /** What everybody may do, written down here by hand: with the flow, and in the house. */
  const holds: Record<string, { flow: string | undefined; house: string[] }> = {
    Ada: { flow: 'own', house: ['account', 'shelf', 'make', 'browse', 'people'] },
    Owen: { flow: 'own', house: ['account', 'shelf', 'make', 'browse'] },
    Edda: { flow: 'edit', house: ['account', 'shelf', 'make', 'browse'] },
    Rhea: { flow: 'read', house: ['account', 'shelf', 'make', 'browse'] },
    Pia: { flow: 'play', house: ['account', 'shelf', 'make', 'browse'] },
    Sten: { flow: undefined, house: ['account', 'shelf', 'make', 'browse'] },
    Gus: { flow: 'read', house: ['account', 'shelf', 'browse'] },
    'a token to read': { flow: 'read', house: ['shelf', 'browse'] },
    'a token to edit': { flow: 'edit', house: ['shelf', 'make', 'browse'] },
    'a token of the flow': { flow: 'edit', house: [] },
    'a token of another flow': { flow: undefined, house: [] },
    'a link to read': { flow: 'read', house: [] },
    'a link to play': { flow: 'play', house: [] },
    nobody: { flow: undefined, house: [] }
  };
  const order = ['play', 'read', 'edit', 'own'];

  /** By route and method what it needs: of the flow, of the house, or both. Not read from the rules, but held against them. */
  const needs: Record<string, string> = {
    'GET /': 'shelf',
    'GET /account': 'account',
    'GET /flows/[id]/[[view=view]]': 'read',
    'GET /help/[[page]]': 'open',
    'GET /open': 'open',
    'GET /people': 'people',
    'GET /play/[id]': 'play',
    'GET /shared': 'browse',
    'GET /shared/[show]': 'browse',
    'GET /shared/[show]/play': 'browse',
    'GET /sign-in': 'open',
    'GET /sign-in/elsewhere': 'open',
    'GET /sign-in/elsewhere/back': 'open',
    'GET /api/account': 'open',
    'PUT /api/account/password': 'account',
    'GET /api/account/sign-ins': 'account',
    'DELETE /api/account/sign-ins': 'account',
    'GET /api/alive': 'open',
    'GET /api/audit': 'people',
    'GET /api/checks/[job]': 'read',
    'GET /api/checks/[job]/events': 'read',
    'DELETE /api/checks/[job]': 'edit',
    'GET /api/flows': 'shelf',
    'POST /api/flows': 'make',
    'GET /api/flows/[id]': 'read',
    'PATCH /api/flows/[id]': 'edit',
    'DELETE /api/flows/[id]': 'own',
    'GET /api/flows/[id]/changes': 'read',
    'GET /api/flows/[id]/checks': 'read',
    'POST /api/flows/[id]/checks': 'read',
    'POST /api/flows/[id]/copy': 'make read',
    'GET /api/flows/[id]/events': 'read',
    'GET /api/flows/[id]/file': 'read',
    'GET /api/flows/[id]/links': 'own',
    'POST /api/flows/[id]/links': 'own',
    'DELETE /api/flows/[id]/links/[link]': 'own',
    'PUT /api/flows/[id]/presence': 'read',
    'DELETE /api/flows/[id]/presence': 'read',
    'GET /api/flows/[id]/report': 'read',
    'POST /api/flows/[id]/restore': 'own',
    'GET /api/flows/[id]/revisions': 'read',
    'GET /api/flows/[id]/revisions/[number]': 'read',
    'GET /api/flows/[id]/rights': 'own',
    'PUT /api/flows/[id]/rights': 'own',
    'GET /api/flows/[id]/shows': 'own',
    'POST /api/flows/[id]/shows': 'own',
    'PUT /api/flows/[id]/verdict': 'edit',
    'GET /api/health': 'open',
    'GET /api/invitations': 'people',
    'POST /api/invitations': 'people',
    'DELETE /api/invitations/[link]': 'people',
    'POST /api/links': 'open',
    'POST /api/links/use': 'open',
    // asked for a flow that may be read, or refused by itself
    'GET /api/live': 'read',
    'GET /api/openapi.json': 'open',
    'GET /api/people': 'people',
    'PATCH /api/people/[person]': 'people',
    'POST /api/people/[person]/reset': 'people',
    'GET /api/shows': 'browse',
    'GET /api/shows/[show]': 'browse',
    'DELETE /api/shows/[show]': 'own',
    'GET /api/shows/[show]/changes': 'browse',
    'GET /api/shows/[show]/file': 'browse',
    'GET /api/shows/[show]/picture': 'browse',
    'POST /api/shows/[show]/take': 'make',
    'POST /api/sign-ins': 'open',
    'DELETE /api/sign-ins': 'open',
    'GET /api/tokens': 'account',
    'POST /api/tokens': 'account',
    'DELETE /api/tokens/[token]': 'account'
  };

  it('let everybody do what they may on every route, and nobody anything else', async () => {
    const ruled = Object.entries(rules).flatMap(([route, methods]) => Object.keys(methods).map((method) => `${method} ${route}`));
    expect(Object.keys(needs).sort()).to.deep.equal(ruled.sort());
    const job = (await admin.json<{ id: string }>('POST', `/api/flows/${flow}/checks`, {})).id;
    const put = () => admin.json<{ id: string }>('POST', `/api/flows/${flow}/shows`, { summary: '', tags: [] });
    const wrong: string[] = [];
    for (const [line, needed] of Object.entries(needs))
      for (const [name, { flow: right, house }] of Object.entries(holds)) {
        const [method, route] = line.split(' ') as [string, string];
        // it would end what the others are asked with: looked at below
        if (line === 'DELETE /api/sign-ins') continue;
        let path = route.replace('[id]', flow).replace('[job]', job);
        // one that was taken or withdrawn before is not there for the next
        if (path.includes('[show]')) path = path.replace('[show]', (await put()).id);
        path = path
          .replace('/[[view=view]]', '')
          .replace('/[[page]]', '')
          .replace(/\[(link|person|token|number)\]/, 'none');
        if (route === '/api/live') path += `?flow=${flow}:1`;
        // with nothing in the body: whoever is let in is told so
        const response = await callers[name]!.copy().ask(method, path, method === 'GET' || method === 'DELETE' ? undefined : {});
        const { status } = response;
        const text = /json/.test(response.headers.get('content-type') ?? '') ? await response.text() : '';
        // streams that were let in would go on
        if (/event-stream/.test(response.headers.get('content-type') ?? '')) await response.body!.cancel();
        const toSignIn = status === 302 && response.headers.get('location')!.startsWith('/sign-in?to=');
        const hidden = status === 404 && /There (is no such flow\. It|are no such flows)/.test(text);
        const refused = [401, 403].includes(status) || toSignIn || hidden || (status === 404 && route.startsWith('/flows/'));
        const allowed = needed
          .split(' ')
          .every(
            (need) =>
              need === 'open' ||
              house.includes(need) ||
              order.indexOf(right ?? '') >= (order.includes(need) ? order.indexOf(need) : 9)
          );
        if (refused === allowed || status >= 500) wrong.push(`${line} by ${name}: ${status} ${text.slice(0, 120)}`);
        if (line === 'DELETE /api/flows/[id]' && !refused) await admin.ask('POST', `/api/flows/${flow}/restore`);
      }
    expect(wrong).to.deep.equal([]);
  });

  it('answer alike for a flow that is not there and for one that may not be seen', async () => {
    for (const path of ['', '/file', '/revisions', '/report', '/rights']) {
      const hidden = await callers.Sten!.ask('GET', `/api/flows/${flow}${path}`);
      const missing = await callers.Sten!.ask('GET', `/api/flows/none${path}`);
      expect([hidden.status, await hidden.text()], path).to.deep.equal([missing.status, await missing.text()]);
      const stranger = await callers.nobody!.ask('GET', `/api/flows/${flow}${path}`);
      const none = await callers.nobody!.ask('GET', `/api/flows/none${path}`);
      expect([stranger.status, await stranger.text()], path).to.deep.equal([none.status, await none.text()]);
    }
    // and for a name that nobody has, and a wrong password
    const ask = async (name: string) => {
      const response = await new Caller().ask('POST', '/api/sign-ins', { name, password: 'not this one at all' });
      return [response.status, await response.text()];
    };
    expect(await ask('Sten')).to.deep.equal(await ask('Nobody of this name'));
  });

  it('take the author from the account, whatever a header says', async () => {
    const patch = [
      { op: 'replace', path: '/brief', value: 'A note' },
      { op: 'test', path: '/name', value: 'Zero' }
    ];
    const response = await callers.Edda!.ask('PATCH', `/api/flows/${flow}`, JSON.stringify([{ ...patch[0], op: 'add' }]), {
      'content-type': 'application/json-patch+json',
      'if-match': '"1"',
      'idempotency-key': 'claimed',
      'edit-label': 'Note',
      'edit-author': 'Ada'
    });
    expect(response.status).to.equal(200);
    const { revisions } = await admin.json<{ revisions: { author: string }[] }>('GET', `/api/flows/${flow}/revisions`);
    expect(revisions.map(({ author }) => author)).to.deep.equal(['Edda']);
  });

  it('refuse what comes from other pages, cookies or not', async () => {
    const foreign = admin.copy();
    const headers = { origin: 'http://evil.example' };
    expect((await foreign.ask('POST', '/api/flows', document, headers)).status).to.equal(403);
    expect((await foreign.ask('GET', '/api/flows', undefined, headers)).status).to.equal(403);
    // a token is shown by no page, so that it needs no origin
    expect((await callers['a token to edit']!.ask('POST', '/api/flows', document)).status).to.equal(201);
    expect((await new Caller('crow_guessed').ask('GET', '/api/flows')).status).to.equal(401);
  });

  it('keep cookies from scripts, and answers from the next at the same browser', async () => {
    const response = await new Caller().ask('POST', '/api/sign-ins', { name: 'Sten', password });
    const [cookie] = response.headers.getSetCookie();
    expect(cookie)
      .to.match(/HttpOnly/i)
      .and.match(/SameSite=Lax/i)
      .and.match(/Max-Age=2592000/i);
    const shelf = await admin.ask('GET', '/api/flows');
    expect(shelf.headers.get('cache-control')).to.equal('no-store');
    for (const [name, value] of [
      ['x-content-type-options', 'nosniff'],
      ['referrer-policy', 'no-referrer'],
      ['cross-origin-resource-policy', 'same-origin']
    ] as const)
      expect(shelf.headers.get(name), name).to.equal(value);
    // signing in goes on to no other place
    const away = await callers.Sten!.ask('GET', '/sign-in?to=//evil.example/');
    expect([away.status, away.headers.get('location')]).to.deep.equal([303, '/']);
  });

  it('end a sign-in by signing out, and all others by a new password', async () => {
    const one = new Caller();
    const two = new Caller();
    for (const each of [one, two])
      expect((await each.ask('POST', '/api/sign-ins', { name: 'Rhea', password })).status).to.equal(204);
    const stolen = one.copy();
    await one.ask('DELETE', '/api/sign-ins');
    expect(one.cookies()).to.deep.equal([]);
    expect((await stolen.ask('GET', '/api/flows')).status).to.equal(401);

    const change = (old: string, next: string) => two.ask('PUT', '/api/account/password', { old, password: next });
    expect((await change('wrong in every word', 'copper lantern otter')).status).to.equal(422);
    expect((await change(password, 'short')).status).to.equal(422);
    const before = callers.Rhea!;
    expect((await before.ask('GET', '/api/flows')).status).to.equal(200);
    expect((await change(password, 'copper lantern otter')).status).to.equal(204);
    expect((await two.ask('GET', '/api/flows')).status).to.equal(200);
    expect((await before.ask('GET', '/api/flows')).status).to.equal(401);
    expect((await new Caller().ask('POST', '/api/sign-ins', { name: 'rhea', password })).status).to.equal(403);
    // a link of an admin sets another
    const link = await admin.json<{ path: string }>('POST', `/api/people/${people.Rhea}/reset`);
    const use = { secret: secretOf(link), name: '', password };
    expect((await before.ask('POST', '/api/links/use', use)).status).to.equal(201);
    expect((await two.ask('GET', '/api/flows')).status).to.equal(401);
    expect((await two.ask('POST', '/api/links/use', use)).status).to.equal(404);
  });

  it('bound attempts by name, from wherever they come', async () => {
    const name = 'Sten';
    const statuses: number[] = [];
    for (let n = 0; n < 13; n++)
      statuses.push((await new Caller().ask('POST', '/api/sign-ins', { name, password: `wrong ${n}` })).status);
    expect(statuses.slice(0, 8)).to.deep.equal(Array(8).fill(403));
    expect(statuses.at(-1)).to.equal(429);
    // the right one too, so that nothing is learnt
    expect((await new Caller().ask('POST', '/api/sign-ins', { name, password })).status).to.equal(429);
  });

  it('give out links once each, that end when they are taken back, used or too late', async () => {
    const invite = () => admin.json<{ id: string; path: string }>('POST', '/api/invitations', { role: 'designer', days: 1 });
    const use = (link: { path: string }, name: string) =>
      new Caller().ask('POST', '/api/links/use', { secret: secretOf(link), name, password });
    const taken = await invite();
    expect((await admin.ask('DELETE', `/api/invitations/${taken.id}`)).status).to.equal(204);
    expect((await use(taken, 'Late')).status).to.equal(404);
    const link = await invite();
    // a name that another has, or had, leaves the link as it was
    expect((await use(link, 'EDDA')).status).to.equal(409);
    expect((await use(link, '  ')).status).to.equal(422);
    const both = await Promise.all([use(link, 'First'), use(link, 'Second')]);
    expect(both.map(({ status }) => status).sort()).to.deep.equal([201, 404]);
    for (const secret of ['x'.repeat(43), 'short', ''])
      expect((await new Caller().ask('POST', '/api/links', { secret })).status, secret).to.be.oneOf([400, 404]);

    // a link to a flow shuts out at once when it is taken back
    const { links } = await callers.Owen!.json<{ links: { id: string; kind: string }[] }>('GET', `/api/flows/${flow}/links`);
    const holder = callers['a link to read']!;
    const live = await holder.ask('GET', `/api/live?flow=${flow}:1`);
    expect(live.status).to.equal(200);
    await callers.Owen!.ask('DELETE', `/api/flows/${flow}/links/${links.find(({ kind }) => kind === 'read')!.id}`);
    expect((await holder.ask('GET', `/api/flows/${flow}`)).status).to.equal(401);
    // the stream ends by itself, within some seconds
    const reader = live.body!.getReader();
    for (const limit = Date.now() + 40_000; ;) {
      expect(Date.now()).to.be.lessThan(limit);
      if ((await reader.read()).done) break;
    }
  });

  it('end by the day: links, sign-ins left alone, and flows that were deleted long ago', async function () {
    this.timeout(240_000);
    const link = await admin.json<{ path: string }>('POST', '/api/invitations', { role: 'guest', days: 1 });
    const left = new Caller();
    expect((await left.ask('POST', '/api/sign-ins', { name: 'Pia', password })).status).to.equal(204);
    const { id } = await callers.Owen!.json<{ id: string }>('POST', '/api/flows', document);
    await callers.Owen!.ask('DELETE', `/api/flows/${id}`);
    await change(`update links set ends_at = now() - interval 1 minute where kind = 'invitation'`);
    await change(`update sign_ins set used_at = now() - interval 8 day where person = '${people.Pia}'`);
    await change(`update flows set deleted_at = now() - interval 31 day where id = '${id}'`);
    expect((await new Caller().ask('POST', '/api/links', { secret: secretOf(link) })).status).to.equal(404);
    // known for a second at the most
    await new Promise((done) => setTimeout(done, 1100));
    expect((await left.ask('GET', '/api/flows')).status).to.equal(401);
    // a server looks for what is to go as it starts, and now and then
    const other = drill.someFolder();
    try {
      const second = await drill.startProduct(other.folder, { database: address, options: ['--accounts'] });
      const there = async () => (await callers.Owen!.json<{ flows: { id: string }[] }>('GET', '/api/flows?deleted')).flows;
      for (const limit = Date.now() + 30_000; (await there()).some((each) => each.id === id);)
        expect(Date.now()).to.be.lessThan(limit);
      // what was signed in at one server is so at the other, and nobody is told of a first account again
      expect(second.said()).to.not.include('/open#');
      expect((await fetch(`${second.url}/api/flows`)).status).to.equal(401);
    } finally {
      await other.drop();
    }
  });

  it('keep an admin, end access whole, and keep names', async () => {
    const alone = await admin.ask(
      'PATCH',
      `/api/people/${(await admin.json<{ person: { id: string } }>('GET', '/api/account')).person.id}`,
      {
        role: 'designer'
      }
    );
    expect(alone.status).to.equal(409);
    expect(await alone.text()).to.include('last admin');
    const eddas = callers.Edda!;
    const { token } = await eddas.json<{ token: string }>('POST', '/api/tokens', { name: 't', may: 'read' });
    expect((await new Caller(token).ask('GET', '/api/flows')).status).to.equal(200);
    expect((await admin.ask('PATCH', `/api/people/${people.Edda}`, { ended: true })).status).to.equal(200);
    expect((await eddas.ask('GET', '/api/flows')).status).to.equal(401);
    expect((await new Caller(token).ask('GET', '/api/flows')).status).to.equal(401);
    expect((await new Caller().ask('POST', '/api/sign-ins', { name: 'Edda', password })).status).to.equal(403);
    const link = await admin.json<{ path: string }>('POST', '/api/invitations', { role: 'designer', days: 1 });
    const again = await new Caller().ask('POST', '/api/links/use', { secret: secretOf(link), name: 'Edda', password });
    expect(again.status).to.equal(409);
    expect((await admin.ask('PATCH', `/api/people/${people.Edda}`, { ended: false })).status).to.equal(200);
    expect((await new Caller().ask('POST', '/api/sign-ins', { name: 'Edda', password })).status).to.equal(204);
  });

  it('write down who did what, and no secret', async () => {
    const text = await (await admin.ask('GET', '/api/audit?as=jsonl')).text();
    const lines = text
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { name: string; act: string; at: string });
    for (const act of ['account made', 'signed in', 'sign-in failed', 'signed out', 'invited', 'link made', 'link taken back'])
      expect(
        lines.some((line) => line.act === act),
        act
      ).to.equal(true);
    for (const act of ['rights changed', 'flow deleted', 'flow brought back', 'put on show', 'withdrawn', 'password changed'])
      expect(
        lines.some((line) => line.act === act),
        act
      ).to.equal(true);
    for (const act of ['password reset', 'token made', 'access ended', 'access given back'])
      expect(
        lines.some((line) => line.act === act),
        act
      ).to.equal(true);
    expect(text).to.not.include(password);
    expect(text).to.not.include('crow_');
    const times = lines.map(({ at }) => at);
    expect(times).to.deep.equal([...times].sort().reverse());
  });

  it('delete for good only what an owner deletes so', async () => {
    const owner = callers.Owen!;
    const { id } = await owner.json<{ id: string }>('POST', '/api/flows', document);
    expect((await owner.ask('DELETE', `/api/flows/${id}`)).status).to.equal(204);
    const deleted = async () =>
      (await owner.json<{ flows: { id: string }[] }>('GET', '/api/flows?deleted')).flows.map((each) => each.id);
    expect(await deleted()).to.include(id);
    expect((await owner.ask('POST', `/api/flows/${id}/restore`)).status).to.equal(204);
    expect((await owner.ask('DELETE', `/api/flows/${id}?forever`)).status).to.equal(204);
    expect((await owner.ask('POST', `/api/flows/${id}/restore`)).status).to.equal(404);
    expect(await deleted()).to.not.include(id);
  });
});
