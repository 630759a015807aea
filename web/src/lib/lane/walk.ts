import type { Id } from '@crow-lane/core/document/types';
import type { LaneLayout, Tile } from '@crow-lane/core/lane/layout';

/** The place that an arrow key leads to: along the row, or to the nearest in the next row that has any. */
export function neighbour(lane: LaneLayout, from: Id | undefined, key: string): Id | undefined {
  const tiles = [...lane.tiles.values()];
  const at = from === undefined ? undefined : lane.tiles.get(from);
  if (!at) return tiles[0]?.place;
  const inRow = (row: number) => tiles.filter((tile) => tile.row === row).sort((a, b) => a.x - b.x);
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    const row = inRow(at.row);
    return row[row.indexOf(at) + (key === 'ArrowRight' ? 1 : -1)]?.place;
  }
  if (key === 'Home' || key === 'End') return inRow(at.row).at(key === 'Home' ? 0 : -1)?.place;
  const step = key === 'ArrowUp' ? -1 : 1;
  for (let row = at.row + step; row >= 0 && row < lane.rows.length; row += step) {
    const nearest = inRow(row).reduce<Tile | undefined>(
      (best, tile) => (!best || Math.abs(tile.x - at.x) < Math.abs(best.x - at.x) ? tile : best),
      undefined
    );
    if (nearest) return nearest.place;
  }
  return undefined;
}
