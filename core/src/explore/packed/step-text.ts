/**
 * The text of a step as a function from words to words. In its lines `v[n]` is a slot of the step, `V[n]` the slot
 * itself, and `#k0#` stands where it is noted that a rule fires.
 */
import type { Packing } from './slots.ts';

export interface StepText {
  /** Up to the arrow. */
  head: string;
  /** Which words it begins from. */
  words: string;
  /** What is declared beside the slots, and the lines. */
  begins: string[];
  lines: string[];
  /** What must be so for it to go on. */
  when?: string;
  /** The slots have to be those of the state where some are no part of it. */
  loads: boolean;
  /** The slots that are written. */
  declared: Set<number>;
  packing: Packing;
  initial: Int32Array;
}

const slotName = /\bv\[(\d+)\]/g;
const readSlot = /\bs(\d+)\b/g;
const writtenSlot = /\bu(\d+)\b/g;
const writtenAndRead = /\bu(\d+)\b(?! = )/g;
const readOrWritten = /\b[us](\d+)\b/g;
const setToNumber = /\bu(\d+) = -?\d+;/g;

/** Slots that are written have a name within the step, and what is only read another. */
export function textOf({ head, words, begins, lines, when, loads, declared, packing, initial }: StepText): string {
  const isLocal = (slot: number) => !packing.renewed.has(slot);
  const named = (text: string, written: Set<number>) =>
    text.replaceAll(slotName, (whole, name: string) => {
      const slot = Number(name);
      return isLocal(slot) ? `${written.has(slot) ? 'u' : 's'}${slot}` : whole;
    });
  const value = (slot: number) => (packing.says(slot) ? packing.read(slot, (word) => `w${word}`) : initial[slot]!);
  const reading = (slots: number[]) =>
    slots.length > 0 ? `const ${slots.map((slot) => `s${slot} = ${value(slot)}`).join(', ')};\n` : '';

  const text = lines.join('\n');
  // which rules fired is only told where the machine goes on
  const noted = named(text.replaceAll(/#(k\d+)#/g, text.includes('m.spills(') ? 'm.series[f++] = $1;' : 'f++;'), declared);
  // what is written and never read is not written at all
  const read = new Set(slotsIn(noted, writtenAndRead));
  const needed = noted.replaceAll(setToNumber, (set, slot: string) => (read.has(Number(slot)) ? set : ''));
  const names = [...begins, ...slotsIn(needed, writtenSlot).map((slot) => `u${slot} = s${slot}`)];
  const load = loads && [...declared].some((slot) => !isLocal(slot)) ? 'm.load();\n' : '';
  const body = `${load}${names.length > 0 ? `let ${names.join(', ')};\n` : ''}${needed}`.replaceAll('V[', 'v[');
  const condition = when === undefined || when === 'true' ? undefined : named(when, new Set());
  const first = condition === undefined ? [] : slotsIn(condition, readSlot);
  const later = slotsIn(body, readSlot).filter((slot) => !first.includes(slot));
  const from = Array.from({ length: packing.words }, (_, word) => `w${word} = ${words}[${word}]`);
  const goesOn = condition === undefined ? '' : `${reading(first)}if (!(${condition})) return;\n`;
  return `${head} {\nconst ${from.join(', ')};\n${goesOn}${reading(later)}${body}\n}`;
}

/** The slots in lines, each once. */
export function slotsIn(code: string, name = slotName): number[] {
  return [...new Set([...code.matchAll(name)].map(([, slot]) => Number(slot)))];
}

/** The slots in the text of a step. */
export function slotsOf(text: string): number[] {
  return slotsIn(text, readOrWritten);
}
