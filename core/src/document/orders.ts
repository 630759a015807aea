/** Where levels stand in orders. */
import type { FlowDocument, Id } from './types.ts';

/** The orders a level is in, with its number counted from 1. */
export function numbersOf(document: FlowDocument, id: Id): { order: Id; number: number }[] {
  return Object.entries(document.orders)
    .map(([order, { levels }]) => ({ order, number: levels.indexOf(id) + 1 }))
    .filter(({ number }) => number > 0);
}
