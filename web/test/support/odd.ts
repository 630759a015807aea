/** Documents of right shape that nobody would expect: for views, which have to show whatever a flow holds. */
import fc from 'fast-check';
import type { FlowDocument, Place } from '@crow-lane/core/document/types';
import { randomFlow } from '../../../core/test/support/random-flow.ts';

const long = 'A very long name without an end that somebody thought would tell all there is to'.slice(0, 80);
const rightToLeft = 'شارع الرصيف القديم';
const emoji = '\u{1f3ee}'.repeat(40);

/** What is done to a random document to make it odd. Several are done to each. */
const oddities: ((document: FlowDocument) => void)[] = [
  (document) => rename(document, () => 'Twin'),
  (document) => rename(document, () => long),
  (document) => rename(document, () => rightToLeft),
  (document) => rename(document, () => emoji),
  (document) => rename(document, () => ' '),
  (document) => rename(document, (_, index) => (index % 2 === 0 ? '<b>&amp;</b>' : '"\'`${x}')),
  (document) => {
    for (const place of Object.values(document.places)) {
      place.message = ' ';
      place.brief = '';
      place.tags = ['', ' '].filter(Boolean);
      for (const rule of place.rules) rule.note = ' ';
    }
  },
  (document) => {
    // no levels at all
    for (const [id, { kind }] of Object.entries(document.places)) if (kind === 'level') delete document.places[id];
    if (Object.keys(document.places).length === 0) document.places.only = { name: 'Only', kind: 'menu', rules: [], expects: [] };
  },
  (document) => {
    for (let n = 0; n < 200; n++) document.groups[`g${n}`] = { name: `Group ${n % 3}`, rules: [] };
  },
  (document) => {
    for (let n = 0; n < 60; n++)
      document.variables[`v${n}`] = { name: 'Value', type: 'number', initial: 0, min: 0, max: 9, scope: 'kept' };
  },
  (document) => {
    document.places = { only: { name: 'Only', kind: 'menu', rules: [], expects: [] } as Place };
    document.orders = {};
    document.rules = [];
  },
  (document) => {
    // the same thing said twice
    for (const place of Object.values(document.places)) {
      place.expects = [...place.expects, ...place.expects, 'true', 'true'];
      place.rules = place.rules.flatMap((rule) => [rule, { ...rule, id: `${rule.id}_again`.slice(0, 40) }]);
    }
  },
  (document) => {
    // names that name nothing
    for (const [id, place] of Object.entries(document.places)) place.rules.push({ id: `gone_${id}`, when: { hear: 'nobody' } });
  },
  (document) => {
    document.start = 'nowhere';
  },
  (document) => {
    document.runs.a = {
      name: long,
      steps: [
        { start: true, then: { in: 'nowhere' } },
        { press: 'X', then: { in: 'gone' }, expects: ['true', 'true'] }
      ]
    };
  },
  (document) => {
    document.accepted.push(
      { check: 'way-back', subject: 'nothing', reason: ' ' },
      { check: 'way-back', subject: 'nothing', reason: ' ' }
    );
  }
];

function rename(document: FlowDocument, to: (name: string, index: number) => string): void {
  let index = 0;
  const all = [document.variables, document.signals, document.orders, document.groups, document.places];
  const pieces = Object.values(document.places).flatMap((place) => (place.kind === 'level' ? [place.pieces, place.entries] : []));
  for (const map of [...all, ...pieces])
    for (const thing of Object.values(map) as { name: string }[]) thing.name = to(thing.name, index++);
}

/** As many odd documents, the same ones each time. */
export function oddDocuments(count: number, seed = 7): FlowDocument[] {
  return fc.sample(randomFlow, { numRuns: count, seed }).map((random, index) => {
    const document = structuredClone(random);
    const some = [index % oddities.length, (index * 5 + 3) % oddities.length, (index * 7 + 1) % oddities.length];
    for (const at of new Set(some)) oddities[at]!(document);
    // ids of rules are told apart, whatever was made twice
    const seen = new Set<string>();
    const lists = [...Object.values(document.places), ...Object.values(document.groups), document];
    for (const { rules } of lists)
      for (const rule of rules) {
        while (seen.has(rule.id)) rule.id = `r${seen.size}_${rule.id}`.slice(0, 40);
        seen.add(rule.id);
      }
    document.name = `Odd ${index}`;
    return document;
  });
}
