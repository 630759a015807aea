import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { read, validate } from '../../src/document/read.ts';
import type { FlowDocument, Event } from '../../src/document/types.ts';
import { eventsIn } from '../../src/play/events.ts';
import { prepare, type Flow } from '../../src/play/flow.ts';
import { begin, handle } from '../../src/play/handle.ts';
import { active, bottom, type State } from '../../src/play/state.ts';
import { leftOf, valueOf } from '../../src/play/turn.ts';

/** A document from the parts a test is about; the rest is filled in. Fails the test when the shape is wrong. */
export function flowOf(parts: Record<string, unknown>): FlowDocument {
  const result = validate({ format: 'crow-lane', version: 1, name: 'Test', start: 'title', ...parts });
  expect(result.errors, 'errors of the test document').to.equal(undefined);
  return result.document!;
}

export function documentFrom(text: string): FlowDocument {
  const result = read(text);
  expect(result.errors, 'errors of the test document').to.equal(undefined);
  return result.document!;
}

/** A document of the folder `demo`, by its name. */
export const demo = (name: string): FlowDocument =>
  documentFrom(readFileSync(join(__dirname, `../../../demo/${name}.crow.json`), 'utf8'));

/** The same with one life, one saved game and one thing of a kind at a spot: all that it is made of, in a tenth of the states. */
export function smallDemo(name: string): FlowDocument {
  const document = demo(name);
  const { lives } = document.variables;
  if (lives?.type === 'number') lives.initial = lives.max = 1;
  if (document.saves) document.saves.slots = 1;
  for (const place of Object.values(document.places))
    if (place.kind === 'level')
      for (const { at = [] } of Object.values(place.pieces))
        if (!Array.isArray(at)) for (const spot of Object.keys(at)) at[spot] = 1;
  return document;
}

/** Plays a document event by event, the first of several draws unless told otherwise. */
export class Player {
  readonly flow: Flow;
  state: State;
  constructor(document: FlowDocument) {
    this.flow = prepare(document);
    this.state = begin(this.flow)!.results[0]!.state!;
  }
  do(...events: Event[]): this {
    for (const event of events) {
      const possible = eventsIn(this.flow, this.state).map((each) => JSON.stringify(each));
      expect(possible, `events in ${this.at}`).to.include(JSON.stringify(event));
      const { state } = handle(this.flow, this.state, event).results[0]!;
      expect(state, `${JSON.stringify(event)} settles`).not.to.equal(undefined);
      this.state = state!;
    }
    return this;
  }
  press(...labels: string[]): this {
    return this.do(...labels.map((press) => ({ press })));
  }
  get events(): Event[] {
    return eventsIn(this.flow, this.state);
  }
  get at(): string {
    return active(this.state).place;
  }
  get bottom(): string {
    return bottom(this.state).place;
  }
  value(id: string) {
    return valueOf(this.flow, this.state, id);
  }
  left(piece: string) {
    return leftOf(this.flow, this.state, piece);
  }
}

export const threeLamps = {
  name: 'Three lamps',
  start: 'title',
  variables: { lives: { name: 'Lives', type: 'number', initial: 2, min: 0, max: 2, scope: 'run' } },
  orders: { main: { name: 'Round', draw: 'fixed', levels: ['quay', 'loft'] } },
  rules: [
    { id: 'slip', when: { touch: 'water' }, do: [{ set: 'lives', to: 'lives - 1' }], go: { place: 'splash' }, result: 'lost' }
  ],
  places: {
    title: {
      name: 'Title',
      kind: 'menu',
      rules: [{ id: 'begin', when: { press: 'Begin' }, go: { move: 'first', order: 'main' } }]
    },
    quay: {
      name: 'Quay Street',
      kind: 'level',
      pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 3 }, water: { name: 'Harbour water', kind: 'hazard' } },
      rules: [{ id: 'lit', when: { holds: 'left(lamp) = 0' }, go: { move: 'next', else: { place: 'aglow' } }, result: 'won' }]
    },
    loft: {
      name: 'Net Loft',
      kind: 'level',
      pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 2 } },
      rules: [{ id: 'lit2', when: { holds: 'taken(lamp) >= 2' }, go: { move: 'next', else: { place: 'aglow' } }, result: 'won' }]
    },
    splash: {
      name: 'Overboard',
      kind: 'interlude',
      rules: [
        { id: 'over', when: { arrive: true }, if: 'lives = 0', go: { place: 'dark' } },
        { id: 'retry', when: { after: 2 }, go: { move: 'again' } }
      ]
    },
    aglow: {
      name: 'The town aglow',
      kind: 'ending',
      outcome: 'won',
      rules: [{ id: 'home', when: { press: 'Title' }, go: { place: 'title' } }]
    },
    dark: {
      name: 'Lights out',
      kind: 'ending',
      outcome: 'lost',
      rules: [{ id: 'home2', when: { press: 'Title' }, go: { place: 'title' } }]
    }
  }
};
