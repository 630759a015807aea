/** The packed exploration against the plain one: every verdict, route length and arrival range, on random documents. */
import { expect } from 'chai';
import fc from 'fast-check';
import { check, finish } from '../src/check/check.ts';
import { explore } from '../src/explore/plain.ts';
import { explorePacked, type Inspected } from '../src/explore/packed/explore.ts';
import { layoutWords, slotNames, stateWords } from '../src/explore/packed/print.ts';
import { components } from '../src/graph/components.ts';
import { Heap } from '../src/explore/packed/heap.ts';
import { mergedOf } from '../src/explore/packed/merging.ts';
import { needsOf, type Needs } from '../src/explore/packed/needs.ts';
import { Slots } from '../src/explore/packed/slots.ts';
import { StateTable } from '../src/explore/packed/table.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { prepare } from '../src/play/flow.ts';
import { essence, seed } from './support/compare.ts';
import { demo, flowOf, smallDemo, threeLamps } from './support/flows.ts';
import { long } from './support/everyday.ts';

describe('packed exploration', () => {
  for (const name of ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms']) {
    (name === 'ferry-rooms' ? it : long)(`agrees on ${name}`, () => {
      const document = smallDemo(name);
      const plain = check(document, { explorer: explore });
      expect(plain.complete).to.equal(true);
      expect(essence(check(document, { explorer: explorePacked }))).to.deep.equal(essence(plain));
    });
  }

  it('keeps of the worked example only what matters', () => {
    expect(check(flowOf(threeLamps), { explorer: explorePacked }).states).to.equal(25);
  });

  it('leaves open what its limit cuts', () => {
    const report = check(flowOf(threeLamps), { explorer: explorePacked, limit: 3 });
    expect(report.complete).to.equal(false);
    const outcomes = new Set(report.checks.filter(({ check: name }) => name === 'place-reached').map(({ outcome }) => outcome));
    expect([...outcomes].sort()).to.deep.equal(['holds', 'open']);
  });
});

