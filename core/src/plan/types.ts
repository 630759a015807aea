/** A level's plan: its ground as drawn, and how the player moves over it (docs/flow-format.md, section 13). */
import type { Id } from '../document/types.ts';

/** Column and row, from 0 at the left and at the top. */
export type Cell = [x: number, y: number];

export interface PlacedPiece {
  piece: Id;
  cells: Cell[];
}
export interface PlacedEntry {
  entry: Id;
  cell: Cell;
  facing?: string;
}
/** Ground that is open only while a condition holds. */
export interface Gate {
  gate: string;
  cells: Cell[];
  name?: string;
}
export type Thing = PlacedPiece | PlacedEntry | Gate;

/** A lift, a jump pad, a teleport: from one cell to another without the cells between. */
export interface Link {
  from: Cell;
  to: Cell;
  both?: true;
  if?: string;
  name?: string;
  seconds?: number;
}

/** A rectangle with a name; both corners belong to it. */
export interface Area {
  name: string;
  from: Cell;
  to: Cell;
}

export interface Plan {
  view: 'above' | 'side';
  /** Ground only, one character a cell, rows of one length. */
  rows: string[];
  things: Record<Id, Thing>;
  links: Record<Id, Link>;
  areas: Record<Id, Area>;
  /** The hazard that a fall out of the rows touches. */
  below?: Id;
}

export interface Ability {
  name: string;
  if: string;
  up?: number;
  across?: number;
  diagonal?: true;
}

/** Cells, and cells a second. */
export interface Movement {
  above: { speed: number; diagonal?: true };
  side: { speed: number; up: number; across: number; drop?: number; tall: number };
  abilities: Record<Id, Ability>;
}

export const usualMovement: Movement = {
  above: { speed: 4 },
  side: { speed: 4, up: 2, across: 3, tall: 1 },
  abilities: {}
};

/** A plan with what has to be known of the level's pieces and of the player to read it. */
export interface Drawn {
  plan: Plan;
  movement: Movement;
  /** The pieces that being in their cell touches: exits, hazards, foes, checkpoints, switches, others. */
  acts: ReadonlySet<Id>;
}

/** The widest and highest plan. */
export const mostCells = { x: 240, y: 160 };
