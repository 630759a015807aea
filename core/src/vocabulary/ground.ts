/** The ground of plans, and how large the inside of a level can be. */
import type { Plan } from '../document/types.ts';

/** As many parts as a level can have, and passages between them. */
export const mostSpots = 256;
export const mostPassages = 2000;
/** The widest and highest plan, in cells; as many things as it can have, and as far as a jump can go. */
export const mostCells = { x: 240, y: 160 };
export const mostThings = 10_000;
export const mostReach = 20;
/** As many patrols as a plan can have, and points as one can. */
export const mostPatrols = 200;
export const mostPoints = 100;
/** As many cells, with heights and distances left of a jump, as are looked at to derive a plan: some 300 MB. */
export const mostPlaces = 3_000_000;
/**
 * As many ways to the same end, none of which asks for and touches all that another does, as are held against each other. More
 * come of nine different pieces that can be touched on one jump, and then soon thousands; of the ways between two spots
 * `plan-fits` wants eight at the most.
 */
export const mostWays = 16;

/** By character what ground it is, and in which view where not in both. */
export const grounds: Record<string, { words: string; only?: Plan['view'] }> = {
  '#': { words: 'solid' },
  '.': { words: 'open' },
  '-': { words: 'ledge' },
  '|': { words: 'climb' },
  '<': { words: 'one way left', only: 'above' },
  '>': { words: 'one way right', only: 'above' },
  '^': { words: 'one way up', only: 'above' },
  v: { words: 'one way down', only: 'above' }
};

/** The characters of ground that a view has. */
export const groundsOf = (view: Plan['view']): string[] =>
  Object.entries(grounds).flatMap(([char, { only = view }]) => (only === view ? [char] : []));
