/** What is tested every day, and what only where all is (`npm test -- --all`, or a file by its name). */

const everyday = process.env.CROW_LANE_EVERYDAY !== undefined;

/** So many random documents, or so much that they have to come to: of all, and every day. */
export const randoms = (all: number, most = Math.ceil(all / 10)): number => (everyday ? most : all);

/** A test that takes long, and is not made every day. */
export const long = everyday ? it.skip : it;
