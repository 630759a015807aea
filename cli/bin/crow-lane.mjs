#!/usr/bin/env node
// Runs the built command line. Most of the time of a short command is V8 reading the program, so what it has made of it is
// kept beside the program, and read instead the next time.
import { createHash } from 'node:crypto';
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import vm from 'node:vm';

const built = fileURLToPath(new URL('../dist/crow-lane.cjs', import.meta.url));
const read = (file, encoding) => {
  try {
    return readFileSync(file, encoding);
  } catch {
    return undefined;
  }
};

const source = read(built, 'utf8');
if (source === undefined) {
  console.error('The command line is not built yet: run "npm run build -w cli" first ("npm start" does it too).');
  process.exit(2);
}
// what another version of Node has made is refused by V8, but of the program it looks at the length alone
const print = createHash('sha256').update(source).digest('hex').slice(0, 16);
const cache = built.replace(/cjs$/, `${print}.cache`);
const cachedData = read(cache);
const script = new vm.Script(`(function (require) {${source}\n})`, { filename: built, ...(cachedData ? { cachedData } : {}) });
if (!cachedData || script.cachedDataRejected)
  process.once('exit', () => {
    try {
      writeFileSync(`${cache}.${process.pid}`, script.createCachedData());
      renameSync(`${cache}.${process.pid}`, cache);
    } catch {
      // where nothing can be kept it is only slower
    }
  });
script.runInThisContext()(createRequire(built));
