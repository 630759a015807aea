import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Validator } from '@seriousme/openapi-schema-validator';
import { expect } from 'chai';

const root = join(__dirname, '../../..');
const description = JSON.parse(readFileSync(join(root, 'docs/openapi.json'), 'utf8')) as {
  paths: Record<string, Record<string, unknown>>;
};
const methods = ['get', 'put', 'post', 'delete', 'patch'];

describe('the OpenAPI description', () => {
  it('is one, of version 3.1', async () => {
    const validator = new Validator();
    const { valid, errors } = await validator.validate(description);
    expect(valid, JSON.stringify(errors)).to.equal(true);
    expect(validator.version).to.equal('3.1');
  });

  it('has every route and method of the server, and no other', () => {
    const folder = join(root, 'web/src/routes/api');
    const served = readdirSync(folder, { recursive: true })
      .map(String)
      .filter((file) => file.endsWith('+server.ts'))
      .flatMap((file) => {
        const path = `/api/${file.replaceAll('\\', '/').replace('/+server.ts', '')}`.replaceAll(/\[(\w+)\]/g, '{$1}');
        const text = readFileSync(join(folder, file), 'utf8');
        return [...text.matchAll(/export const (GET|PUT|POST|DELETE|PATCH)\b/g)].map(
          ([, method]) => `${method!.toLowerCase()} ${path}`
        );
      });
    const described = Object.entries(description.paths).flatMap(([path, item]) =>
      methods.filter((method) => Object.hasOwn(item, method)).map((method) => `${method} ${path}`)
    );
    expect(described.sort()).to.deep.equal(served.sort());
  });
});
