/** How large the inside of a level can be. */

/** As many parts as a level can have, and passages between them. */
export const mostSpots = 256;
export const mostPassages = 2000;
/** The widest and highest plan, in cells; as many things as it can have, and as far as a jump can go. */
export const mostCells = { x: 240, y: 160 };
export const mostThings = 10_000;
export const mostReach = 20;
