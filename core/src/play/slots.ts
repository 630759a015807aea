/** The saved games side by side: what a slot holds, and what is done with the one that is picked (docs/flow-format.md, section 11). */
import type { Event, FlowDocument, SlotKind } from '../document/types.ts';
import { fullPieces, initialValues, undoRun } from './initial.ts';
import type { Flow } from './flow.ts';
import { bottom, copyLeft, type Progress, type State } from './state.ts';

/** How many slots there are. */
export const slotsOf = ({ saves }: FlowDocument): number => saves?.slots ?? 1;

/** Whether rules that ask for a kind of slot are about one that is used, or is not. */
export const asksFor = (kind: SlotKind, used: boolean): boolean => kind === 'any' || (kind === 'used') === used;

/** What a slot holds before it is used. */
const unused = (flow: Flow): Progress => ({
  won: {},
  bookmark: null,
  latest: null,
  kept: initialValues(flow.document, 'kept'),
  keptPieces: fullPieces(flow, 'never')
});

/** What the slot in hand holds now. */
const inHand = ({ won, bookmark, latest, kept, keptPieces }: State): Progress => ({
  won: { ...won },
  bookmark,
  latest,
  kept: { ...kept },
  keptPieces: copyLeft(keptPieces)
});

/** What a slot holds, counted from 0; undefined where it was never used. */
export const heldBy = (state: State, slot: number): Progress | undefined =>
  slot === state.slot ? inHand(state) : state.slots[slot];

/** Whether anything of what a slot holds is not as it is at first. */
export function isUsed(flow: Flow, state: State, slot: number): boolean {
  const held = heldBy(state, slot);
  if (!held) return false;
  const { won, bookmark, latest, kept, keptPieces } = held;
  if (Object.keys(won).length > 0 || bookmark !== null || latest !== null) return true;
  if (Object.keys(kept).some((id) => kept[id] !== flow.document.variables[id]!.initial)) return true;
  const full = fullPieces(flow, 'never');
  return Object.keys(full).some((level) => Object.keys(full[level]!).some((id) => keptPieces[level]![id] !== full[level]![id]));
}

/** The progress in hand is put away, that of the picked slot is taken up, and play goes on in it. */
export function takeSlot(flow: Flow, state: State): void {
  const { picked, slot } = state;
  if (picked === null || picked === slot) return;
  const { won, bookmark, latest, kept, keptPieces } = state.slots[picked] ?? unused(flow);
  const { [picked]: _taken, ...others } = state.slots;
  state.slots = { ...others, [slot]: inHand(state) };
  state.slot = picked;
  Object.assign(state, { won: { ...won }, kept: { ...kept }, keptPieces: copyLeft(keptPieces) });
  state.bookmark = bookmark && { ...bookmark, thisRun: false };
  if (!playedHere(state)) state.latest = latest;
  undoRun(flow, state);
  for (const id in state.run) if (state.run[id] !== flow.document.variables[id]!.initial) state.stale[id] = 'slot';
}

/** The progress in hand is written into the picked slot too, and play goes on in that. */
export function putSlot(state: State): void {
  const { picked, slot } = state;
  if (picked === null || picked === slot) return;
  const { [picked]: _overwritten, ...others } = state.slots;
  state.slots = { ...others, [slot]: inHand(state) };
  state.slot = picked;
}

/** A slot that is not in hand is as if it had never been used. */
export function clearSlot(state: State, slot: number): void {
  const { [slot]: _cleared, ...others } = state.slots;
  state.slots = others;
}

/** Whether the level played last is being played: it stays the last one whatever becomes of the progress. */
export const playedHere = (state: State): boolean => state.latest !== null && bottom(state).place === state.latest.level;

/**
 * Of the slots the checks look at the one in hand, and at the second as never used while the first is in hand: whatever the
 * others hold was reached in the same way, and what would leak from one game into the other is stale by slot.
 */
export function isChecked(state: State, event: Event): boolean {
  return !('slot' in event) || event.slot === state.slot || (state.slot === 0 && event.slot === 1);
}
