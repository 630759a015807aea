/** What the packed engine keeps of a state, and its states, in words: for who debugs it. */
import type { Flow } from '../../play/flow.ts';
import type { Layout } from './layout.ts';

/** The slots of a layout by number, each with what it holds. */
export function slotNames({ document }: Flow, at: Layout): Map<number, string> {
  const names = new Map<number, string>();
  const name = (slot: number, words: string) => slot >= 0 && !names.has(slot) && names.set(slot, words);
  name(at.depth, 'how many places are open');
  at.place.forEach((slot, frame) => name(slot, `place ${frame}`));
  at.ticks.forEach((slots, frame) => slots.forEach((slot, n) => name(slot, `ticks of clock ${n} in place ${frame}`)));
  at.phase.forEach((slot, frame) => name(slot, `deadlines passed in place ${frame}`));
  at.held.forEach((slots, frame) => slots.forEach((slot) => name(slot, `"once" rules that hold in place ${frame}`)));
  name(at.over, 'the attempt is over');
  for (const [id, { slot, stale, saved }] of at.variables) {
    name(slot, id);
    name(stale, `${id} is of an earlier run`);
    name(saved, `${id}, as it was saved`);
  }
  at.here.forEach((slot, index) => name(slot, `left of piece ${index + 1} of the level`));
  at.levels.forEach((level, place) =>
    level?.pieces.forEach(({ heaps }) => heaps.forEach(({ slot, key }) => name(slot, `left of ${key} in ${at.placeIds[place]!}`)))
  );
  at.won.forEach((slot, place) => name(slot, `${at.placeIds[place]!} is won`));
  name(at.spot, 'the spot where the player is');
  name(at.latestSpot, 'the spot at which the level played last was entered');
  name(at.bookSpot, 'the spot that was saved');
  name(at.bookEntrySpot, 'the spot of the entry that was saved');
  name(at.last, 'how the last attempt ended');
  name(at.latest, 'the level played last');
  name(at.current, 'the order being played');
  Object.keys(document.orders).forEach((id, index) => {
    const { row, position, bag } = at.orders[index]!;
    name(row, `the row of ${id}`);
    name(position, `where play stands in ${id}`);
    bag?.slots.forEach((slot, n) => name(slot, `${at.placeIds[bag.levels[n]!]!} is in ${id}`));
  });
  name(at.hand, 'the slot in hand');
  name(at.picked, 'the picked slot, from 1');
  name(at.played, 'a level was played in the slot in hand');
  name(at.bookLevel, 'the level that was saved');
  name(at.bookProgress, 'how far that was');
  name(at.bookThisRun, 'it was saved in this run');
  for (const level of at.levels)
    for (const { slot, saved } of level?.attemptPieces ?? []) name(saved, `${names.get(slot)!}, as it was saved`);
  for (const [slot, copy] of at.savedRun) name(copy, `${names.get(slot) ?? `slot ${slot}`}, as it was saved`);
  for (const { variable, source, added } of at.merged) {
    name(source, `where ${variable} came from in this event`);
    name(added, `what was added to ${variable} in this event`);
  }
  return names;
}

/** A line for each slot that is kept: its number, its word and bits, and what it holds. */
export function layoutWords(flow: Flow, at: Layout): string {
  const names = slotNames(flow, at);
  const lines = at.packing.fields.flatMap((field, slot) => {
    if (!field) return [];
    return [`slots[${slot}]  word ${field.word}, from bit ${field.shift}: ${names.get(slot) ?? 'a place’s own'}`];
  });
  return [`${at.packing.words} words of 32 bits a state`, ...lines].join('\n');
}

/** A state on one line: the places that are open, and all that is not as at the very start. */
export function stateWords(flow: Flow, at: Layout, v: Int32Array): string {
  const open = at.place.slice(0, v[at.depth]).map((slot) => at.placeIds[v[slot]!]!);
  const frames = new Set([at.depth, ...at.place]);
  const changed = [...slotNames(flow, at)].flatMap(([slot, name]) =>
    at.keptSlot(slot) && !frames.has(slot) && v[slot] !== at.initial[slot] ? [`${name}: ${v[slot]!}`] : []
  );
  return `${open.join(' < ')}${changed.length > 0 ? ` (${changed.join('; ')})` : ''}`;
}
