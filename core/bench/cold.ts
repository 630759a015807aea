/** In a process of its own: how long the first check of a flow takes, and one more after a small edit. */
import { check } from '../src/check/check.ts';
import { families } from './families.ts';

const [family, size] = process.argv.slice(2).map(Number);
const document = families[family!]!.make(size!);
const seconds = () => {
  const began = performance.now();
  check(document, { limit: 30_000_000 });
  return (performance.now() - began) / 1000;
};
const cold = seconds();
for (let run = 0; run < 8; run++) seconds();
document.name += '!';
console.log(JSON.stringify({ cold, warm: Math.min(seconds(), seconds(), seconds()) }));
