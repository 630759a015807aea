/** How a step is printed as a function from words to words, in which slots have names of their own. */
import { instructionsIn, isEmpty, lines, machineSlot, print, slotsIn, type Code, type Printing } from './instructions.ts';
import type { Packing } from './slots.ts';

export interface StepText {
  /** Up to the arrow. */
  head: string;
  /** Which words it begins from. */
  words: string;
  /** What is declared beside the slots, and the statements. */
  begins: string[];
  statements: Code[];
  /** What must be so for it to go on. */
  when?: Code;
  /** The slots have to be those of the state where some are no part of it. */
  loads: boolean;
  /** The slots that are written. */
  declared: Set<number>;
  packing: Packing;
  initial: Int32Array;
}

/** What is read of a slot at the beginning, and what is written of it. */
const begun = (slot: number) => `was${slot}`;
const current = (slot: number) => `now${slot}`;

/** Slots that are written have a name within the step, and what is only read another. */
export function textOf(step: StepText, own: Printing['own']): string {
  const { head, words, begins, statements, when = true, loads, declared, packing, initial } = step;
  const isLocal = (slot: number) => !packing.renewed.has(slot);
  const isWritten = (slot: number) => isLocal(slot) && declared.has(slot);
  const all = [...instructionsIn(statements)];
  const read = new Set(all.flatMap((each) => ('slot' in each ? [each.slot] : [])));
  // what is written and never read is not written at all
  const idle = (slot: number, to: Code) => isLocal(slot) && typeof to === 'number' && !read.has(slot);
  const named = (slot: number, name: (slot: number) => string) => (isLocal(slot) ? name(slot) : machineSlot(slot));
  // which rules fired is only told where the machine goes on
  const tells = all.some((each) => 'spills' in each);
  const text = print(lines(statements), {
    own,
    slot: (slot) => named(slot, isWritten(slot) ? current : begun),
    set: (slot, to) => (idle(slot, to) ? '' : undefined),
    fires: (rule) => (tells ? `machine.series[firings++] = ${rule};` : 'firings++;')
  });

  const value = (slot: number) => (packing.says(slot) ? packing.read(slot, (word) => `word${word}`) : initial[slot]!);
  const reading = (slots: number[]) =>
    slots.length > 0 ? `const ${slots.map((slot) => `${begun(slot)} = ${value(slot)}`).join(', ')};\n` : '';
  const written = new Set(
    all.flatMap((each) =>
      'slot' in each && isWritten(each.slot) ? [each.slot] : 'set' in each && !idle(each.set, each.to) ? [each.set] : []
    )
  );
  const names = [...begins, ...[...written].filter(isLocal).map((slot) => `${current(slot)} = ${begun(slot)}`)];
  const first = new Set([...slotsIn(when)].filter(isLocal));
  const later = new Set([...written, ...read].filter((slot) => isLocal(slot) && !first.has(slot)));
  const from = Array.from({ length: packing.words }, (_, word) => `word${word} = ${words}[${word}]`);
  const condition = print(when, { own, slot: (slot) => named(slot, begun) });
  const goesOn = when === true || isEmpty(when) ? '' : `${reading([...first])}if (!(${condition})) return;\n`;
  const load = loads && [...declared].some((slot) => !isLocal(slot)) ? 'machine.load();\n' : '';
  const declares = names.length > 0 ? `let ${names.join(', ')};\n` : '';
  return `${head} {\nconst ${from.join(', ')};\n${goesOn}${reading([...later])}${load}${declares}${text}\n}`;
}

/** The slots of a state that the text of a step has names for. */
export function namedIn({ statements, when = true, packing }: Pick<StepText, 'statements' | 'when' | 'packing'>): Set<number> {
  return new Set([...slotsIn([when, ...statements])].filter((slot) => !packing.renewed.has(slot)));
}