describe('packed exploration: what it leaves out of a state', () => {
  const press = (id: string, label: string, rest: object) => ({ id, when: { press: label }, ...rest });
  const lamp = { lamp: { name: 'Lamp', kind: 'pickup', count: 2 } };
  const orders = {
    main: { name: 'Main', draw: 'fixed', levels: ['one', 'two'] },
    back: { name: 'Back', draw: 'fixed', levels: ['two', 'one'] }
  };
  const level = (rules: object[] = [], rest: object = {}) => ({ name: 'Level', kind: 'level', rules, ...rest });
  const menu = (...rules: object[]) => ({ name: 'Menu', kind: 'menu', rules });
  const end = { name: 'End', kind: 'ending', outcome: 'won' };
  const number = { name: 'N', type: 'number', initial: 0, min: 0, max: 3, scope: 'run' };
  const table = {
    night: {
      name: 'Night',
      draw: 'table',
      levels: ['one', 'two'],
      rows: [
        ['one', 'two'],
        ['two', 'one']
      ]
    }
  };

  /** For each part of a state: a flow that needs it, and the needs with that part left out. */
  const parts: [string, Record<string, unknown>, (needs: Needs) => Needs][] = [
    [
      'variables that are assigned',
      {
        variables: { n: number },
        places: {
          title: menu(
            press('u', 'Up', { do: [{ set: 'n', to: 'n + 1' }] }),
            press('o', 'Out', { if: 'n = 2', go: { place: 'end' } })
          ),
          end
        }
      },
      (needs) => ({ ...needs, assigned: new Set() })
    ],
    [
      'low values of numbers whose high ones are one',
      {
        variables: { n: { ...number, max: 9 } },
        places: {
          title: menu(
            press('u', 'Up', { do: [{ set: 'n', to: 'n + 1' }] }),
            press('o', 'Out', { if: 'n = 2', go: { place: 'end' } })
          ),
          end
        }
      },
      (needs) => ({ ...needs, merged: new Map([['n', 1]]) })
    ],
    [
      'pieces that are asked for',
      {
        places: {
          title: level([{ id: 'w', when: { holds: 'left(lamp) = 0' }, go: { place: 'end' }, result: 'won' }], { pieces: lamp }),
          end
        }
      },
      (needs) => ({ ...needs, pieces: () => new Set() })
    ],
    [
      'levels asked to be won',
      {
        places: {
          title: menu(press('p', 'Play', { go: { place: 'one' } }), press('o', 'Out', { if: 'won(one)', go: { place: 'end' } })),
          one: level([press('w', 'Win', { go: { place: 'title' }, result: 'won' })]),
          end
        }
      },
      (needs) => ({ ...needs, won: new Set() })
    ],
    [
      'the latest level',
      {
        places: {
          title: menu(press('p', 'Play', { go: { place: 'one' } }), press('a', 'Again', { go: { move: 'again' } })),
          one: level([press('q', 'Quit', { go: { place: 'title' } })])
        }
      },
      (needs) => ({ ...needs, latest: false })
    ],
    [
      'the current order',
      {
        orders,
        places: {
          title: menu(press('b', 'Back', { go: { move: 'first', order: 'back' } })),
          one: level([press('n1', 'Next', { go: { move: 'next' } })]),
          two: level([press('n2', 'Next', { go: { move: 'next', else: { place: 'title' } } })])
        }
      },
      (needs) => ({ ...needs, current: false })
    ],
    [
      'positions along an order',
      {
        orders,
        places: {
          title: menu(press('b', 'Go', { go: { move: 'next', order: 'main' } })),
          one: level([press('n1', 'Next', { go: { move: 'next', order: 'main' } })]),
          two: level([press('n2', 'Next', { go: { move: 'next', order: 'main', else: { place: 'end' } } })]),
          end
        }
      },
      (needs) => ({ ...needs, positions: new Set() })
    ],
    [
      'drawn rows',
      {
        orders: table,
        places: {
          title: menu(press('d', 'Draw', { do: [{ draw: 'night' }] }), press('g', 'Go', { go: { move: 'next' } })),
          one: level(),
          two: level()
        }
      },
      (needs) => ({ ...needs, drawn: new Set() })
    ],
    [
      'the bookmark',
      {
        places: {
          title: menu(press('p', 'Play', { go: { place: 'one' } }), press('r', 'Resume', { go: { move: 'resume' } })),
          one: level([press('s', 'Save', { do: [{ save: 'always' }], go: { place: 'title' } })])
        }
      },
      (needs) => ({ ...needs, bookmark: false })
    ],
    [
      'the run in the bookmark',
      {
        variables: { n: number },
        places: {
          title: menu(
            press('p', 'Play', { go: { place: 'one' } }),
            press('b', 'New', { do: [{ begin: 'run' }] }),
            press('l', 'Load', { go: { move: 'load' } })
          ),
          one: level([
            press('s', 'Save', {
              do: [{ set: 'n', to: '2' }, { save: 'always' }, { set: 'n', to: '0' }],
              go: { place: 'title' }
            }),
            press('o', 'Out', { if: 'n = 2', go: { place: 'end' } })
          ]),
          end
        }
      },
      (needs) => ({ ...needs, load: false })
    ],
    [
      'the progress of saves',
      {
        variables: { n: number },
        places: {
          title: menu(
            press('a', 'Two', { if: 'n = 0', do: [{ set: 'n', to: '1' }], go: { place: 'two' } }),
            press('b', 'One', { if: 'n = 1', do: [{ set: 'n', to: '2' }], go: { place: 'one' } }),
            press('c', 'Resume', { if: 'n = 2', do: [{ set: 'n', to: '3' }], go: { move: 'resume' } })
          ),
          one: level([press('s1', 'Save', { do: [{ save: 'forward' }], go: { place: 'title' } })]),
          two: level(
            [
              press('s2', 'Save', { if: 'n = 1', do: [{ save: 'forward' }], go: { place: 'title' } }),
              press('x', 'Done', { if: 'n = 3', go: { place: 'end' } })
            ],
            { progress: 50 }
          ),
          end
        }
      },
      (needs) => ({ ...needs, progress: false, thisRun: false })
    ],
    [
      'attempts that are over',
      {
        places: {
          title: level([press('w', 'Win', { go: { place: 'cheer', over: true }, result: 'won' })]),
          cheer: menu(press('o', 'Out', { go: { place: 'end' } })),
          end
        }
      },
      (needs) => ({ ...needs, over: false })
    ],
    [
      'whether a value that was set at home is stale',
      {
        variables: { n: number },
        places: {
          title: menu(
            press('u', 'Up', { do: [{ set: 'n', to: '1' }] }),
            press('p', 'Play', { if: 'n = 1', go: { place: 'one' } })
          ),
          one: level()
        }
      },
      (needs) => ({ ...needs, staleness: { ...needs.staleness, follow: new Set(['n']) } })
    ],
    [
      'what is stale where a run ends',
      {
        variables: { n: number },
        places: {
          title: menu(press('p', 'Play', { go: { place: 'one' } })),
          one: level([press('w', 'Win', { do: [{ set: 'n', to: '1' }], go: { place: 'end' }, result: 'won' })]),
          end: { ...end, rules: [press('h', 'Home', { go: { place: 'title' } })] }
        }
      },
      (needs) => ({ ...needs, staleness: { ...needs.staleness, places: new Set() } })
    ],
    [
      'where play stands in an order that lists not all levels',
      {
        orders: { main: { name: 'Main', draw: 'fixed', levels: ['two'] } },
        places: {
          title: menu(press('p', 'Play', { go: { place: 'two' } }), press('a', 'Again', { go: { move: 'again' } })),
          one: level([press('b', 'Back', { go: { move: 'previous', order: 'main', else: { place: 'end' } } })]),
          two: level([press('o', 'On', { go: { place: 'one' } })]),
          end
        }
      },
      (needs) => ({ ...needs, line: 'main' })
    ]
  ];
  /** The states themselves: leaving something out may lose states before it loses a verdict. */
  const states = (document: FlowDocument, needs?: (needs: Needs) => Needs) => {
    const flow = prepare(document);
    const facts = finish(explorePacked(flow, 10_000, undefined, needs && { needs: needs(needsOf(flow)) }));
    return { verdicts: essence(check(document, { explorer: () => giving(facts) })), count: facts.count };
  };
  // eslint-disable-next-line require-yield
  function* giving<T>(value: T): Generator<never, T> {
    return value;
  }
  for (const [name, document, without] of parts) {
    it(`keeps ${name}, and it shows when they are left out`, () => {
      const whole = states(flowOf(document));
      expect(whole.verdicts).to.deep.equal(essence(check(flowOf(document), { explorer: explore })));
      expect(states(flowOf(document), without)).not.to.deep.equal(whole);
    });
  }
});

