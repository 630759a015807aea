/** The JSON Schema of flow files, held to the reader. */
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { randomFrom } from '../src/document/random.ts';
import { validate } from '../src/document/read.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { flowSchema } from '../src/formats/json-schema.ts';
import { writeFlow } from '../src/formats/flow.ts';
import { effectKinds } from '../src/vocabulary/effects.ts';
import { triggerKinds } from '../src/vocabulary/triggers.ts';
import { seed } from './support/compare.ts';
import { demo } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const fits = new Ajv2020({ strictTypes: false, strictRequired: false }).compile(flowSchema() as object);
const plain = (document: FlowDocument) => JSON.parse(write(document)) as Record<string, unknown>;
const flows = ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms', 'night-market'].map(demo);

/** What the reader refuses and no schema can say, by the words in which it does. */
const beyond = [
  /^must have min ≤ initial ≤ max$/,
  /^must begin with one of its choices$/,
  /^has a label for /,
  /^stands for more than 10,000 pieces$/,
  /^must lead from one spot to another$/,
  /^patrols with other than /,
  /^may (?:name an order|have an "else"|be "over"|not name an entry)/,
  /^goes to the chosen level, /,
  /^has a result/,
  /^the rule id "/,
  /^cannot be said beside a plan/
];

/** Every place in a value where something else could stand. */
function* placesIn(value: unknown): Generator<{ parent: Record<string, unknown>; key: string }> {
  if (typeof value !== 'object' || value === null) return;
  for (const key of Object.keys(value)) {
    yield { parent: value as Record<string, unknown>, key };
    yield* placesIn((value as Record<string, unknown>)[key]);
  }
}

const others: unknown[] = [
  null,
  true,
  false,
  0,
  -1,
  1.5,
  1e10,
  '',
  'x',
  'Not an id',
  'and',
  'left',
  'a'.repeat(81),
  [],
  ['x'],
  {},
  { x: 1 }
];

/** Changes one thing of a document, as a slip of a hand or of a program would. */
function mutated(document: Record<string, unknown>, random: () => number): Record<string, unknown> {
  const copy = structuredClone(document);
  const pick = <T>(list: T[]): T => list[Math.floor(random() * list.length)]!;
  const { parent, key } = pick([...placesIn(copy)]);
  const slips: (() => void)[] = [
    () => void (Array.isArray(parent) ? parent.splice(Number(key), 1) : delete parent[key]),
    () => void (parent[key] = structuredClone(pick(others))),
    () => void (Array.isArray(parent) ? parent.push(structuredClone(parent[Number(key)])) : (parent.unheard = parent[key])),
    () => {
      // the same thing where another stood
      const from = pick([...placesIn(copy)]);
      parent[key] = structuredClone(from.parent[from.key]);
    },
    () => {
      if (Array.isArray(parent)) return;
      parent[pick(['Wrong', 'a b', 'and', `${key}_2`])] = parent[key];
      delete parent[key];
    }
  ];
  pick(slips)();
  return copy;
}

describe('the JSON Schema of flow files', () => {
  it('takes what the reader takes, and refuses what it refuses but for what no schema can say', () => {
    const random = randomFrom(seed);
    const found = { taken: 0, refused: 0, beyond: 0 };
    const hold = (value: Record<string, unknown>) => {
      const { errors } = validate(structuredClone(value));
      const isTaken = fits(value);
      const why = () => JSON.stringify([errors?.slice(0, 3), fits.errors?.slice(0, 3)]);
      if (!errors) {
        found.taken++;
        expect(isTaken, why()).to.equal(true);
      } else if (errors.some(({ message }) => !beyond.some((known) => known.test(message)))) {
        found.refused++;
        expect(isTaken, why()).to.equal(false);
      } else found.beyond++;
    };
    const all = [...flows.map(plain)];
    fc.assert(
      fc.property(randomFlow, (document) => void all.push(plain(document))),
      { numRuns: randoms(400), seed }
    );
    all.forEach(hold);
    for (let n = 0; n < randoms(1800); n++) hold(mutated(all[n % all.length]!, random));
    expect(found.taken).to.be.greaterThan(randoms(500));
    expect(found.refused).to.be.greaterThan(randoms(700));
    expect(found.beyond).to.be.lessThan(300);
  });

  it('knows every trigger and effect', () => {
    const { $defs } = flowSchema() as { $defs: Record<string, { oneOf: { required: string[] }[] }> };
    const kinds = (name: string) => $defs[name]!.oneOf.flatMap(({ required }) => required);
    expect(kinds('trigger')).to.have.members(triggerKinds);
    expect(kinds('effect')).to.have.members(effectKinds);
  });

  it('is the one in docs', () => {
    expect(readFileSync('docs/flow.schema.json', 'utf8')).to.equal(writeFlow.schema(flows[0]!));
  });
});
