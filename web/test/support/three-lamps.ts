/** The worked example of docs/flow-format.md, section 7, in the names a designer sees: what wiring it by hand must give. */
export const threeLamps = {
  name: 'Three lamps',
  start: 'Title',
  variables: { Lives: { name: 'Lives', type: 'number', initial: 2, min: 0, max: 2, scope: 'run' } },
  orders: { Round: { name: 'Round', draw: 'fixed', levels: ['Quay Street', 'Net Loft'] } },
  rules: [
    {
      when: { touch: 'Harbour water' },
      do: [{ set: 'Lives', to: 'lives - 1' }],
      go: { place: 'Overboard' },
      result: 'lost'
    }
  ],
  places: {
    Title: {
      name: 'Title',
      kind: 'menu',
      rules: [{ when: { press: 'Begin' }, go: { move: 'first', order: 'Round' } }]
    },
    'Quay Street': {
      name: 'Quay Street',
      kind: 'level',
      pieces: {
        Lamp: { name: 'Lamp', kind: 'pickup', count: 3 },
        'Harbour water': { name: 'Harbour water', kind: 'hazard' }
      },
      rules: [{ when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'The town aglow' } }, result: 'won' }]
    },
    'Net Loft': {
      name: 'Net Loft',
      kind: 'level',
      pieces: { Lamp: { name: 'Lamp', kind: 'pickup', count: 2 } },
      rules: [{ when: { holds: 'taken(lamp) >= 2' }, go: { move: 'next', else: { place: 'The town aglow' } }, result: 'won' }]
    },
    Overboard: {
      name: 'Overboard',
      kind: 'interlude',
      rules: [
        { when: { arrive: true }, if: 'lives = 0', go: { place: 'Lights out' } },
        { when: { after: 2 }, go: { move: 'again' } }
      ]
    },
    'The town aglow': {
      name: 'The town aglow',
      kind: 'ending',
      outcome: 'won',
      rules: [{ when: { press: 'Title' }, go: { place: 'Title' } }]
    },
    'Lights out': {
      name: 'Lights out',
      kind: 'ending',
      outcome: 'lost',
      rules: [{ when: { press: 'Title' }, go: { place: 'Title' } }]
    }
  }
};

/** A saved document with names for ids and without what says nothing: as a designer reads it. */
export function inNames(document: any): unknown {
  const names = new Map<string, string>();
  for (const map of [document.places, document.variables, document.orders, document.groups, document.signals])
    for (const [id, { name }] of Object.entries<{ name: string }>(map)) names.set(id, name);
  for (const { pieces } of Object.values<any>(document.places))
    for (const [id, { name }] of Object.entries<{ name: string }>(pieces ?? {})) names.set(id, name);
  const texts = new Set(['name', 'if', 'to', 'holds', 'press', 'kind', 'move', 'result', 'outcome', 'type', 'draw', 'scope']);
  const plain = (value: any, key: string): any => {
    if (typeof value === 'string') return texts.has(key) ? value : (names.get(value) ?? value);
    if (Array.isArray(value)) return value.map((each) => plain(each, key));
    if (value === null || typeof value !== 'object') return value;
    const entries = Object.entries<any>(value)
      .filter(([name, inner]) => name !== 'id' && !(typeof inner === 'object' && Object.keys(inner).length === 0))
      .map(([name, inner]) => [names.get(name) ?? name, plain(inner, name)] as const);
    return Object.fromEntries(entries);
  };
  const { format: _format, version: _version, ...rest } = document;
  return plain(rest, '');
}