describe('an event behind one whose move led nowhere', () => {
  it('begins as if that had not been tried', () => {
    const press = (id: string, label: string, rest: object) => ({ id, when: { press: label }, ...rest });
    const document = flowOf({
      variables: { n: { name: 'N', type: 'number', initial: 0, min: 0, max: 1, scope: 'kept' } },
      signals: { ring: { name: 'Ring' } },
      orders: { sack: { name: 'Sack', draw: 'bag', levels: ['one'] } },
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            press('x', 'X', { go: { place: 'hall' } }),
            press('y', 'Y', { do: [{ raise: 'ring' }] }),
            { id: 'heard', when: { hear: 'ring' }, do: [{ set: 'n', to: '1' }] }
          ]
        },
        // nothing has been drawn: the move leads nowhere
        hall: { name: 'Hall', kind: 'menu', rules: [{ id: 'on', when: { arrive: true }, go: { move: 'next', order: 'sack' } }] },
        one: { name: 'One', kind: 'level' }
      }
    });
    const report = check(document);
    expect(essence(report)).to.deep.equal(essence(check(document, { explorer: explore })));
    expect(report.arrivals.title!.n).to.deep.equal({ min: 0, max: 0 });
  });
});

describe('numbers of which high values are one', () => {
  const score = { name: 'Score', type: 'number', initial: 0, min: 0, max: 1_000_000_000, scope: 'run' };
  const shop = (rest: object) =>
    flowOf({
      variables: { score },
      places: {
        title: { name: 'Title', kind: 'menu', rules: [{ id: 'b', when: { press: 'Begin' }, go: { place: 'one' } }] },
        one: {
          name: 'One',
          kind: 'level',
          pieces: { gem: { name: 'Gem', kind: 'pickup', count: 3 } },
          rules: [
            { id: 'g', when: { collect: 'gem' }, do: [{ set: 'score', to: 'score + 100' }] },
            { id: 'w', when: { press: 'Win' }, go: { place: 'end' }, result: 'won' }
          ]
        },
        end: { name: 'End', kind: 'ending', outcome: 'won', ...rest }
      }
    });

  it('are told as they are, however high', () => {
    const report = check(shop({}));
    expect(report.complete).to.equal(true);
    expect(report.states).to.be.lessThan(20);
    expect(report.arrivals.end!.score).to.deep.equal({ min: 0, max: 300 });
  });

  it('reach their maximum where a circle adds to them', () => {
    const report = check(shop({ rules: [{ id: 'h', when: { press: 'On' }, go: { place: 'title' } }] }));
    expect(report.arrivals.end!.score).to.deep.equal({ min: 0, max: 1_000_000_000 });
    expect(report.checks.find(({ check: name }) => name === 'value-clamped')).to.include({ outcome: 'fails', subject: 'score' });
  });

  it('are told lowest too', () => {
    const report = check(
      shop({ rules: [{ id: 'h', when: { press: 'On' }, do: [{ set: 'score', to: '50' }], go: { place: 'title' } }] })
    );
    expect(report.arrivals.title!.score).to.deep.equal({ min: 0, max: 50 });
    expect(report.arrivals.one!.score).to.deep.equal({ min: 0, max: 50 });
    expect(report.arrivals.end!.score).to.deep.equal({ min: 0, max: 350 });
  });

  it('are told of a rule that reads one only in the middle of an event', () => {
    const report = check(
      flowOf({
        variables: { score: { ...score, max: 90 } },
        places: {
          title: {
            name: 'Title',
            kind: 'menu',
            rules: [
              { id: 'a', when: { arrive: true }, do: [{ set: 'score', to: '70' }] },
              { id: 'b', when: { arrive: true }, if: 'score < 3' },
              { id: 'c', when: { arrive: true }, do: [{ set: 'score', to: '0' }] }
            ]
          }
        }
      })
    );
    expect(report.checks.find(({ check: name, subject }) => name === 'rule-fires' && subject === 'b')!.why![0]!.text).to.include(
      'always 70'
    );
  });

  it('are not merged where something reads them otherwise', () => {
    const other = (to: string) =>
      flowOf({
        variables: { score, oil: { ...score, name: 'Oil' } },
        places: { title: { name: 'T', kind: 'menu', rules: [{ id: 'a', when: { press: 'A' }, do: [{ set: 'score', to }] }] } }
      });
    expect([...mergedOf(prepare(other('score + 1'))).keys()]).to.deep.equal(['score', 'oil']);
    expect([...mergedOf(prepare(other('score - 1'))).keys()]).to.deep.equal(['oil']);
    expect([...mergedOf(prepare(other('oil + 1'))).keys()]).to.deep.equal([]);
    expect([...mergedOf(prepare(other('score * 2'))).keys()]).to.deep.equal(['oil']);
  });
});

