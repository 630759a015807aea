/** What the code of a place is, once it is written. */
import type { Event } from '../../document/types.ts';
import type { Own } from './own.ts';

/** A function of what all code of one machine is given, and of a place's own numbers. */
export interface Generated<Made> {
  make: (...given: unknown[]) => Made;
  own: Own;
}

/**
 * An event: whether it can happen now, and how it is run; `number` is told of its end. Layout built alike have the same
 * one, and `own` says where their own numbers begin among those of all.
 */
export interface EventStep {
  can(own: number): boolean;
  run(number: number, own: number): void;
}

export interface Entrance {
  /** Makes the place the only one on the stack, by a move along an order (-1: none) to a position in its row, and at a spot. */
  enter(order: number, position: number, saved: 0 | 1 | 2, spot: number): void;
  arrive(): boolean;
  /** By what can wait to be heard: see `Sheet.heard`. */
  hear: (() => boolean)[];
  /** One pass over the `holds` rules; whether any fired. */
  pass(): boolean;
}

/**
 * Goes on with an event that enters the place, from the words of the machine's next state: by a move along an order (-1:
 * none) to a position in its row, `fired` rules so far, `bits` of `can`, and from which place.
 */
export type Into = (number: number, order: number, position: number, fired: number, bits: number, home: number) => void;

export interface PlaceCode {
  events: Event[];
  steps: EventCode[];
  /** By event where its numbers begin among those of the place. */
  begins: number[];
  /** Makes of the steps a function that runs each once; `own` says where the place's own numbers begin. */
  every: (steps: EventStep[]) => (own: number) => void;
  /** Written when it is first needed. */
  entrance?: Generated<Entrance>;
  /** Of a level that is entered by moves that learn their target late. */
  into?: Generated<Into>;
  /** No other place has this code, whatever it is built like. */
  alone: boolean;
  /** The other places of whose rules and pieces something stands in it. */
  stood: number[];
  /** The most rules that one of the steps fires, and that `into` does. */
  most: { steps: number; entrance: number };
}

/** The code of an event. */
export interface EventCode extends Generated<EventStep> {
  text: string;
  stood: number[];
  /** How many rules it may fire, where it is a step. */
  firings: number;
}
