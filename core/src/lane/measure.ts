/** Measures in pixels at a zoom of 1. */
export const measure = {
  left: 100,
  pitch: 98,
  tile: 84,
  heights: { endings: 50, between: 50, levels: 78, menus: 52 },
  /** Room in a lane above its tiles, for the names of stretches, and below, for the road's mark. */
  above: 20,
  below: 16,
  track: 8,
  padding: 12,
  margin: 10
} as const;

export const gapOfTile = measure.pitch - measure.tile;

/** The left edge of a column's tiles. */
export function xOf(column: number): number {
  return measure.left + column * measure.pitch;
}
