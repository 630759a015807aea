/** What can stand under the keys of triggers, events, effects and targets, said so that readers and pickers can follow it. */
import type { Id, Seconds } from '../document/types.ts';

/** What an id can name. */
export type Named = 'variable' | 'number' | 'signal' | 'order' | 'piece' | 'spot' | 'passage' | 'place' | 'entry' | 'rule';

export type Field =
  /** Up to 80 characters of the designer's own. */
  | { is: 'name' }
  | { is: 'seconds' }
  | { is: 'count' }
  /** The number of a slot, or of an entry of a piece's `at`, from 0. */
  | { is: 'slot' }
  | { is: 'index' }
  /** A text of the condition language: one that is true or false, or one that gives a value. */
  | { is: 'condition' }
  | { is: 'expression' }
  /** The one value, or one of the values, that it can have. */
  | { is: 'constant'; values: readonly (string | true)[] }
  | { is: 'id'; of: Named };

/** What stands under the key of a kind, and under the keys that it needs, or may have, beside that. */
export interface Shape {
  value: Field;
  needs?: Record<string, Field>;
  may?: Record<string, Field>;
}

/** How the things of one document are called, and its texts put into words. */
export interface Say {
  variable(id: Id): string;
  signal(id: Id): string;
  order(id: Id): string;
  piece(id: Id): string;
  spot(id: Id): string;
  passage(id: Id): string;
  place(id: Id): string;
  /** "1.2 s", "Gust pause (1.2 s)". */
  seconds(seconds: Seconds): string;
  /** An expression that is assigned to a variable: a choice by its label. */
  value(variable: Id, text: string): string;
  text(text: string): string;
}

export const id = (of: Named): Field => ({ is: 'id', of });
export const constant = (...values: (string | true)[]): Field => ({ is: 'constant', values });

/** The kind of a thing with one key among those of a vocabulary; an error names the thing that has none. */
export function kindIn<K extends string>(vocabulary: Record<K, unknown>, thing: object): K {
  for (const kind in vocabulary) if (kind in thing) return kind;
  throw new Error(`${JSON.stringify(thing)} has none of the keys ${Object.keys(vocabulary).join(', ')}`);
}

/** What a thing of a kind says under each of its keys, with what each of them is. */
export function* fieldsOf(kind: string, { value, needs, may }: Shape, thing: object): Generator<[string, Field, unknown]> {
  for (const [key, field] of [[kind, value] as const, ...Object.entries({ ...needs, ...may })]) {
    const said = (thing as Record<string, unknown>)[key];
    if (said !== undefined) yield [key, field, said];
  }
}
