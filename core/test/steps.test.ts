/** The code that states are explored by, what is kept of it, and what leads back from a state. */
import { expect } from 'chai';
import fc from 'fast-check';
import { check } from '../src/check/check.ts';
import { explore } from '../src/explore/plain.ts';
import { Memory } from '../src/check/memory.ts';
import { Edges } from '../src/explore/packed/edges.ts';
import { explorePacked } from '../src/explore/packed/explore.ts';
import { KnownCodes } from '../src/explore/packed/known-codes.ts';
import { StepCode } from '../src/explore/packed/step-code.ts';
import { replay } from '../src/play/replay.ts';
import type { Report } from '../src/report/report.ts';
import { withoutRoute } from '../src/check/verdict.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { checked, documents, essence, limit, seed } from './support/compare.ts';
import { demo, documentFrom, flowOf, threeLamps } from './support/flows.ts';
import { randomFlow, withTwins } from './support/random-flow.ts';

const demos = ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms', 'night-market'];

describe('events written as steps', () => {
  const document = demo('ferry-rooms');
  const steps = StepCode.prototype as unknown as { writes: (slot: number) => void };
  const { writes } = steps;
  const { of, entrance } = StepCode;
  afterEach(() => {
    steps.writes = writes;
    Object.assign(StepCode, { of, entrance });
  });

  it('pack all that they wrote, and it shows when they do not', () => {
    const plain = essence(check(document, { explorer: explore }));
    expect(essence(check(document))).to.deep.equal(plain);
    steps.writes = function (this: { declared: Set<number> }, slot) {
      this.declared.add(slot);
    };
    expect(essence(check(document))).not.to.deep.equal(plain);
  });

  for (const name of demos) {
    it(`lead where the machine leads on all slots: ${name}`, () => {
      const flow = demo(name);
      const report = check(flow);
      StepCode.of = () => undefined;
      expect(check(flow)).to.deep.equal(report);
    });

    it(`enter levels as the machine does: ${name}`, () => {
      const flow = demo(name);
      const report = check(flow);
      StepCode.entrance = () => undefined;
      expect(check(flow)).to.deep.equal(report);
    });
  }

  it('are gone on with where a level is entered by a move that learns late where it leads', () => {
    let asked = 0;
    StepCode.entrance = (...given) => {
      const step = entrance.apply(StepCode, given);
      if (step) asked++;
      return step;
    };
    check(demo('lamplighters-round'));
    expect(asked).to.be.greaterThan(0);
  });

  it('draw each level that is in the bag, and the same one again in a route', () => {
    const bag = documentFrom(
      JSON.stringify({
        format: 'crow-lane',
        version: 1,
        name: 'Sack',
        start: 'title',
        orders: { sack: { name: 'Sack', draw: 'bag', levels: ['a', 'b', 'c'] } },
        places: {
          title: {
            name: 'Title',
            kind: 'menu',
            rules: [{ id: 'fill', when: { press: 'Fill' }, do: [{ begin: 'run' }, { draw: 'sack' }], go: { place: 'hall' } }]
          },
          hall: {
            name: 'Hall',
            kind: 'interlude',
            rules: [{ id: 'on', when: { press: 'On' }, go: { move: 'next', order: 'sack', else: { place: 'end' } } }]
          },
          ...Object.fromEntries(
            ['a', 'b', 'c'].map((id) => [
              id,
              {
                name: id,
                kind: 'level',
                rules: [{ id: `won_${id}`, when: { press: 'Win' }, go: { place: 'hall' }, result: 'won' }]
              }
            ])
          ),
          end: { name: 'End', kind: 'ending', outcome: 'won' }
        }
      })
    );
    const report = check(bag);
    expect(essence(report)).to.deep.equal(essence(check(bag, { explorer: explore })));
    const routes = report.checks.filter(({ check: name, subject }) => name === 'place-reached' && 'abc'.includes(subject));
    expect(routes.map(({ route }) => route!.at(-1)!.draws)).to.deep.equal(
      ['a', 'b', 'c'].map((level) => [{ order: 'sack', level }])
    );
    for (const { route, subject } of routes) expect(replay(bag, route!).at(-1)!.entered).to.deep.equal([subject]);
  });
});

type Edit = { what: 'go' | 'if' | 'do' | 'result' | 'order' | 'count'; of: number; from: number };
const edit: fc.Arbitrary<Edit> = fc.record({
  what: fc.constantFrom('go', 'if', 'do', 'result', 'order', 'count'),
  of: fc.nat(),
  from: fc.nat()
});

