import { expect } from 'chai';
import { isOurHost, isOurOrigin } from '../../src/lib/server/guard.ts';
import { etag, headerText, ifMatch, patchSchema } from '../../src/lib/server/formats.ts';

describe('guard', () => {
  it('takes loopback names with any port, and no others', () => {
    for (const host of ['127.0.0.1:4170', 'localhost', 'LOCALHOST:1', '[::1]:4170'])
      expect(isOurHost(host, {}), host).to.equal(true);
    for (const host of [
      null,
      '',
      'crow.example',
      '127.0.0.1.crow.example',
      'localhost.crow.example:4170',
      '127.0.0.1:4170@crow.example',
      '[::2]',
      'localhost:'
    ]) {
      expect(isOurHost(host, {}), String(host)).to.equal(false);
    }
  });

  it('takes the names it is told', () => {
    expect(isOurHost('flows.studio.example', { CROW_LANE_HOSTS: 'a.example, Flows.studio.example' })).to.equal(true);
    expect(isOurHost('10.0.0.5:80', { HOST: '10.0.0.5' })).to.equal(true);
  });

  it('takes changes only from its own pages', () => {
    const asked = (method: string, origin?: string) =>
      isOurOrigin(
        new Request('http://127.0.0.1:4170/', { method, headers: { host: '127.0.0.1:4170', ...(origin ? { origin } : {}) } })
      );
    expect(asked('GET')).to.equal(true);
    expect(asked('POST')).to.equal(false);
    expect(asked('PATCH', 'http://127.0.0.1:4170')).to.equal(true);
    for (const origin of ['http://127.0.0.1:1', 'null', 'http://crow.example', 'nonsense'])
      expect(asked('GET', origin), origin).to.equal(false);
  });
});

describe('requests', () => {
  const request = (headers: Record<string, string>) => new Request('http://localhost/', { headers });
  it('read the revision of If-Match', () => {
    expect(ifMatch(request({ 'if-match': etag(12) }))).to.equal(12);
    for (const value of ['12', 'W/"12"', '*', '"x"', '"1", "2"', '"99999999999"'])
      expect(ifMatch(request({ 'if-match': value })), value).to.equal(undefined);
    expect(ifMatch(request({}))).to.equal(undefined);
  });

  it('read texts in headers', () => {
    expect(headerText(request({ 'edit-label': encodeURIComponent('Kai: 5 → 7') }), 'edit-label')).to.equal('Kai: 5 → 7');
    expect(headerText(request({ 'edit-label': '%' }), 'edit-label')).to.equal(undefined);
    expect(headerText(request({}), 'edit-label')).to.equal(undefined);
  });

  it('take only patches of our kind', () => {
    const wrong = (patch: unknown) => patchSchema.validate(patch, { convert: false }).error !== undefined;
    expect(wrong([{ op: 'add', path: '/places/a~1b/rules/-', value: null }])).to.equal(false);
    expect(wrong([{ op: 'move', from: '/places/a', path: '/places/a' }])).to.equal(false);
    for (const patch of [
      {},
      [],
      [{ op: 'add', path: '/a' }],
      [{ op: 'remove', path: '/a', value: 1 }],
      [{ op: 'move', from: '/a', path: '/b' }],
      [{ op: 'add', path: '/a~2', value: 1 }],
      [{ op: 'copy', from: '/a', path: '/b' }]
    ]) {
      expect(wrong(patch), JSON.stringify(patch)).to.equal(true);
    }
  });
});