describe('strongly connected components', () => {
  it('are those nodes that reach each other, numbered after what they lead to', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(11), fc.nat(11)), { maxLength: 30 }), (edges) => {
        const reach = Array.from({ length: 12 }, (_, a) => Array.from({ length: 12 }, (_, b) => a === b));
        for (const [a, b] of edges) reach[a]![b] = true;
        for (let k = 0; k < 12; k++)
          for (let a = 0; a < 12; a++) for (let b = 0; b < 12; b++) if (reach[a]![k] && reach[k]![b]) reach[a]![b] = true;
        const { component } = components(12, (node, visit) => edges.forEach(([a, b]) => a === node && visit(b)));
        for (let a = 0; a < 12; a++) {
          for (let b = 0; b < 12; b++) {
            expect(component[a] === component[b]).to.equal(reach[a]![b] && reach[b]![a]);
            if (reach[a]![b]) expect(component[b]).to.be.at.most(component[a]!);
          }
        }
      })
    );
  });
});

describe('a heap', () => {
  it('gives what it was given, the smallest key first', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(50)), (keys) => {
        const heap = new Heap();
        keys.forEach((key, thing) => heap.add(key, thing));
        const taken = [];
        for (let next = heap.take(); next; next = heap.take()) {
          expect(keys[next.thing]).to.equal(next.key);
          taken.push(next.key);
        }
        expect(taken).to.deep.equal([...keys].sort((a, b) => a - b));
      })
    );
  });
});