/** What a designer does to a rule: here it takes something from another one, or changes places with it. */
function edited(document: FlowDocument, { what, of, from }: Edit): void {
  const owners = [...Object.values(document.places), ...Object.values(document.groups), document].filter(
    ({ rules }) => rules.length > 0
  );
  const rules = owners.flatMap((owner) => owner.rules);
  if (what === 'count') {
    const pieces = Object.values(document.places).flatMap((place) => (place.kind === 'level' ? Object.values(place.pieces) : []));
    const piece = pieces[of % Math.max(1, pieces.length)];
    if (piece) piece.count = 1 + (from % 3);
  } else if (what === 'order') {
    const list = owners[of % Math.max(1, owners.length)]?.rules;
    if (list) list.push(list.shift()!);
  } else if (rules.length > 0) {
    const [to, like] = [rules[of % rules.length]!, rules[from % rules.length]!];
    if (what !== 'do' || like.do) Object.assign(to, { [what]: structuredClone(like[what]) });
    if (like[what] === undefined) delete to[what];
  }
}

/** Compares a document after each of some edits, of which the packed check remembers those before. */
function compareEdited(document: FlowDocument, edits: Edit[]): boolean {
  const memory = new Memory();
  if (!checked(document, explorePacked, limit, memory)) return false;
  const now = structuredClone(document);
  for (const each of edits) {
    edited(now, each);
    const packed = checked(now, explorePacked, limit, memory);
    const plain = packed && checked(now, explore, limit);
    if (!packed || !plain) return false;
    expect(essence(packed)).to.deep.equal(essence(plain));
  }
  return true;
}

describe('code of an earlier check', () => {
  it('says what the plain exploration says after each edit', () => {
    let compared = 0;
    fc.assert(
      fc.property(randomFlow, fc.boolean(), fc.array(edit, { minLength: 1, maxLength: 4 }), (document, twins, edits) => {
        if (compareEdited(twins ? withTwins(document) : document, edits)) compared++;
      }),
      { numRuns: Math.ceil(documents / 10), seed }
    );
    expect(compared).to.be.greaterThan(documents / 40);
  }).timeout(20 * 60_000);

  it('shows it when it is taken for that of other rules', () => {
    const known = KnownCodes.prototype as unknown as { textOfRule: () => string };
    const { textOfRule } = known;
    known.textOfRule = () => '';
    try {
      const property = fc.property(randomFlow, fc.array(edit, { minLength: 1, maxLength: 4 }), (document, edits) => {
        compareEdited(document, edits);
      });
      expect(fc.check(property, { numRuns: 200, seed, endOnFailure: true }).failed).to.equal(true);
    } finally {
      known.textOfRule = textOfRule;
    }
  }).timeout(5 * 60_000);
});

describe('what leads to a state', () => {
  /** States by their numbers: from which each was found first, those past the limit last. */
  const random = fc
    .array(fc.nat(3), { minLength: 1, maxLength: 30 })
    .chain((found) => fc.tuple(fc.constant(found), fc.array(fc.nat(), { maxLength: 8 })));

  it('is the one it was found first from, and as many events more', () => {
    fc.assert(
      fc.property(random, ([found, sought]) => {
        const edges = new Edges();
        const parents = [-1];
        for (const [from, each] of found.entries()) {
          if (from >= parents.length) break;
          edges.looks(parents.length);
          for (let n = 0; n < each; n++) parents.push(from);
        }
        for (const each of sought) {
          const from = each % parents.length;
          edges.finds(from);
          parents.push(from);
        }
        const count = parents.length;
        expect(parents.map((_, state) => edges.parentOf(state, count))).to.deep.equal(parents);
        const length = (state: number): number => (parents[state]! < 0 ? 0 : length(parents[state]!) + 1);
        expect([...edges.lengths(count)]).to.deep.equal(parents.map((_, state) => length(state)));
        const { children, looked } = edges.facts(count);
        const listed = Array.from({ length: looked }, (_, from) =>
          Array.from({ length: children[from + 1]! - children[from]! }, (__, n) => children[from]! + n)
        );
        const first = count - sought.length;
        expect(listed).to.deep.equal(
          listed.map((_, from) => parents.flatMap((parent, state) => (parent === from && state < first ? [state] : [])))
        );
      }),
      { seed }
    );
  });
});

describe('the route of a verdict', () => {
  const holding = (report: Report) =>
    report.checks.find(({ check: name, subject }) => name === 'place-reached' && subject === 'loft')!;

  it('is worked out when it is asked for, and then is there', () => {
    const found = holding(check(flowOf(threeLamps)));
    const { route: _, ...rest } = holding(check(flowOf(threeLamps)));
    expect(Object.getOwnPropertyDescriptor(found, 'route')!.value).to.equal(undefined);
    expect(withoutRoute(found)).to.deep.equal(rest);
    expect(Object.getOwnPropertyDescriptor(found, 'route')!.value).to.equal(undefined);
    expect(found.route).to.have.length(found.length!);
    expect(Object.getOwnPropertyDescriptor(found, 'route')!.value).to.equal(found.route);
  });

  it('is there for who writes or copies the report', () => {
    const report = check(flowOf(threeLamps));
    expect(structuredClone(report)).to.deep.equal(report);
    expect((JSON.parse(JSON.stringify(report)) as Report).checks.map(({ route }) => route)).to.deep.equal(
      report.checks.map(({ route }) => route)
    );
  });
});
