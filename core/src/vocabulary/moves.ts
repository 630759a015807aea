/** The moves that learn only in play where they lead. */
import type { MoveWord } from '../document/types.ts';

interface MoveEntry {
  /** Where it leads, in a sentence. */
  words: string;
  /** In the list of moves, where that says more. */
  label?: string;
  /** At the end of its line on the lane. */
  short?: string;
  /** It goes along an order, which can be named. */
  along: boolean;
  /** It arrives where it says; the others arrive where play has been. */
  mayNameEntry: boolean;
  /** What is said where it leads nowhere, `from` a place. */
  stranded(from: string): string;
}

const empty = (which: string) => () => `The order has no ${which} level, or nothing has been drawn.`;
const unsaved = () => 'Nothing has been saved yet.';

/** In the order in which they are offered. */
export const moves: Record<MoveWord, MoveEntry> = {
  next: {
    words: 'the next level',
    along: true,
    mayNameEntry: true,
    stranded: (from) => `After ${from} there is no next level. Say where to go then.`
  },
  again: {
    words: 'the same level again',
    along: false,
    mayNameEntry: false,
    stranded: () => 'No level has been played yet that could be played again.'
  },
  first: { words: 'the first level', along: true, mayNameEntry: true, stranded: empty('first') },
  last: { words: 'the last level', along: true, mayNameEntry: true, stranded: empty('last') },
  previous: {
    words: 'the level before',
    along: true,
    mayNameEntry: true,
    stranded: (from) => `Before ${from} there is no level. Say where to go then.`
  },
  back: {
    words: 'back',
    label: 'back to what is below',
    along: false,
    mayNameEntry: false,
    stranded: () => 'There is nothing below to go back to.'
  },
  resume: { words: 'the checkpoint', short: 'checkpoint', along: false, mayNameEntry: false, stranded: unsaved },
  load: { words: 'the saved game', short: 'load', along: false, mayNameEntry: false, stranded: unsaved },
  chosen: {
    words: 'the chosen level',
    short: 'choose',
    along: false,
    mayNameEntry: true,
    stranded: () => 'What it names cannot be gone to.'
  }
};

export const moveKinds = Object.keys(moves) as MoveWord[];
/** The moves along an order. */
export const movesAlong = moveKinds.filter((move) => moves[move].along);
