/** What everything is at first, and again when a new run begins (docs/flow-format.md, sections 3 and 4). */
import type { FlowDocument, Id } from '../document/types.ts';
import type { Value } from '../language/evaluate.ts';
import { heapsThatRenew, type Flow } from './flow.ts';
import type { Left, OrderProgress, State } from './state.ts';

/** All run variables get their initial value, run pieces are renewed, tables and bags are undrawn. */
export function beginRun(flow: Flow, state: State): void {
  state.run = initialValues(flow.document, 'run');
  undoRun(flow, state);
  state.stale = {};
  if (state.bookmark) state.bookmark = { ...state.bookmark, thisRun: false };
}

/** Of the run all but its values goes back: its pieces, orders and how its last attempt ended. */
export function undoRun(flow: Flow, state: State): void {
  state.runPieces = fullPieces(flow, 'run');
  state.orders = initialOrders(flow.document);
  state.current = null;
  state.last = null;
}

export function initialValues(document: FlowDocument, scope: 'attempt' | 'run' | 'kept'): Record<Id, Value> {
  return Object.fromEntries(
    Object.entries(document.variables)
      .filter(([, variable]) => variable.scope === scope)
      .map(([id, variable]) => [id, variable.initial])
  );
}

export function fullPieces(flow: Flow, renew: 'run' | 'never'): Left {
  return Object.fromEntries(
    flow.levels.map(([id, level]) => [id, Object.fromEntries(heapsThatRenew(level, renew).map(({ key, n }) => [key, n]))])
  );
}

export function initialOrders(document: FlowDocument): Record<Id, OrderProgress> {
  return Object.fromEntries(Object.keys(document.orders).map((id) => [id, { row: -1, position: -1 }]));
}
