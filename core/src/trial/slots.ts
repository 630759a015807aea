/** The saved games of a trial side by side, as a player sees them. */
import { own, type FlowDocument, type Id } from '../document/types.ts';
import { valueNamed } from '../document/values.ts';
import type { Value } from '../language/evaluate.ts';
import type { Flow } from '../play/flow.ts';
import { heldBy, isUsed, slotsOf } from '../play/slots.ts';
import type { Progress, State } from '../play/state.ts';
import { slotParts, usuallyShown } from '../vocabulary/saves.ts';
import { placeName } from '../words/words.ts';

export interface SlotCard {
  /** From 0. */
  slot: number;
  used: boolean;
  inHand: boolean;
  picked: boolean;
  /** What is shown of it, by what it is. */
  shown: { what: Id; name: string; value: string }[];
}

/** The card of each slot; with one alone, and nothing that is about slots, there are none. */
export function slotCards(flow: Flow, state: State): SlotCard[] {
  const { document } = flow;
  return Array.from({ length: slotsOf(document) }, (_, slot) => {
    const held = heldBy(state, slot);
    const used = isUsed(flow, state, slot);
    const shown = (document.saves?.shows ?? usuallyShown).flatMap((what) => {
      const name = own(slotParts, what) ?? own(document.variables, what)?.name;
      return name === undefined || !held || !used ? [] : [{ what, name, value: shownOf(document, held, what) }];
    });
    return { slot, used, inHand: slot === state.slot, picked: slot === state.picked, shown };
  });
}

/** One thing that a slot shows: of what was saved, else of where its player was last. Time is not played, so it stays open. */
function shownOf(document: FlowDocument, { bookmark, latest, kept }: Progress, what: Id): string {
  const level = bookmark?.level ?? latest?.level;
  if (what === 'level') return level === undefined ? '–' : placeName(document, level);
  if (what === 'progress') return `${bookmark?.progress ?? 0} %`;
  if (what === 'time') return '0:00';
  if (what === 'checkpoint') {
    const place = bookmark ? own(document.places, bookmark.level) : undefined;
    const entry = bookmark?.entry;
    return place?.kind === 'level' && typeof entry === 'string' ? (own(place.entries, entry)?.name ?? entry) : '–';
  }
  const variable = own(document.variables, what)!;
  const values: Record<Id, Value> = { ...kept, ...bookmark?.run, ...bookmark?.attempt };
  return valueNamed(variable, values[what] ?? variable.initial);
}

/** "slot 1 at Net Loft, 20 %; slot 2 empty", with slots counted from 1. */
export function slotWords(flow: Flow, state: State): string {
  const cards = slotCards(flow, state);
  return cards
    .map(({ slot, used, shown }) => `slot ${slot + 1} ${used ? shown.map(({ value }) => value).join(', ') || 'used' : 'empty'}`)
    .join('; ');
}
