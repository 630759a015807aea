/**
 * A flow as a game ships it: all that play reads, with what follows from its plans worked out, so that nothing has to be derived
 * where it is played (the runtime package reads it).
 */
import { levelsOf, type Cell, type FlowDocument, type Id } from '../document/types.ts';
import { derivedOf, isWalked } from '../plan/grown.ts';
import { playable } from './playable.ts';

export interface GameFile {
  format: 'crow-lane-game';
  /** That of the flow's own format. */
  version: 1 | 2;
  flow: FlowDocument;
  /** By level with a plan, and by spot of it, the cells that belong to the spot. */
  cells: Record<Id, Record<Id, Cell[]>>;
}

export function gameOf(document: FlowDocument): GameFile {
  const walked = levelsOf(document).filter(([, level]) => isWalked(document, level));
  const cells = walked.map(([id, level]) => {
    const { spots } = derivedOf(document, level)!;
    return [id, Object.fromEntries(Object.entries(spots).map(([spot, { cells: of }]) => [spot, of]))];
  });
  const flow = playable(document);
  return { format: 'crow-lane-game', version: flow.version, flow, cells: Object.fromEntries(cells) };
}
