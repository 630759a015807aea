/**
 * Generated code before it is printed: text, and between it what has to be known of it (which slots it reads
 * and sets, which numbers are a place's own, where it notes that a rule fires), so that it can be named when it is printed,
 * and nothing has to be looked for in text.
 */

/** Code as a list of instructions and text; lists are printed one after another. */
export type Code = string | number | boolean | Instruction | readonly Code[];

export type Instruction =
  /** The value of a slot. */
  | { slot: number }
  /** A statement: a slot is set. */
  | { set: number; to: Code }
  /** The slot itself, also where a step has names of its own for slots. */
  | { machineSlot: number }
  /** A number that is the place's own. */
  | { own: number }
  /** A rule fires, in a step. */
  | { fires: Code }
  /** A step ends here that the machine goes on with: it is told what the step did. */
  | { spills: Code };

/** How instructions are printed. */
export interface Printing {
  slot(slot: number): string;
  /** Undefined: what `slot` says. */
  set?(slot: number, to: Code): string | undefined;
  own(number: number): string;
  fires?(rule: string): string;
}

export const slot = (number: number): Code => ({ slot: number });
export const set = (number: number, to: Code): Code => ({ set: number, to });

/** Code written as a template. */
export function js(text: TemplateStringsArray, ...between: Code[]): Code {
  return text.flatMap((each, n) => (n < between.length ? [each, between[n]!] : [each])).filter((each) => each !== '');
}

/** Statements on lines of their own; those that are empty are left out. */
export function lines(statements: readonly Code[]): Code {
  const some = statements.filter((each) => !isEmpty(each));
  return some.flatMap((each, n) => (n === 0 ? [each] : ['\n', each]));
}

/** Expressions with a word between them. */
export function joined(expressions: readonly Code[], between: string): Code {
  return expressions.flatMap((each, n) => (n === 0 ? [each] : [between, each]));
}

export const isEmpty = (code: Code): boolean => code === '' || (Array.isArray(code) && code.every(isEmpty));

/** Each instruction in code, in the order of the text. */
export function* instructionsIn(code: Code): Generator<Instruction> {
  if (typeof code !== 'object') return;
  if (isList(code)) {
    for (const each of code) yield* instructionsIn(each);
    return;
  }
  yield code;
  if ('set' in code) yield* instructionsIn(code.to);
  else if ('fires' in code) yield* instructionsIn(code.fires);
  else if ('spills' in code) yield* instructionsIn(code.spills);
}

/** The slots whose values code reads or sets, each once. */
export function slotsIn(code: Code): Set<number> {
  const found = new Set<number>();
  for (const each of instructionsIn(code)) {
    if ('slot' in each) found.add(each.slot);
    else if ('set' in each) found.add(each.set);
  }
  return found;
}

/** The text of code. */
export function print(code: Code, printing: Printing): string {
  if (typeof code !== 'object') return String(code);
  if (isList(code)) return code.map((each) => print(each, printing)).join('');
  if ('slot' in code) return printing.slot(code.slot);
  if ('set' in code) return printing.set?.(code.set, code.to) ?? `${printing.slot(code.set)} = ${print(code.to, printing)};`;
  if ('machineSlot' in code) return machineSlot(code.machineSlot);
  if ('own' in code) return printing.own(code.own);
  if ('spills' in code) return print(code.spills, printing);
  return printing.fires!(print(code.fires, printing));
}

const isList = (code: Code): code is readonly Code[] => Array.isArray(code);

export const machineSlot = (slot: number) => `slots[${slot}]`;

/** On the machine's slots, with a name for each of the place's own numbers. */
export const onSlots: Printing = { slot: machineSlot, own: (number) => `own${number}` };
/** The same, with those numbers found among those of all places. */
export const onSlotsOfAll: Printing = {
  slot: machineSlot,
  own: (number) => (number === 0 ? 'own[from]' : `own[from + ${number}]`)
};
