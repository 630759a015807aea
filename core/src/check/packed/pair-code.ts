/** The code of a place over a bottom place: each of its events, and how it is entered. */
import type { Event } from '../../play/turn.ts';
import { generate } from './generate.ts';
import { happeningsOf } from './happenings.ts';
import type { Own, Self } from './own.ts';
import type { RuleCode } from './rule-code.ts';
import type { Sheet } from './sheet.ts';
import { SlotCode } from './slot-code.ts';
import { StepCode } from './step-code.ts';

/** A function of what all code of one machine is given, and of a place's own numbers. */
export interface Part<Made> {
  make: (...given: unknown[]) => Made;
  own: Own;
}

/**
 * An event: whether it can happen now, and how it is run; `number` is told of its end. Places built alike have the same
 * one, and `own` says where their own numbers begin among those of all.
 */
export interface Step {
  can(own: number): boolean;
  run(number: number, own: number): void;
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
 * none) to a position in its row, `fired` rules so far, `bits` of `can`, and from which place.
 */
export type Into = (number: number, order: number, position: number, fired: number, bits: number, home: number) => void;

export interface Code {
  events: Event[];
  steps: Part<Step>[];
  /** By event where its numbers begin among those of the place. */
  begins: number[];
  /** Makes of the steps a function that runs each once; `own` says where the place's own numbers begin. */
  every: (steps: Step[]) => (own: number) => void;
  entrance: Part<Entrance>;
  /** Of a level that is entered by moves that learn their target late. */
  into?: Part<Into>;
  /** No other place has this code, whatever it is built like. */
  alone: boolean;
  /** The other places of whose rules and pieces something stands in it. */
  stood: number[];
  /** The most rules that one of the steps fires, and that `into` does. */
  most: { steps: number; entrance: number };
}

/** Each event is a function, so that a change of one leaves the code of the others as it is, and warm. */
export function codeOfPair(sheet: Sheet, self: Self, bottom: number): Code {
  const happenings = happeningsOf(sheet, self, bottom);
  const stepping = !sheet.at.openable.has(self.place);
  const entrance = new SlotCode(sheet, self, bottom);
  const into = stepping && sheet.at.levels[self.place] && sheet.goesLate ? StepCode.entrance(sheet, self) : undefined;
  const codes: RuleCode[] = [entrance, ...(into ? [into.code] : [])];
  const texts: string[] = [];
  let mostFired = 0;
  const begins: number[] = [];
  let numbers = 0;
  const steps = happenings.map((happening) => {
    const step = stepping ? StepCode.of(happening, sheet, self) : undefined;
    const code = step?.code ?? new SlotCode(sheet, self, bottom);
    const run = step?.text ?? (code as SlotCode).event(happening);
    texts.push(run);
    codes.push(code);
    mostFired = Math.max(mostFired, step?.code.firings ?? 0);
    begins.push(numbers);
    numbers += code.own.numbers.length;
    return shared<Step>(code.own, `{ can: (o) => ${happening.when(code)}, run: ${run} }`);
  });
  const entrancePart = partOf<Entrance>(entrance.own, entrance.entrance());
  const runs = begins.map((begin, n) => `run${n}(${n}, o + ${begin});`);
  return {
    ...(into && { into: partOf<Into>(into.code.own, into.text) }),
    events: happenings.map(({ event }) => event),
    steps,
    begins,
    every: generate(
      'steps',
      `const [${runs.map((_, n) => `run${n}`).join()}] = steps.map(({ run }) => run);\nreturn (o) => {\n${runs.join('\n')}\n};`,
      texts.join('\n')
    ),
    entrance: entrancePart,
    alone: codes.some(({ own }) => own.alone),
    stood: [...new Set(codes.flatMap(({ stood }) => [...stood]))],
    most: { steps: mostFired, entrance: into?.code.firings ?? 0 }
  };
}

const given = 'v, B, R, X, m, O, c, d, Q, H, T, N, F, D, E, C, S, exact, k';

/** What is made for each place anew, of its numbers. */
function partOf<Made>(own: Own, text: string): Part<Made> {
  const names = own.numbers.map((_, n) => `k${n} = k[${n}]`);
  const begin = names.length > 0 ? `const ${names.join(', ')};\n` : '';
  return { own, make: generate(given, `${begin}return ${text};`) };
}

/** What is made once, and finds each place's numbers among those of all: what runs most is the same for many places. */
function shared<Made>(own: Own, text: string): Part<Made> {
  const named = text.replaceAll(/\bk(\d+)\b/g, (_, n: string) => (n === '0' ? 'k[o]' : `k[o + ${n}]`));
  return { own, make: generate(given, `return ${named};`) };
}
