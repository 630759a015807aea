import type { Id } from './types.ts';

/** The words of the condition language, which are no ids (docs/flow-format.md, section 2). */
export const reservedWords = 'and or not true false min max left taken won wins it previous position'.split(' ');

export const idPattern = /^[a-z][a-z0-9_]{0,39}$/;

/** Whether two names read the same, however they are written. */
export const alike = (one: string, other: string): boolean => one.trim().toLowerCase() === other.trim().toLowerCase();

/** The id of the first that has a name. */
export const idNamed = (map: Record<Id, { name: string }>, name: string): Id | undefined =>
  Object.keys(map).find((id) => alike(map[id]!.name, name));

/** An id that is not taken: the wish, else with a number behind it. */
export function freeId(wish: string, taken: object): string {
  if (!Object.hasOwn(taken, wish)) return wish;
  for (let n = 2; ; n++) if (!Object.hasOwn(taken, `${wish}_${n}`)) return `${wish}_${n}`;
}
