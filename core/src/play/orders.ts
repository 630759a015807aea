/** Where play stands in the orders of levels, and where a move along one leads (docs/flow-format.md, section 5). */
import { isLevel, type Id, type MoveWord } from '../document/types.ts';
import type { Flow } from './flow.ts';
import type { State } from './state.ts';

/** The moves along an order. */
export type Along = Extract<MoveWord, 'next' | 'previous' | 'first' | 'last'>;

/** The order a relative move is about: the one named, else the current, else the first that lists `latest`, else the first. */
export function orderOf(flow: Flow, state: State, named?: Id): Id | undefined {
  const { orders } = flow.document;
  const ids = Object.keys(orders);
  return named ?? state.current ?? ids.find((id) => state.latest && orders[id]!.levels.includes(state.latest.level)) ?? ids[0];
}

/**
 * Where a move along an order leads: to a level at a position in its row, or to one that is to be drawn from a bag;
 * undefined where it does not resolve.
 */
export function along(
  flow: Flow,
  state: State,
  move: Along,
  named?: Id
): { order: Id; level: Id; position: number } | { order: Id; bag: Id[] } | undefined {
  const id = orderOf(flow, state, named);
  if (id === undefined) return undefined;
  const progress = state.orders[id]!;
  if (flow.document.orders[id]!.draw === 'bag') {
    const onward = move === 'next' || move === 'first';
    return onward && progress.bag?.length ? { order: id, bag: progress.bag } : undefined;
  }
  const row = rowOf(flow, state, id);
  if (!row) return undefined;
  const positions = { next: progress.position + 1, previous: progress.position - 1, first: 0, last: row.length - 1 };
  const position = positions[move];
  const level = row[position];
  return level !== undefined && isLevel(flow.document, level) ? { order: id, level, position } : undefined;
}

/** The row of an order: as listed, or as drawn; undefined while nothing is drawn and for a bag. */
export function rowOf(flow: Flow, state: State, id: Id): Id[] | undefined {
  const order = flow.document.orders[id]!;
  if (order.draw === 'fixed') return order.levels;
  return order.draw === 'table' ? order.rows[state.orders[id]!.row] : undefined;
}
