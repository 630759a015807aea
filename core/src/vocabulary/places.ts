/** The kinds of place, in the order of lists: levels first, as they are played. */
import type { PlaceKind } from '../document/types.ts';

interface PlaceEntry {
  /** As a hint beside a name. */
  hint: string;
  /** In a sentence: "a new …"; and with its article. */
  words: string;
  one: string;
  /** The row of the lane that it stands in. */
  row: 'levels' | 'menus' | 'between' | 'endings';
  /** Whether it can be opened over another place. */
  over: boolean;
  /** Whether the player has to get on from it always: in levels other checks ask so, and play may end at an ending. */
  movesOn: boolean;
}

export const placeKinds: Record<PlaceKind, PlaceEntry> = {
  level: { hint: 'level', words: 'level', one: 'a level', row: 'levels', over: false, movesOn: false },
  menu: { hint: 'menu', words: 'menu', one: 'a menu', row: 'menus', over: true, movesOn: true },
  interlude: {
    hint: 'interlude',
    words: 'interlude',
    one: 'an interlude',
    row: 'between',
    over: true,
    movesOn: true
  },
  ending: { hint: 'ending', words: 'ending', one: 'an ending', row: 'endings', over: false, movesOn: false }
};

export const placeKindsInOrder = Object.keys(placeKinds) as PlaceKind[];
