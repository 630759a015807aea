/** The code of a place over a bottom place: each of its events, and how it is entered. */
import type { Event } from '../../play/turn.ts';
import { generate } from './generate.ts';
import { happeningsOf } from './happenings.ts';
import type { Sheet } from './pair.ts';
import type { Own, Self } from './rule-code.ts';
import { SlotCode } from './slot-code.ts';
import { StepCode } from './step-code.ts';

/** A function of what all code of one machine is given, and of a place's own numbers. */
export interface Part<Made> {
  make: (...given: unknown[]) => Made;
  own: Own;
}

/** An event of its own: whether it can happen now, and how it is run; `number` is told of its end. */
export interface Step {
  can(): boolean;
  run(number: number): void;
}

export interface Entrance {
  /** Makes the place the only one on the stack, by a move along an order (-1: none) to a position in its row. */
  enter(order: number, position: number, saved: 0 | 1 | 2): void;
  arrive(): boolean;
  /** By signal. */
  hear: (() => boolean)[];
  /** One pass over the `holds` rules; whether any fired. */
  pass(): boolean;
}

/**
 * Goes on with an event that enters the place, from the words of the machine's next state: by a move along an order (-1:
 * none), `fired` rules so far, and `bits` of `can`.
 */
export type Into = (number: number, order: number, fired: number, bits: number) => void;

export interface Code {
  events: Event[];
  steps: Part<Step>[];
  entrance: Part<Entrance>;
  /** Of a level that is entered by moves that learn their target late. */
  into?: Part<Into>;
}

/** Each event is a function, so that a change of one leaves the code of the others as it is, and warm. */
export function codeOfPair(sheet: Sheet, self: Self, bottom: number): Code {
  const happenings = happeningsOf(sheet, self, bottom);
  const stepping = !sheet.at.openable.has(self.place);
  const entrance = new SlotCode(sheet, self, bottom);
  const into = stepping && sheet.at.levels[self.place] && sheet.goesLate ? StepCode.entrance(sheet, self) : undefined;
  return {
    ...(into && { into: partOf<Into>(into.code.own, into.text) }),
    events: happenings.map(({ event }) => event),
    steps: happenings.map((happening) => {
      const step = stepping ? StepCode.of(happening, sheet, self) : undefined;
      const code = step?.code ?? new SlotCode(sheet, self, bottom);
      const run = step?.text ?? (code as SlotCode).event(happening);
      return partOf(code.own, `{ can: () => ${happening.when(code)}, run: ${run} }`);
    }),
    entrance: partOf(entrance.own, entrance.entrance())
  };
}

const given = 'v, B, R, X, m, c, d, Q, H, T, N, F, D, E, C, S, exact, k';

function partOf<Made>(own: Own, text: string): Part<Made> {
  const names = own.numbers.map((_, n) => `k${n} = k[${n}]`);
  const begin = names.length > 0 ? `const ${names.join(', ')};\n` : '';
  return { own, make: generate(given, `${begin}return ${text};`) };
}
