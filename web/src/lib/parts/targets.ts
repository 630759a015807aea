/** Where a rule can lead, as one list wherever it is asked: moves by their words, and places by their names. */
import type { FlowDocument, Id, MoveWord } from '@crow-lane/core/document/types';
import { moveKinds, moves } from '@crow-lane/core/vocabulary/moves';
import { placeKinds } from '@crow-lane/core/vocabulary/places';
import type { Choice } from './Choices.svelte';

export type PickedTarget = { place: Id } | { move: MoveWord };

/** All targets; "the chosen level" only for rules that choose, "back" only for those that neither win nor lose. */
export function targetChoices(document: FlowDocument, { chooses = false, decides = false, from = '' } = {}): Choice[] {
  const allowed = moveKinds.filter((word) => (word !== 'chosen' || chooses) && (word !== 'back' || !decides));
  return [
    ...allowed.map((word) => ({
      value: `move ${word}`,
      label: moves[word].label ?? moves[word].words,
      hint: 'by the order of play'
    })),
    ...Object.entries(document.places)
      .filter(([id]) => id !== from)
      .map(([id, { name, kind }]) => ({ value: `place ${id}`, label: name, hint: placeKinds[kind].hint }))
  ];
}

export function pickedTarget(value: string): PickedTarget {
  const [what, id] = value.split(' ') as ['move' | 'place', string];
  return what === 'place' ? { place: id } : { move: id as MoveWord };
}
