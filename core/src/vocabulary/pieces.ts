/** The kinds of piece, in the order in which they are offered. */
import type { DeedKind, Piece, PieceKind, Standing } from '../document/types.ts';
import { deeds } from './triggers.ts';

interface PieceEntry {
  /** What uses it up, so that it has a number left; undefined for what stays. */
  usedUpBy?: DeedKind;
}

export const pieceKinds: Record<PieceKind, PieceEntry> = {
  pickup: { usedUpBy: 'collect' },
  foe: { usedUpBy: 'defeat' },
  hazard: {},
  exit: {},
  checkpoint: {},
  switch: {},
  player: { usedUpBy: 'defeat' },
  other: {}
};

export const pieceKindsInOrder = Object.keys(pieceKinds) as PieceKind[];

/** The pieces that are used up and so have a number left. */
export const usedUp = ({ kind }: Piece): boolean => pieceKinds[kind].usedUpBy !== undefined;

/** What has been done to a piece that is used up: "all are …". */
export const takenWord = (kind: PieceKind): string => deeds[pieceKinds[kind].usedUpBy ?? 'collect'].done;

/** The entries of a piece's `at`; undefined where it is everywhere in its level. */
export function standingsOf({ at }: Piece): Counted[] | undefined {
  if (at === undefined) return undefined;
  if (!Array.isArray(at)) return Object.entries(at).map(([spot, n]) => ({ spots: [spot], n }));
  return at.map(({ n = 1, ...standing }) => ({ ...standing, n }));
}

/** An entry of `at` with its number. */
export type Counted = Standing & { n: number };

/** How many of a piece a level has. */
export const countOf = (piece: Piece): number => standingsOf(piece)?.reduce((sum, { n }) => sum + n, 0) ?? piece.count ?? 1;

/** Whether pieces of a kind can go from place to place by themselves. */
export const canPatrol = (kind: PieceKind): boolean => kind === 'foe' || kind === 'hazard';
