/**
 * In a process of its own: how long the first check of a flow takes, one more after an edit that play sees, and one more
 * after an edit that it does not.
 */
import { check } from '../src/check/check.ts';
import { Memory } from '../src/check/memory.ts';
import { families } from './families.ts';

const [family, size] = process.argv.slice(2).map(Number);
let document = families[family!]!.make(size!);
const memory = new Memory();
const seconds = () => {
  const began = performance.now();
  check(document, { limit: 30_000_000, memory });
  return (performance.now() - began) / 1000;
};
let edits = 0;
/** Each edit makes a document of its own, as it does for a designer. */
const edited = () => {
  document = structuredClone(document);
  document.places[document.start]!.rules.push({ id: `more${edits}`, when: { press: `More ${edits++}` } });
  return seconds();
};
const renamed = () => {
  document = structuredClone(document);
  document.name += '!';
  return seconds();
};
const cold = seconds();
for (let run = 0; run < 8; run++) edited();
const least = (run: () => number) => Math.min(run(), run(), run());
console.log(JSON.stringify({ cold, warm: least(edited), renamed: least(renamed) }));
