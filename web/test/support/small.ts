/** A small flow of our own: two levels, a menu and an ending. */
export const small = {
  format: 'crow-lane',
  version: 1,
  name: 'Two lamps',
  start: 'title',
  orders: { main: { name: 'Round', draw: 'fixed', levels: ['quay', 'loft'] } },
  places: {
    title: { name: 'Title', kind: 'menu', rules: [{ id: 'begin', when: { press: 'Begin' }, go: { move: 'first' } }] },
    quay: {
      name: 'Quay Street',
      kind: 'level',
      pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 3 } },
      rules: [{ id: 'lit', when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'aglow' } }, result: 'won' }]
    },
    loft: {
      name: 'Net Loft',
      kind: 'level',
      pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 2 } },
      rules: [{ id: 'lit2', when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'aglow' } }, result: 'won' }]
    },
    aglow: {
      name: 'The town aglow',
      kind: 'ending',
      outcome: 'won',
      rules: [{ id: 'home', when: { press: 'Title' }, go: { place: 'title' } }]
    }
  }
};