describe('what the packed engine keeps, in words', () => {
  it('names every slot that is kept, and says of a state what is not as at the start', () => {
    for (const name of ['lamplighters-round', 'ferry-rooms', 'night-market']) {
      const document = demo(name);
      const flow = prepare(document);
      let found: Inspected | undefined;
      const facts = finish(explorePacked(flow, 50, undefined, { inspect: (inspected) => (found = inspected) }));
      const { at, load, codeOf } = found!;
      const names = slotNames(flow, at);
      at.packing.fields.forEach((field, slot) => field && expect(names.has(slot), `slot ${slot} of ${name}`).to.equal(true));
      expect(layoutWords(flow, at).split('\n')).to.have.length(1 + at.packing.fields.filter(Boolean).length);
      expect(stateWords(flow, at, load(0))).to.include(facts.stack(0)[0]!);
      expect(stateWords(flow, at, load(1))).not.to.equal(stateWords(flow, at, load(0)));
      expect(codeOf(document.start).map(({ event }) => JSON.stringify(event)).length).to.be.greaterThan(0);
      expect(() => codeOf('nowhere')).to.throw('There is no place "nowhere"');
    }
  });
});

describe('packed states', () => {
  it('come out of their words as they went in', () => {
    const field = fc
      .tuple(fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }), fc.integer({ min: 0, max: 40 }))
      .map(([min, spread]) => ({ min, max: Math.min(2 ** 31 - 1, min + Math.floor(2 ** (spread * 0.8)) - 1) }));
    fc.assert(
      fc.property(
        fc.array(field, { minLength: 1, maxLength: 30 }),
        fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
        (fields, random) => {
          const slots = new Slots();
          fields.forEach(({ min, max }) => slots.add(min, max));
          const { words, pack, unpack } = slots.packing();
          const values = Int32Array.from(fields, ({ min, max }) =>
            Math.floor(min + (random.next().value as number) * (max - min))
          );
          const store = new Int32Array(words + 1);
          pack(values, store);
          expect(store[words]).to.equal(0);
          const back = slots.initials();
          unpack(store, back);
          expect([...back]).to.deep.equal([...values]);
        }
      )
    );
  });

  it('are found again, each once', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 4 }), fc.array(fc.nat(1600), { maxLength: 6000 }), (width, values) => {
        const table = new StateTable(width);
        const known = new Map<string, number>();
        for (const value of values) {
          const words = Int32Array.from({ length: width }, (_, word) => (word % 2 === 0 ? value % 40 : Math.floor(value / 40)));
          const key = words.join();
          if (!known.has(key)) known.set(key, known.size);
          expect(table.find(words)).to.equal(known.get(key));
          const from = known.get(key)! * width;
          expect(table.words.slice(from, from + width)).to.deep.equal(words);
        }
        expect(table.count).to.equal(known.size);
      }),
      { numRuns: 20, seed }
    );
  });
});
