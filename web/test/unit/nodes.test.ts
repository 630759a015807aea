import { expect } from 'chai';
import { briefly, forgetAnswers } from '../../src/lib/server/brief.ts';
import { fromNow, now, setClock } from '../../src/lib/server/clock.ts';
import { isDown, Nodes, nodesOf } from '../../src/lib/server/nodes.ts';

describe('nodes of a database', () => {
  it('are named in one address', () => {
    expect(nodesOf('mysql://a:b@one:3306,two:3307/flows?x=1')).to.deep.equal([
      'mysql://a:b@one:3306/flows?x=1',
      'mysql://a:b@two:3307/flows?x=1'
    ]);
    expect(nodesOf('mysql://a:b@localhost/flows?socketPath=%2Ftmp%2Fx')).to.have.length(1);
    expect(nodesOf('mysql://one/flows')).to.deep.equal(['mysql://one/flows']);
    for (const wrong of ['', 'postgres://one/flows', 'mysql://', 'mysql://one:port/flows', 'mysql://one,:x/flows'])
      expect(() => nodesOf(wrong), wrong).to.throw();
  });

  it('are known to be away by what the network, the driver and a cluster say', () => {
    const error = (code: string, cause?: Error) => Object.assign(new Error('x', { cause }), { code });
    expect(isDown(error('ECONNREFUSED'))).to.equal(true);
    expect(isDown(new Error('query failed', { cause: error('ER_UNKNOWN_COM_ERROR') }))).to.equal(true);
    expect(isDown(error('ER_DUP_ENTRY'))).to.equal(false);
    expect(isDown('nothing')).to.equal(false);
  });

  it('are gone through until one answers, and tell when none does', async function () {
    this.timeout(20_000);
    // nothing listens at these
    const nodes = new Nodes(['mysql://127.0.0.1:1/x', 'mysql://127.0.0.1:2/x'], { connectTimeout: 500 });
    const first = nodes.present;
    const began = Date.now();
    const failed = await nodes.query({ sql: 'select 1' }).catch((error: unknown) => error);
    expect(isDown(failed)).to.equal(true);
    expect(Date.now() - began).to.be.within(7000, 15_000);
    expect(nodes.present).to.not.equal(first);
    await nodes.end();
    // one alone is not waited for
    const alone = new Nodes(['mysql://127.0.0.1:1/x'], { connectTimeout: 500 });
    const soon = Date.now();
    expect(isDown(await alone.getConnection().catch((error: unknown) => error))).to.equal(true);
    expect(Date.now() - soon).to.be.lessThan(3000);
    await alone.end();
  });
});

describe('the clock', () => {
  const database = (ahead: number) => ({ execute: () => Promise.resolve([[{ at: String(Date.now() + ahead) }]]) });
  const off = () => now().getTime() - Date.now();
  it('is that of the database, but for what the network takes', async () => {
    await setClock(database(3_600_000));
    expect(off()).to.be.within(3_599_000, 3_601_000);
    expect(fromNow(-60_000).getTime() - Date.now()).to.be.within(3_539_000, 3_541_000);
    await setClock(database(-20_000));
    expect(off()).to.be.within(-21_000, -19_000);
    await setClock(database(300));
    expect(off()).to.be.within(-5, 5);
  });
});

describe('answers that are known for a moment', () => {
  it('are asked once, and again when something was changed, or the asking failed', async () => {
    let asked = 0;
    const ask = () => briefly('a', () => Promise.resolve(++asked));
    expect(await Promise.all([ask(), ask()])).to.deep.equal([1, 1]);
    expect(await ask()).to.equal(1);
    forgetAnswers();
    expect(await ask()).to.equal(2);
    const failing = () => briefly('b', () => Promise.reject(new Error(String(++asked))));
    const errors = [await failing().catch(String), await failing().catch(String)];
    expect(errors[0]).to.not.equal(errors[1]);
  });
});
