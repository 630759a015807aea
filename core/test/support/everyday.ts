/** What is tested every day, and what only where all is (`npm test -- --all`, or a file by its name). */

export const everyday = process.env.CROW_LANE_EVERYDAY !== undefined;

/** So many random documents, or of what is counted in them; every day a fifth. */
export const randoms = (runs: number): number => (everyday ? Math.ceil(runs / 5) : runs);

/** A test that takes long, and is not made every day. */
export const long = everyday ? it.skip : it;
