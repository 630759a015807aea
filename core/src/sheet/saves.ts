/** Where a flow saves, along an order: the chain of checkpoints with their progress. */
import { levelsOf, own, type FlowDocument, type Id, type Level, type Piece } from '../document/types.ts';
import { piecesThatRenew } from '../play/flow.ts';
import { rulesReadIn } from '../play/reading.ts';

export interface SavePoint {
  level: Id;
  /** The checkpoint that is touched; undefined where another rule saves. */
  piece: Id | undefined;
  rule: Id;
  progress: number;
  /** `forward` saves only where this is further on than what is saved. */
  how: 'always' | 'forward';
  /** It is lower than that of an earlier point of the order: "forward" would not save here. */
  falls: boolean;
}

/** The save points of an order's levels, in the order of play. */
export function savePoints(document: FlowDocument, order: Id): SavePoint[] {
  const points: SavePoint[] = [];
  let highest = -1;
  for (const id of document.orders[order]!.levels)
    for (const point of savesIn(document, id)) {
      points.push({ ...point, falls: point.progress < highest });
      highest = Math.max(highest, point.progress);
    }
  return points;
}

/** What a level, or a checkpoint in it, gives as progress; `behind` where something before it in the order gave more, and how much. */
export interface ProgressPoint {
  level: Id;
  piece: Piece | undefined;
  progress: number;
  behind?: number;
}

/** The progress along an order: of each level, then of its checkpoints; none where nothing gives any. */
export function progressAlong(document: FlowDocument, order: Id): ProgressPoint[] {
  const levels = document.orders[order]!.levels.flatMap((id): [Id, Level][] => {
    const level = own(document.places, id);
    return level?.kind === 'level' ? [[id, level]] : [];
  });
  const given = levels.flatMap(([id, level]) => [
    { level: id, piece: undefined, own: level.progress, progress: level.progress ?? 0 },
    ...Object.values(level.pieces)
      .filter(({ kind }) => kind === 'checkpoint')
      .map((piece) => ({ level: id, piece, own: piece.progress, progress: piece.progress ?? level.progress ?? 0 }))
  ]);
  if (given.every((point) => point.own === undefined)) return [];
  let highest = 0;
  return given.map(({ level, piece, progress }) => {
    const behind = progress < highest ? { behind: highest } : {};
    highest = Math.max(highest, progress);
    return { level, piece, progress, ...behind };
  });
}

/** The rules that save in a level, in reading order. */
export function savesIn(document: FlowDocument, id: Id): Omit<SavePoint, 'falls'>[] {
  const level = own(document.places, id);
  if (level?.kind !== 'level') return [];
  return rulesReadIn(document, id).flatMap(({ rule }) => {
    const save = rule.do?.find((effect) => 'save' in effect) as { save: 'always' | 'forward' } | undefined;
    if (!save) return [];
    const piece = 'touch' in rule.when && level.pieces[rule.when.touch]?.kind === 'checkpoint' ? rule.when.touch : undefined;
    const progress = (piece === undefined ? undefined : level.pieces[piece]!.progress) ?? level.progress ?? 0;
    return [{ level: id, piece, rule: rule.id, progress, how: save.save }];
  });
}

/** What a save holds besides where it was made: by name, with when it comes back. */
export function heldBySaves(document: FlowDocument): { attempt: string[]; run: string[]; pieces: string[] } {
  const named = (scope: string) =>
    Object.values(document.variables).flatMap((variable) => (variable.scope === scope ? [variable.name] : []));
  const pieces = levelsOf(document).flatMap(([, level]: [Id, Level]) =>
    piecesThatRenew(level, 'attempt', 'run').map(([, { name }]) => name)
  );
  return { attempt: named('attempt'), run: named('run'), pieces: [...new Set(pieces)] };
}
