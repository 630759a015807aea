// node --import tsx scripts/engine.ts FILE [--states N] [--steps PLACE]: what the packed engine keeps of a flow and runs, in words.
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { finish } from '../core/src/check/check.ts';
import { read } from '../core/src/document/read.ts';
import { explorePacked, type Inspected } from '../core/src/explore/packed/explore.ts';
import { layoutWords, stateWords } from '../core/src/explore/packed/print.ts';
import { prepare } from '../core/src/play/flow.ts';
import { stepWords } from '../core/src/words/steps.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { states: { type: 'string' }, steps: { type: 'string' } }
});
const { document, errors } = read(readFileSync(positionals[0] ?? 0, 'utf8'));
if (!document) throw new Error(errors.map(({ pointer, message }) => `${pointer} ${message}`).join('\n'));
const flow = prepare(document);
let inspected: Inspected | undefined;
const facts = finish(explorePacked(flow, 200_000, undefined, { inspect: (found) => (inspected = found) }));
const { at, load, codeOf } = inspected!;
console.log(layoutWords(flow, at));
console.log(`${facts.count} states, ${facts.moves} events`);
for (let state = 0; state < Math.min(facts.count, Number(values.states ?? 0)); state++) {
  console.log(`\n${state}: ${stateWords(flow, at, load(state))}`);
  console.log(
    `   by: ${
      facts
        .routeToState(state)
        .map((step) => stepWords(document, step))
        .join(', ') || 'the start'
    }`
  );
}
if (values.steps !== undefined)
  for (const { event, text } of codeOf(values.steps)) console.log(`\n${JSON.stringify(event)}\n${text}`);
