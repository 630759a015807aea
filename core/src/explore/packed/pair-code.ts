/** The code of a place over a bottom place: each of its events, and how it is entered. */
import type { PlaceCode, Entrance, EventCode, Into, Generated } from './code.ts';
import { generate } from './generate.ts';
import { happeningsOf, type Happening } from './happenings.ts';
import { onSlots, onSlotsOfAll, print } from './instructions.ts';
import type { KnownCodes } from './known-codes.ts';
import type { Own, Self } from './own.ts';
import type { Sheet } from './sheet.ts';
import { SlotCode } from './slot-code.ts';
import { StepCode } from './step-code.ts';
import { textOf } from './step-text.ts';

/** Each event is a function, so that a change of one leaves the code of the others as it is, and warm. */
export function codeOfPair(sheet: Sheet, self: Self, bottom: number, known?: KnownCodes): PlaceCode {
  const happenings = happeningsOf(sheet, self, bottom);
  // where the player arrives in a level with spots is said by the move
  const hasSpots = sheet.at.spots[self.place]!.length > 0;
  const late = sheet.goesLate && !hasSpots && !sheet.at.openable.has(self.place) && sheet.at.levels[self.place] !== undefined;
  const into = late ? StepCode.entrance(sheet, self) : undefined;
  const steps = happenings.map((happening) => eventCode(sheet, self, bottom, happening, known));
  const begins: number[] = [];
  let numbers = 0;
  for (const { own } of steps) {
    begins.push(numbers);
    numbers += own.numbers.length;
  }
  return {
    ...(into && { into: partOf<Into>(into.code.own, textOf(into.step, onSlots.own)) }),
    events: happenings.map(({ event }) => event),
    steps,
    begins,
    every: everyOf(steps, begins),
    alone: [into?.code, ...steps].some((code) => code?.own.alone),
    stood: [...new Set([into?.code, ...steps].flatMap((code) => [...(code?.stood ?? [])]))],
    most: { steps: steps.reduce((fired, { firings }) => Math.max(fired, firings), 0), entrance: into?.code.firings ?? 0 }
  };
}

/** A function of its own for all events of a place, so that they become part of it; of very many a loop will do. */
function everyOf(codes: EventCode[], begins: number[]): PlaceCode['every'] {
  if (codes.length > mostCalled) {
    return (steps) => (own) => steps.forEach(({ run }, number) => run(number, own + begins[number]!));
  }
  const runs = begins.map((_, n) => `run${n}`);
  const calls = begins.map((begin, n) => `run${n}(${n}, from + ${begin});`);
  const body = `const [${runs.join()}] = steps.map(({ run }) => run);\nreturn (from) => {\n${calls.join('\n')}\n};`;
  return generate('steps', body, codes.map(({ text }) => text).join('\n'));
}

const mostCalled = 500;

/** How a place is entered on all slots. Of no other place but this one anything stands in it. */
export function entranceOf(code: PlaceCode, sheet: Sheet, self: Self, bottom: number): Generated<Entrance> {
  if (!code.entrance) {
    const entrance = new SlotCode(sheet, self, bottom);
    code.entrance = partOf<Entrance>(entrance.own, print(entrance.entrance(), onSlots));
  }
  return code.entrance;
}

function eventCode(sheet: Sheet, self: Self, bottom: number, happening: Happening, known: KnownCodes | undefined): EventCode {
  const { at, flow } = sheet;
  const write = (): EventCode => {
    const step = at.openable.has(self.place) ? undefined : StepCode.of(happening, sheet, self);
    const code = step?.code ?? new SlotCode(sheet, self, bottom);
    const { own } = onSlotsOfAll;
    const text = step ? textOf(step.step, own) : print((code as SlotCode).event(happening), onSlotsOfAll);
    const can = print(happening.when(code), onSlotsOfAll);
    // made once, it finds each place's numbers among those of all: what runs most is the same for many places
    const part = { own: code.own, make: generate<EventCode['make']>(given, `return { can: (from) => ${can}, run: ${text} };`) };
    return { ...part, text, stood: [...code.stood], firings: step?.code.firings ?? 0 };
  };
  if (!known) return write();
  const matching = happening.rules.flatMap((each) => each.matching);
  const { by, clocks } = flow.applying(at.placeIds[self.place]!, at.placeIds[bottom]!);
  const { arrive, holds } = by;
  const deadlines = happening.rules.map(({ deadline, matching: { length } }) => `${deadline} ${length}`);
  const how = `${deadlines.join()} ${matching.length} ${arrive.length} ${JSON.stringify(clocks)}`;
  return known.event(JSON.stringify(happening.event), { self, bottom, rules: [...matching, ...arrive, ...holds], how }, write);
}

const given =
  'slots, base, next, watcher, witness, machine, orders, choices, indexes, queue, happened, wasTrue, wasFalse, fired, completed, entered, passed, stood, walked, touchedOnWay, clamped, terms, exact, own';

/** What is made for each place anew, of its numbers. */
function partOf<Made>(own: Own, text: string): Generated<Made> {
  const names = own.numbers.map((_, n) => `own${n} = own[${n}]`);
  const begin = names.length > 0 ? `const ${names.join(', ')};\n` : '';
  return { own, make: generate(given, `${begin}return ${text};`) };
}
