/** Small games, each with the mistake that designers make at one of their jobs. */

export const press = (id: string, label: string, rest: object) => ({ id, when: { press: label }, ...rest });
export const lamps = (count: number) => ({ lamp: { name: 'Lamp', kind: 'pickup', count } });
export const won = (id: string, go: object, when: object = { holds: 'left(lamp) = 0' }) => ({ id, when, result: 'won', go });
export const level = (name: string, rules: object[], pieces: object = lamps(1), more: object = {}) => ({
  name,
  kind: 'level',
  pieces,
  rules,
  ...more
});
const menu = (name: string, ...rules: object[]) => ({ name, kind: 'menu', rules });
const interlude = (name: string, ...rules: object[]) => ({ name, kind: 'interlude', rules });
export const end = {
  name: 'The end',
  kind: 'ending',
  outcome: 'won',
  rules: [press('home', 'Menu', { go: { place: 'title' } })]
};
const number = (name: string, initial: number, max: number) => ({ name, type: 'number', initial, min: 0, max, scope: 'run' });
const fixedOrder = (...levels: string[]) => ({ main: { name: 'Main', draw: 'fixed', levels } });
const begin = (more: object = {}) => press('begin', 'Begin', { go: { move: 'first', order: 'main' }, ...more });
const next = { move: 'next', else: { place: 'end' } };

const game = (name: string, parts: object) => ({ format: 'crow-lane', version: 1, name, start: 'title', ...parts });

/** Two levels with rules alike. */
const twoLevels = (rules: (n: number) => object[], pieces: object) => ({
  one: level('One', rules(0), pieces),
  two: level('Two', rules(1), pieces)
});

/** Three levels, and a door that opens by how many of them are won. */
export const lockedBy = (condition: string) =>
  game('A lock by number', {
    orders: fixedOrder('one', 'two', 'three'),
    places: {
      title: menu(
        'Title',
        begin(),
        press('vault', 'Vault', { if: condition, go: { place: 'end' } }),
        press('stop', 'Stop', { go: { place: 'end' } })
      ),
      ...Object.fromEntries(
        ['one', 'two', 'three'].map((id) => [id, level(id, [won(`w_${id}`, { move: 'next', else: { place: 'title' } })])])
      ),
      end
    }
  });

export const jobs = {
  undrawn: game('A shuffled run', {
    orders: {
      main: {
        name: 'Rounds',
        draw: 'table',
        levels: ['one', 'two'],
        rows: [
          ['one', 'two'],
          ['two', 'one']
        ]
      }
    },
    places: {
      title: menu('Title', begin(), press('stop', 'Stop', { go: { place: 'end' } })),
      one: level('One', [won('w1', next)]),
      two: level('Two', [won('w2', next)]),
      end
    }
  }),
  balls: game('Three balls', {
    variables: { balls: number('Balls', 2, 2) },
    orders: fixedOrder('court'),
    places: {
      title: menu('Title', begin({ do: [{ begin: 'run' }] })),
      court: level(
        'Court',
        [
          { id: 'miss', when: { touch: 'floor' }, do: [{ set: 'balls', to: 'balls - 1' }] },
          { id: 'lost', when: { holds: 'balls = 0' }, result: 'lost', go: { place: 'over' } },
          won('w', { place: 'end' })
        ],
        { ...lamps(1), floor: { name: 'Floor', kind: 'hazard' } }
      ),
      over: interlude('Game over', { id: 'again', when: { after: 5 }, go: { move: 'again' } }),
      end
    }
  }),
  fall: game('A fall', {
    variables: { score: number('Score', 0, 40) },
    orders: fixedOrder('one', 'two'),
    places: {
      title: menu('Title', begin({ do: [{ begin: 'run' }] })),
      ...twoLevels(
        (n) => [
          { id: `gain${n}`, when: { collect: 'lamp' }, do: [{ set: 'score', to: 'score + 10' }] },
          won(`w${n}`, next),
          { id: `fall${n}`, when: { touch: 'pit' }, result: 'lost', go: { place: 'black' } }
        ],
        { ...lamps(2), pit: { name: 'Pit', kind: 'hazard' } }
      ),
      black: interlude('Black', { id: 'after', when: { after: 1 }, go: { move: 'first' } }),
      end: { ...end, message: 'Score: {score}' }
    }
  }),
  kept: game('A second game', {
    variables: { score: { ...number('Score', 0, 40), scope: 'kept' } },
    places: {
      title: menu('Title', begin({ do: [{ begin: 'run' }], go: { place: 'one' } })),
      one: level(
        'One',
        [{ id: 'gain', when: { collect: 'lamp' }, do: [{ set: 'score', to: 'score + 10' }] }, won('w', { place: 'end' })],
        lamps(2)
      ),
      end: { ...end, message: 'Score: {score}' }
    }
  }),
  score: game('A target score', {
    variables: { score: number('Score', 0, 9) },
    orders: fixedOrder('one', 'two'),
    rules: [{ id: 'win', when: { holds: 'score >= 3' }, result: 'won', go: { place: 'done' } }],
    places: {
      title: menu('Title', begin({ do: [{ begin: 'run' }] })),
      ...twoLevels((n) => [{ id: `c${n}`, when: { collect: 'lamp' }, do: [{ set: 'score', to: 'score + 1' }] }], lamps(3)),
      done: interlude('Well done', { id: 'on', when: { after: 2 }, go: next }),
      end
    }
  }),
  options: game('Options from two places', {
    places: {
      title: menu(
        'Title',
        press('opt', 'Options', { go: { place: 'options' } }),
        press('stop', 'Stop', { go: { place: 'end' } })
      ),
      options: menu('Options', press('back', 'Back', { go: { move: 'back' } })),
      end
    }
  }),
  last: game('One rule for all', {
    orders: fixedOrder('one', 'two'),
    rules: [won('all', { move: 'next' }, { touch: 'flag' })],
    places: {
      title: menu('Title', begin()),
      one: level('One', [], { flag: { name: 'Flag', kind: 'exit' } }),
      two: level('Two', [], { flag: { name: 'Flag', kind: 'exit' } }),
      end
    }
  }),
  endless: game('Round and round', {
    orders: fixedOrder('one', 'two'),
    places: {
      title: menu('Title', begin()),
      one: level('One', [won('w1', { place: 'two' })]),
      two: level('Two', [won('w2', { place: 'one' })])
    }
  }),
  signal: game('Won as a signal', {
    signals: { victory: { name: 'Won' } },
    places: {
      title: menu('Title', press('begin', 'Begin', { go: { place: 'arena' } })),
      arena: level('Arena', [
        { id: 'all', when: { holds: 'left(lamp) = 0' }, do: [{ raise: 'victory' }] },
        press('leave', 'Leave', { go: { place: 'end' } })
      ]),
      end
    }
  }),
  lock: lockedBy('wins(main) >= 2')
};
