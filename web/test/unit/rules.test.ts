import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { pathOf } from '../../src/lib/server/guard.ts';
import { rules } from '../../src/lib/server/accounts/rules.ts';
import { hashPassword, isPassword, tooEasy } from '../../src/lib/server/accounts/secrets.ts';
import { nameKey } from '../../src/lib/server/accounts/people.ts';
import { elsewhere } from '../../src/lib/server/accounts/mode.ts';
import { includes, larger } from '../../src/lib/rights.ts';

const folder = join(__dirname, '../../src/routes');

describe('permissions', () => {
  it('have a rule for every route and method, and for no other', () => {
    const served = readdirSync(folder, { recursive: true })
      .map((file) => String(file).replaceAll('\\', '/'))
      .filter((file) => /\+(server\.ts|page\.svelte)$/.test(file))
      .flatMap((file) => {
        const route = `/${file.replace(/\/?\+(server\.ts|page\.svelte)$/, '')}`;
        const methods = file.endsWith('.svelte')
          ? ['GET']
          : [...readFileSync(join(folder, file), 'utf8').matchAll(/export const (GET|PUT|POST|DELETE|PATCH)\b/g)].map(
              ([, method]) => method!
            );
        return methods.map((method) => `${method} ${route}`);
      });
    const ruled = Object.entries(rules).flatMap(([route, methods]) => Object.keys(methods).map((method) => `${method} ${route}`));
    expect(ruled.sort()).to.deep.equal(served.sort());
  });

  it('go from playing to owning, each including those before', () => {
    expect(includes('edit', 'read')).to.equal(true);
    expect(includes('play', 'read')).to.equal(false);
    expect(includes(undefined, 'play')).to.equal(false);
    expect(larger('play', 'edit')).to.equal('edit');
    expect(larger(undefined, 'play')).to.equal('play');
    expect(larger('own', undefined)).to.equal('own');
  });
});

describe('signing in', () => {
  it('goes on only to a path of ours', () => {
    expect(pathOf('/flows/x/checks?y=1')).to.equal('/flows/x/checks?y=1');
    for (const text of [
      null,
      '',
      'https://evil.example/',
      '//evil.example',
      '/\\evil.example',
      '/\t/evil.example',
      'javascript:alert(1)',
      '/x\\y',
      'flows'
    ])
      expect(pathOf(text), String(text)).to.equal('/');
  });

  it('keeps passwords by argon2id, and refuses those that are tried first', async () => {
    const hashed = await hashPassword('lantern otter copper');
    expect(hashed).to.match(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(await isPassword('lantern otter copper', hashed)).to.equal(true);
    expect(await isPassword('lantern otter coppel', hashed)).to.equal(false);
    expect(await isPassword('anything at all', null)).to.equal(false);
    expect(tooEasy('lantern otter copper', 'Ada')).to.equal(undefined);
    expect(tooEasy('elevenchars', 'Ada')).to.include('12');
    expect(tooEasy('Password1234', 'Ada')).to.be.a('string');
    expect(tooEasy('aaaaaaaaaaaaaaaa', 'Ada')).to.be.a('string');
    expect(tooEasy('mira holt mira', 'Mira Holt')).to.include('name');
    expect(tooEasy('x'.repeat(201), 'Ada')).to.be.a('string');
  });

  it('takes names that look alike for one', () => {
    expect(nameKey('  MIRA   Holt ')).to.equal(nameKey('Mira holt'));
    expect(nameKey('Ｍira Holt')).to.equal(nameKey('mira holt'));
    expect(nameKey('Mira Hold')).to.not.equal(nameKey('Mira Holt'));
  });

  it('takes another place to sign in only where all of it is told', () => {
    const all = {
      CROW_LANE_OIDC_ISSUER: 'https://who.example',
      CROW_LANE_OIDC_ID: 'crow',
      CROW_LANE_OIDC_SECRET: 's',
      CROW_LANE_OIDC_ROLE: 'admin'
    };
    process.env.CROW_LANE_ACCOUNTS = '1';
    try {
      // whoever comes from elsewhere never begins as an admin
      expect(elsewhere(all)).to.deep.include({ name: 'who.example', role: undefined });
      expect(elsewhere({ ...all, CROW_LANE_OIDC_ROLE: 'guest', CROW_LANE_OIDC_NAME: 'Studio' })).to.deep.include({
        name: 'Studio',
        role: 'guest'
      });
      expect(elsewhere({ ...all, CROW_LANE_OIDC_SECRET: '' })).to.equal(undefined);
    } finally {
      delete process.env.CROW_LANE_ACCOUNTS;
    }
    expect(elsewhere(all)).to.equal(undefined);
  });
});
