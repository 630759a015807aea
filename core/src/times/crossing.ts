/** What can be said of the patrols of a level. */
import type { Cell, Id } from '../document/types.ts';
import type { Timed } from '../plan/passing.ts';

/** How the player comes past one patrol, or past all of them at once, from one entry. */
export interface Crossing {
  /** Null where no entry is placed. */
  entry: Id | null;
  /**
   * Nothing is only to be reached across the run (`around`); all is reached in time; all is reached once the foe is defeated; some
   * is not; the player is met as it arrives; or not all could be looked at.
   */
  outcome: 'around' | 'passed' | 'defeated' | 'blocked' | 'met' | 'open';
  /**
   * Why it is open: there are too many cells and moments, it takes too long until all are where they began, or one that can be
   * defeated first is in the way.
   */
  open?: 'size' | 'period' | 'defeat';
  /** The nearest place behind it, and how the player comes there. */
  pass?: Pass;
  /** What is never reached: pieces with how many and, on a plan, their cells; and spots by their names. */
  lost?: { pieces: Map<Id, { n: number; cells: Cell[] }>; spots: string[] };
}

export interface Pass {
  seconds: number;
  /** Where the player waits, and how many seconds: a cell, or a spot by its name. */
  waits: { at: string; seconds: number }[];
  /** On a plan how it goes; so many steps of the way are a second. */
  walked?: { way: Timed[]; steps: number };
}

export interface Passes {
  /** Each patrol that can be played, by its id. */
  alone: Record<Id, Crossing[]>;
  /** Several patrols at once, where each alone can be passed; undefined where that is not asked. */
  together?: Crossing[];
}
